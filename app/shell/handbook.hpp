#pragma once
#include <QWidget>
#include <map>
#include "project/project.hpp"

class QAction;
class QLineEdit;
class QListWidget;
class QTextBrowser;

namespace hinge::app {

/// The handbook's pages (docs/handbook), and one of the keys; with search over all of them. It needs nothing but the program.
class Handbook final : public QWidget {
    Q_OBJECT
public:
    /// @param actions  whose keys are listed
    explicit Handbook(const QList<QAction*>& actions, QWidget* parent = nullptr);
    /// The page of a stage; of the crossbar, the first.
    void openAt(int stage);
    /// @param page  "tuning", "keys"
    void openPage(const QString& page);
    [[nodiscard]] QString page() const { return page_; }
    /// Ids of the pages that hold every word of a search, those that hold it most often first; all, where nothing is asked for.
    [[nodiscard]] std::vector<QString> found(const QString& words) const;
    void applyTheme();

private:
    void look(const QString& words);
    void next();
    void mark();
    std::map<QString, QString> texts_;  ///< Markdown, by id
    std::vector<QString> order_;
    QString page_, key_;
    QLineEdit* search_ = nullptr;
    QListWidget* list_ = nullptr;
    QTextBrowser* view_ = nullptr;
};

/// The handbook's page of a stage; −1: of the crossbar.
[[nodiscard]] QString handbookPage(int stage);

}  // namespace hinge::app
