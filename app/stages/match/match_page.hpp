#pragma once
#include <QFrame>
#include <QStackedWidget>
#include "shell/document.hpp"
#include "stages/match/ability_picture.hpp"
#include "stages/match/match_picture.hpp"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace hinge::app {

/// One line of the swap or of the comparison, ready to be shown.
struct TableRow {
    QString name;
    QStringList cells;
    std::vector<Verdict> verdicts;  ///< one a cell; empty: none
};
/// What trying a part changes; no widget in it.
[[nodiscard]] std::vector<TableRow> swapRows(const Model& model, const project::Project& tried);
/// The chosen part beside those compared, criterion by criterion; the first row holds the names.
[[nodiscard]] std::vector<TableRow> comparisonRows(const Model& model, const QString& channel,
                                                   const std::vector<std::pair<std::string, std::string>>& others);
/// What has to be fitted with the choice.
[[nodiscard]] std::vector<TableRow> protectionRows(const Model& model, const QString& channel);

/// Match: the picture, and below it what goes with the choice, the comparison, or a swap on trial.
class MatchPage final : public QWidget {
    Q_OBJECT
public:
    explicit MatchPage(Document* document, QWidget* parent = nullptr);
    void present(const QString& channel);
    /// Puts a pair on trial: shows every difference; nothing is decided yet.
    void tryPair(const QString& actuator, const QString& driver, const QString& rail);
    void compare(std::vector<std::pair<std::string, std::string>> others);
    [[nodiscard]] bool onTrial() const { return trial_.has_value(); }
    void applyTheme();

private:
    void below();
    void keep();
    void drop();
    Document* document_;
    QString channel_;
    QStackedWidget* pictures_;
    HeadFlowPicture* pump_;
    AbilityPicture* ability_;
    QFrame* lower_;
    QVBoxLayout* rows_;
    QLabel* title_;
    QPushButton* keep_;
    QPushButton* drop_;
    std::vector<std::pair<std::string, std::string>> others_;
    struct Trial {
        std::vector<project::FactEdit> edits;
        project::Project before;
        QString name;
    };
    std::optional<Trial> trial_;
};

}  // namespace hinge::app
