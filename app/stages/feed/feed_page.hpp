#pragma once
#include "plan/tolerance.hpp"
#include "shell/document.hpp"
#include "stages/feed/supply_chart.hpp"
#include "stages/feed/tree_picture.hpp"

class QComboBox;
class QLabel;
class QMenu;
class QPushButton;
class QStackedWidget;

namespace hinge::app {

/// Feed: the tree of supplies, changed by pressing on it, and what happens to it over time.
class FeedPage final : public QWidget {
    Q_OBJECT
public:
    enum class View { Tree, Scene, Worst, Day };
    explicit FeedPage(Document* document, QWidget* parent = nullptr);
    ~FeedPage() override;
    void present(const QString& channel);
    void showView(View view);
    void applyTheme();
    [[nodiscard]] SupplyChart* chart() const { return chart_; }
    [[nodiscard]] TreePicture* tree() const { return tree_; }
    /// Waits for the chances to come in (for pictures and tests).
    void settle();

private:
    void play();
    void say();
    void weigh();
    void collect();
    void offer(const QString& id, const QPoint& where);
    void offerSource(QMenu& menu, const power::Source& source);
    void offerRail(QMenu& menu, const power::Rail& rail);
    void offerFeeds(QMenu& menu, const power::Rail& rail);
    void offerNewRail(QMenu& menu, const std::string& from);
    void offerEdit(QMenu* into, const QString& words, std::vector<project::FactEdit> edits, bool now);
    void offerChange(QMenu* into, const QString& words, bool possible, std::function<void(project::Project&)> change);
    [[nodiscard]] std::vector<std::string> taken() const;

    Document* document_;
    QString channel_;
    View view_ = View::Tree;
    std::vector<QPushButton*> tabs_;
    QComboBox* options_;
    QStackedWidget* stack_;
    TreePicture* tree_;
    SupplyChart* chart_;
    QLabel* cells_;
    QLabel* chances_;
    project::Project playedFor_;
    std::future<std::optional<plan::Tolerance>> weighing_;
    project::Project weighedFor_;
    std::optional<plan::Tolerance> weighed_;
    QTimer poll_;
};

}  // namespace hinge::app
