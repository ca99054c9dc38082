#pragma once
#include "shell/document.hpp"
#include <QMainWindow>

class QLabel;
class QPushButton;
class QStackedWidget;
class QTextBrowser;
class QPlainTextEdit;
class QLineEdit;

namespace hinge::app {

class HeadlineStrip;
class StageBar;
class ChannelEdge;
class Crossbar;
class FindingsStrip;
class FactsPanel;
class WorkingPanel;
class Picture;
class TunePage;
class ProvePage;
class LogPage;

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
    TunePage* tune() { return tune_; }
    void applyTheme();

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void refresh();
    void walk(int dx, int dy);
    void save(bool elsewhere);
    void addChannel();
    void channelMenu(const QString& channel, const QPoint& where);
    void changeWord(const QString& path, const QPoint& where);
    void shortcuts();
    void layoutEdges();
    QWidget* makeEmptyPage();
    QWidget* makeWorkplace();

    Document* document_;
    int stage_ = -1;
    QString channel_;
    HeadlineStrip* headline_ = nullptr;
    StageBar* stages_ = nullptr;
    QPushButton* menu_ = nullptr;
    ChannelEdge* channels_ = nullptr;
    QStackedWidget* middle_ = nullptr;
    Crossbar* crossbar_ = nullptr;
    QWidget* empty_ = nullptr;
    QLineEdit* newName_ = nullptr;
    QWidget* workplace_ = nullptr;
    FactsPanel* facts_ = nullptr;
    WorkingPanel* working_ = nullptr;
    QLabel* sentence_ = nullptr;
    QLabel* hint_ = nullptr;
    QStackedWidget* centre_ = nullptr;
    std::vector<Picture*> pictures_;
    QTextBrowser* routineText_ = nullptr;
    QPlainTextEdit* code_ = nullptr;
    TunePage* tune_ = nullptr;
    ProvePage* prove_ = nullptr;
    LogPage* log_ = nullptr;
    FindingsStrip* findings_ = nullptr;
    QLabel* message_ = nullptr;
    bool workingFolded_ = false;
};

}  // namespace hinge::app
