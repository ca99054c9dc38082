#pragma once
#include <QMainWindow>
#include "shell/document.hpp"

class QLabel;
class QMenu;
class QPushButton;
class QScrollArea;
class QStackedWidget;
namespace hinge::report {
struct Hit;
}

namespace hinge::app {

class BriefPage;
class CandidateList;
class ChannelEdge;
class CodePage;
class Crossbar;
class EmptyPage;
class FactsPanel;
class FindPanel;
class FindingsStrip;
class Guide;
class Handbook;
class OutsideNotice;
class HeadlineStrip;
class LogPage;
class Picture;
class FeedPage;
class PinsPage;
class PulsePage;
class ProvePage;
class MatchPage;
class PartsWindow;
class RoutinePage;
class SceneChart;
class StageBar;
class TunePage;
class WorkingPanel;

/// The one window: two edges, and between them the crossbar or a workplace.
class MainWindow final : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Document* document, QWidget* parent = nullptr);
    /// Shows a cell's workplace; an empty channel is the whole gadget.
    void go(const QString& channel, int stage);
    void showCrossbar();
    /// The question with which a gadget starts and grows.
    void askWhatMoves();
    [[nodiscard]] int stage() const { return stage_; }
    [[nodiscard]] QString channel() const { return channel_; }
    /// Opens a folder; says why when it cannot, and keeps what is open.
    bool openFolder(const QString& folder);
    void say(const QString& message);
    [[nodiscard]] QString lastSaid() const;
    [[nodiscard]] TunePage* tune() { return tune_; }
    [[nodiscard]] ProvePage* prove() { return prove_; }
    [[nodiscard]] LogPage* log() { return log_; }
    void showParts();
    [[nodiscard]] MatchPage* match() const { return match_; }
    /// Writes the packet, as PDF or as HTML by the name's ending; says what came of it.
    void savePacket(const QString& path);
    /// Asks where it should go first.
    void askPacket();
    [[nodiscard]] FeedPage* feed() const { return feed_; }
    [[nodiscard]] PinsPage* pins() const { return pins_; }
    [[nodiscard]] PulsePage* pulse() const { return pulse_; }
    [[nodiscard]] CodePage* code() const { return code_; }
    [[nodiscard]] Guide* guide() { return guide_; }
    /// Made when it is first asked for.
    [[nodiscard]] Handbook* handbook();
    void applyTheme();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    /// A desktop that announces fonts of its own, for buttons or menus, does so after the window has begun: the house's come back.
    void changeEvent(QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void makeEdges();
    QWidget* makeWorkplace();
    void makeMenu();
    void offerFiles();
    void offerLooks();
    void saveCalendar();
    QAction* offer(const QString& name, const QKeySequence& keys, std::function<void()> does);
    void connectEdges();
    void refresh();
    void showOpening();
    void refreshWorkplace();
    void walk(int dx, int dy);
    void save(bool elsewhere);
    void addChannel(project::ChannelKind kind, const QString& name);
    void channelMenu(const QString& channel, const QPoint& where);
    void changeWord(const QString& path, const QPoint& where);
    void layoutEdges();
    void layoutScene();
    void goTo(const report::Hit& hit);
    void scrollRows(int pixels);
    [[nodiscard]] bool narrow() const;

    Document* document_;
    int stage_ = -1;
    QString channel_;
    bool workingFolded_ = false, findingsFolded_ = false, asking_ = false;
    int rowOffset_ = 0;
    HeadlineStrip* headline_ = nullptr;
    StageBar* stages_ = nullptr;
    QPushButton* menu_ = nullptr;
    QMenu* list_ = nullptr;  ///< what it opens
    OutsideNotice* outside_ = nullptr;
    Guide* guide_ = nullptr;
    Handbook* handbook_ = nullptr;
    QLabel* message_ = nullptr;
    ChannelEdge* channels_ = nullptr;
    QStackedWidget* middle_ = nullptr;
    QWidget* overview_ = nullptr;
    Crossbar* crossbar_ = nullptr;
    SceneChart* sceneBelow_ = nullptr;
    EmptyPage* empty_ = nullptr;
    QWidget* workplace_ = nullptr;
    QWidget* left_ = nullptr;
    FactsPanel* facts_ = nullptr;
    QWidget* candidatesHolder_ = nullptr;
    CandidateList* candidates_ = nullptr;
    QLabel *sentence_ = nullptr, *hint_ = nullptr;
    QStackedWidget* centre_ = nullptr;
    std::vector<QWidget*> pages_;     ///< one a stage
    std::vector<Picture*> pictures_;  ///< those pages that are nothing but a picture
    BriefPage* brief_ = nullptr;
    MatchPage* match_ = nullptr;
    PartsWindow* parts_ = nullptr;
    RoutinePage* routine_ = nullptr;
    CodePage* code_ = nullptr;
    TunePage* tune_ = nullptr;
    ProvePage* prove_ = nullptr;
    FeedPage* feed_ = nullptr;
    PinsPage* pins_ = nullptr;
    PulsePage* pulse_ = nullptr;
    LogPage* log_ = nullptr;
    WorkingPanel* working_ = nullptr;
    FindingsStrip* findings_ = nullptr;
    FindPanel* find_ = nullptr;
};

}  // namespace hinge::app
