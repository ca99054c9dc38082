#pragma once
#include <QWidget>
#include <optional>
#include "journal/run_log.hpp"
#include "shell/document.hpp"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;
class QTextBrowser;
class QUrl;
class QVBoxLayout;

namespace hinge::app {

class PacketPage;
class PartsAccount;
class TimeLine;
class UpkeepPage;

/// What happened to the gadget, what it is made of and costs, what it needs from now on, and the packet to hand on.
class LogPage final : public QWidget {
    Q_OBJECT
public:
    explicit LogPage(Document* document, QWidget* parent = nullptr);
    enum class View { Journal, Changes, Runs, Wiring, Parts, Upkeep, Packet };
    void present(const QString& channel);
    void showView(View view);
    [[nodiscard]] View view() const { return shown_; }
    /// Reads a run log; what is wrong with it is said, and the last one stays.
    void readRuns(const QString& file);
    /// Takes an earlier state in hand, to be compared with now.
    void look(std::size_t entry);
    /// Attaches a photo to the line that is being written; what is wrong with it is said in place.
    void attach(const QString& file);
    [[nodiscard]] UpkeepPage* upkeep() const { return upkeep_; }

Q_SIGNALS:
    void saveAsked();
    void viewShown();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeEntryRow(QVBoxLayout* column);
    void add();
    void follow(const QUrl& link);
    void refuse(const QString& why);
    void readOwnRuns();
    void showKind();
    [[nodiscard]] QString journalHtml() const;
    [[nodiscard]] QString changesHtml() const;
    [[nodiscard]] QString runsHtml() const;
    [[nodiscard]] QString wiringHtml() const;

    Document* document_;
    QString channel_;
    View shown_ = View::Journal;
    QString runsFile_;
    qint64 runsSize_ = -1;  ///< of the gadget's own when it was read
    std::vector<journal::RunRow> runs_;
    std::optional<std::size_t> looked_;  ///< an earlier state
    std::vector<QPushButton*> tabs_;
    std::size_t most_ = 200;  ///< entries shown; a journal of years is long
    QString photo_;           ///< of the line that is being written
    QStackedWidget* stack_ = nullptr;
    QWidget* entryRow_ = nullptr;
    TimeLine* time_ = nullptr;
    QTextBrowser* view_ = nullptr;
    QLineEdit *line_ = nullptr, *cost_ = nullptr, *find_ = nullptr;
    QComboBox *kind_ = nullptr, *stage_ = nullptr, *part_ = nullptr;
    QPushButton* attach_ = nullptr;
    QLabel* said_ = nullptr;
    PartsAccount* parts_ = nullptr;
    UpkeepPage* upkeep_ = nullptr;
    PacketPage* packet_ = nullptr;
};

}  // namespace hinge::app
