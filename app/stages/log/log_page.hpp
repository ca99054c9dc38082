#pragma once
#include "journal/run_log.hpp"
#include "shell/document.hpp"
#include <QWidget>
#include <optional>

class QLineEdit;
class QTextBrowser;
class QComboBox;
class QPushButton;

namespace hinge::app {

/// The journal, the wiring list and what it costs.
class LogPage final : public QWidget {
    Q_OBJECT
public:
    explicit LogPage(Document* document, QWidget* parent = nullptr);
    enum class View { Journal, Changes, Runs, Wiring, Parts };
    void present(const QString& channel);
    void showView(View view);
    /// Reads a run log; what is wrong with it is said, and the last one stays.
    void readRuns(const QString& file);
    /// Takes an earlier state in hand, to be compared with now.
    void look(std::size_t entry);

private:
    void add();
    [[nodiscard]] QString journalHtml() const;
    [[nodiscard]] QString changesHtml() const;
    [[nodiscard]] QString runsHtml() const;
    [[nodiscard]] QString wiringHtml() const;
    [[nodiscard]] QString partsHtml() const;
    Document* document_;
    QString channel_;
    View shown_ = View::Journal;
    QString runsFile_;
    std::vector<journal::RunRow> runs_;
    std::optional<std::size_t> looked_;   ///< an earlier state
    std::vector<QPushButton*> tabs_;
    QWidget* entryRow_ = nullptr;
    QTextBrowser* view_ = nullptr;
    QLineEdit* line_ = nullptr;
    QLineEdit* cost_ = nullptr;
    QComboBox* kind_ = nullptr;
};

}  // namespace hinge::app
