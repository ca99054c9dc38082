#include "shell/main_window.hpp"
#include <QApplication>
#include <QCloseEvent>
#include <QCursor>
#include <QDate>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QShortcut>
#include <QStackedWidget>
#include <QTemporaryDir>
#include <QTimer>
#include <QVBoxLayout>
#include "parts/parts_window.hpp"
#include "project/starters.hpp"
#include "report/calendar.hpp"
#include "report/packet.hpp"
#include "shell/channel_edge.hpp"
#include "shell/crossbar.hpp"
#include "shell/empty_page.hpp"
#include "shell/facts_panel.hpp"
#include "shell/findings_strip.hpp"
#include "shell/guide.hpp"
#include "shell/handbook.hpp"
#include "shell/headline_strip.hpp"
#include "shell/labels.hpp"
#include "shell/outside_notice.hpp"
#include "shell/packet_paper.hpp"
#include "shell/stage_bar.hpp"
#include "shell/working_panel.hpp"
#include "simulation/scene.hpp"
#include "stages/code/code_page.hpp"
#include "stages/feed/feed_page.hpp"
#include "stages/log/log_page.hpp"
#include "stages/match/candidate_list.hpp"
#include "stages/match/match_page.hpp"
#include "stages/need/brief_page.hpp"
#include "stages/need/need_picture.hpp"
#include "stages/opening.hpp"
#include "stages/pins/pins_page.hpp"
#include "stages/prove/prove_page.hpp"
#include "stages/pulse/pulse_page.hpp"
#include "stages/routine/routine_page.hpp"
#include "stages/tune/tune_page.hpp"
#include "store/bundle.hpp"

namespace hinge::app {

using project::Stage;

MainWindow::MainWindow(Document* document, QWidget* parent) : QMainWindow(parent), document_(document) {
    setObjectName("main");
    setAcceptDrops(true);
    setMinimumSize(1000, 640);
    makeEdges();
    makeMenu();
    connectEdges();
    applyTheme();
    showCrossbar();
}

void MainWindow::makeEdges() {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = new HeadlineStrip;
    stages_ = new StageBar;
    menu_ = new QPushButton(stages_);
    menu_->setObjectName("gadgetMenu");
    menu_->setFocusPolicy(Qt::NoFocus);
    guide_ = new Guide;
    message_ = new QLabel;
    message_->setObjectName("message");
    message_->setWordWrap(true);
    message_->hide();
    outside_ = new OutsideNotice(document_);
    auto* middle_row = new QWidget;
    auto* row = new QHBoxLayout(middle_row);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    channels_ = new ChannelEdge;
    middle_ = new QStackedWidget;
    crossbar_ = new Crossbar;
    overview_ = new QWidget;
    auto* overview = new QVBoxLayout(overview_);
    overview->setContentsMargins(0, 0, 0, 0);
    overview->setSpacing(0);
    sceneBelow_ = new SceneChart(document_);
    sceneBelow_->setObjectName("sceneBelow");
    overview->addWidget(crossbar_, 1);
    overview->addWidget(sceneBelow_, 0);
    empty_ = new EmptyPage;
    workplace_ = makeWorkplace();
    for (auto* page : {overview_, static_cast<QWidget*>(empty_), workplace_}) middle_->addWidget(page);
    row->addWidget(channels_);
    row->addWidget(middle_, 1);
    findings_ = new FindingsStrip;
    column->addWidget(headline_);
    column->addWidget(stages_);
    column->addWidget(guide_);
    column->addWidget(outside_);
    column->addWidget(message_);
    column->addWidget(middle_row, 1);
    column->addWidget(findings_);
    setCentralWidget(whole);
}

QWidget* MainWindow::makeWorkplace() {
    auto* page = new QWidget;
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    left_ = new QWidget;
    auto* left = new QVBoxLayout(left_);
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(0);
    facts_ = new FactsPanel(document_);
    candidates_ = new CandidateList;
    candidatesHolder_ = new QWidget;
    auto* holder = new QVBoxLayout(candidatesHolder_);
    holder->setContentsMargins(14, 4, 2, 0);
    auto* scroll = scrolled(candidates_);
    scroll->setObjectName("candidateScroll");
    holder->addWidget(scroll, 1);
    left->addWidget(facts_, 1);
    left->addWidget(candidatesHolder_, 1);
    auto* middle = new QWidget;
    middle->setObjectName("centre");
    middle->setAttribute(Qt::WA_StyledBackground);
    auto* column = new QVBoxLayout(middle);
    column->setSpacing(0);
    sentence_ = new QLabel;
    sentence_->setObjectName("sentence");
    sentence_->setWordWrap(true);
    hint_ = new QLabel;
    hint_->setObjectName("hint");
    hint_->setWordWrap(true);
    centre_ = new QStackedWidget;
    brief_ = new BriefPage(document_);
    routine_ = new RoutinePage(document_);
    code_ = new CodePage(document_);
    tune_ = new TunePage(document_);
    connect(tune_, &TunePage::told, this, [this] {
        if (stage_ != static_cast<int>(Stage::Tune)) return;
        sentence_->setText(tune_->sentence().isEmpty() ? openingOf(document_->model(), Stage::Tune, channel_).sentence : tune_->sentence());
        hint_->setText(tune_->hint());
    });
    prove_ = new ProvePage(document_, &tune_->session());
    feed_ = new FeedPage(document_);
    pins_ = new PinsPage(document_);
    pulse_ = new PulsePage(document_);
    log_ = new LogPage(document_);
    match_ = new MatchPage(document_);
    pages_ = {new NeedPicture(document_), match_, feed_, pins_, pulse_, routine_, code_, tune_, prove_, log_};
    for (auto* each : pages_) {
        centre_->addWidget(each);
        pictures_.push_back(qobject_cast<Picture*>(each));
    }
    centre_->addWidget(brief_);
    column->addWidget(sentence_);
    column->addWidget(hint_);
    column->addWidget(centre_, 1);
    working_ = new WorkingPanel;
    row->addWidget(left_);
    row->addWidget(middle, 1);
    row->addWidget(working_);
    return page;
}

void MainWindow::connectEdges() {
    connect(stages_, &StageBar::chosen, this, [this](int stage) {
        const auto& channels = document_->model().project.channels;
        const bool brief = stage_ < 0 && stage == static_cast<int>(Stage::Need);
        go(stage_ >= 0 ? channel_ : brief || channels.empty() ? QString() : text(channels.front().id), stage);
    });
    connect(channels_, &ChannelEdge::chosen, this, [this](const QString& id) { go(id, stage_ < 0 ? 0 : stage_); });
    connect(channels_, &ChannelEdge::menuAsked, this, &MainWindow::channelMenu);
    connect(channels_, &ChannelEdge::addAsked, this, &MainWindow::askWhatMoves);
    connect(channels_, &ChannelEdge::wheeled, this, &MainWindow::scrollRows);
    connect(crossbar_, &Crossbar::wheeled, this, &MainWindow::scrollRows);
    connect(crossbar_, &Crossbar::chosen, this, &MainWindow::go);
    connect(empty_, &EmptyPage::wanted, this, &MainWindow::addChannel);
    connect(empty_, &EmptyPage::begun, this, [this](const QString& id) { document_->replace(project::started(id.toStdString())); });
    connect(brief_, &BriefPage::goTo, this, [this](const QString& id, int stage) { go(id, stage); });
    connect(candidates_, &CandidateList::chosen, match_, &MatchPage::tryPair);
    connect(candidates_, &CandidateList::comparedChanged, match_, [this] { match_->compare(candidates_->compared()); });
    connect(routine_, &RoutinePage::wordClicked, this, [this](const QString& path) { changeWord(path, QCursor::pos()); });
    connect(routine_, &RoutinePage::said, this, &MainWindow::say);
    connect(code_, &CodePage::said, this, &MainWindow::say);
    connect(findings_, &FindingsStrip::remedyPressed, this, [this](const std::vector<project::FactEdit>& edits) {
        if (const QString why = document_->apply(edits); !why.isEmpty()) say(why);
    });
    connect(findings_, &FindingsStrip::foldAsked, this, [this] {
        findings_->present(document_->model(), stage_ < 0 ? -1 : stage_, stage_ < 0 ? QString() : channel_,
                           stage_ == 0 && channel_.isEmpty());
    });
    connect(findings_, &FindingsStrip::goTo, this, [this](const QString& id, int stage) { go(id.isEmpty() ? channel_ : id, stage); });
    connect(guide_, &Guide::look, this, [this](int stage) {
        const auto& channels = document_->model().project.channels;
        if (stage < 0 || channels.empty()) showCrossbar();
        else go(text(channels.front().id), stage);
    });
    // The sentence belongs to the tab.
    connect(prove_, &ProvePage::viewShown, this, [this] {
        if (stage_ == static_cast<int>(Stage::Prove)) showOpening();
    });
    connect(pins_, &PinsPage::viewShown, this, [this] {
        if (stage_ == static_cast<int>(Stage::Pins)) layoutEdges(), showOpening();
    });
    connect(pins_, &PinsPage::lit, prove_, &ProvePage::light);
    connect(log_, &LogPage::viewShown, this, [this] {
        if (stage_ == static_cast<int>(Stage::Log)) layoutEdges(), showOpening();
    });
    connect(log_, &LogPage::saveAsked, this, &MainWindow::askPacket);
    connect(guide_, &Guide::left, this, [] { QSettings().setValue("guided", true); });
    connect(document_, &Document::changed, this, &MainWindow::refresh);
    connect(document_, &Document::said, this, &MainWindow::say);
    connect(outside_, &OutsideNotice::said, this, &MainWindow::say);
    connect(outside_, &OutsideNotice::saveElsewhereAsked, this, [this] { save(true); });
}

void MainWindow::changeEvent(QEvent* event) {
    QMainWindow::changeEvent(event);
    if (event->type() != QEvent::ApplicationFontChange && event->type() != QEvent::ThemeChange) return;
    const auto body = textFont(Text::Body);
    for (const char* of : {"QPushButton", "QToolButton", "QLineEdit", "QComboBox", "QMenu", "QCheckBox"})
        if (QApplication::font(of) != body) {
            QTimer::singleShot(0, this, [] { qApp->setFont(textFont(Text::Body)); });
            return;
        }
}

void MainWindow::applyTheme() {
    const auto& c = colours();
    qApp->setFont(textFont(Text::Body));
    setFont(textFont(Text::Body));  // plain containers below a style sheet keep the font that they were made in
    qApp->setPalette(housePalette());
    setStyleSheet(houseStyle());
    sentence_->setFont(textFont(Text::Sentence));
    hint_->setFont(textFont(Text::Small));
    hint_->setStyleSheet(QString("color: %1;").arg(c.soft.name()));
    sentence_->setContentsMargins(px(14), 0, px(14), 0);
    hint_->setContentsMargins(px(14), 0, px(14), px(6));
    auto* centre = findChild<QWidget*>("centre");
    centre->setStyleSheet(
        QString("QWidget#centre { background-color: %1; border: 0; border-left: 1px solid %2; border-right: 1px solid %2; }")
            .arg(c.card.name(), c.line.name()));
    centre->layout()->setContentsMargins(1, px(9), 1, 0);
    menu_->setFont(textFont(Text::Body));
    message_->setFont(textFont(Text::Body));
    message_->setStyleSheet(QString("background-color: %1; color: %2; padding: 7px 18px;").arg(c.sparkTint.name(), c.ink.name()));
    empty_->applyTheme();
    feed_->applyTheme();
    pins_->applyTheme();
    pulse_->applyTheme();
    guide_->applyTheme();
    if (handbook_ != nullptr) handbook_->applyTheme();
    outside_->applyTheme();
    layoutEdges();
    refresh();
}

bool MainWindow::narrow() const {
    return width() < px(1100);
}

void MainWindow::layoutEdges() {
    channels_->setFixedWidth(narrow() ? px(56) : px(176));
    menu_->setGeometry(px(narrow() ? 4 : 10), px(4), px(narrow() ? 48 : 74), px(29));
    menu_->setText(narrow() ? tr("…") : tr("Gadget"));
    const auto stage = static_cast<Stage>(std::max(0, stage_));
    // Of Pins only the board's page has facts, of Log only what it costs: lists take the whole width.
    const bool has_facts = stage_ >= 0 && stage != Stage::Tune && stage != Stage::Prove && stage != Stage::Code &&
                           !(stage == Stage::Pins && pins_->view() != PinsPage::View::Board) &&
                           !(stage == Stage::Log && log_->view() != LogPage::View::Parts);
    const bool match = stage == Stage::Match;
    left_->setFixedWidth(px(248));
    left_->setVisible(has_facts);
    candidatesHolder_->setVisible(match);
    facts_->setMaximumHeight(match ? px(230) : QWIDGETSIZE_MAX);
    const bool sums = stage != Stage::Prove && stage != Stage::Pins && stage != Stage::Log && stage != Stage::Tune &&
                      !(stage == Stage::Need && channel_.isEmpty());
    working_->setFixedWidth(px(268));
    working_->setVisible(stage_ >= 0 && sums && !workingFolded_ && width() >= px(1240));
}

void MainWindow::refresh() {
    const auto& model = document_->model();
    if (!channel_.isEmpty() && project::findChannel(model.project, channel_.toStdString()) == nullptr) {
        channel_ = model.project.channels.empty() ? QString() : text(model.project.channels.front().id);
        if (channel_.isEmpty()) stage_ = -1;
    }
    setWindowTitle(text(model.project.brief.name) + (document_->dirty() ? " *" : "") + tr(" · Hinge Spark"));
    headline_->present(model, document_->dirty());
    outside_->present();
    stages_->present(stage_, channels_->maximumWidth());
    channels_->present(model, stage_ < 0 ? QString() : channel_, narrow());
    if (stage_ >= 0) return refreshWorkplace();
    empty_->present(model.project.channels.empty());
    middle_->setCurrentWidget(asking_ || model.project.channels.empty() ? static_cast<QWidget*>(empty_) : overview_);
    crossbar_->present(model);
    sceneBelow_->present({});
    layoutScene();
    findings_->present(model, -1, {});
}

// Few channels leave room under the crossbar: the scene is played there.
void MainWindow::layoutScene() {
    const int count = static_cast<int>(document_->model().project.channels.size());
    const int whole = middle_->height();
    const int left = whole - count * ChannelEdge::rowHeight(whole, count);
    const bool room = left >= px(300) && document_->model().scene.has_value();
    sceneBelow_->setVisible(room);
    if (room) sceneBelow_->setFixedHeight(left - px(24));
}

void MainWindow::showOpening() {
    const auto stage = static_cast<Stage>(stage_);
    const int tab = stage == Stage::Prove  ? static_cast<int>(prove_->view())
                    : stage == Stage::Log  ? static_cast<int>(log_->view())
                    : stage == Stage::Pins ? static_cast<int>(pins_->view())
                                           : 0;
    const auto opening = openingOf(document_->model(), stage, channel_, tab);
    sentence_->setText(opening.sentence);
    hint_->setText(opening.hint);
}

void MainWindow::refreshWorkplace() {
    const auto& model = document_->model();
    const auto stage = static_cast<Stage>(stage_);
    middle_->setCurrentWidget(workplace_);
    showOpening();
    // Prove has a panel of its own, on the page that is about lengths.
    if (stage != Stage::Prove) facts_->present(stage, channel_);
    working_->present(model, stage, channel_);
    const bool brief = stage == Stage::Need && channel_.isEmpty();
    centre_->setCurrentWidget(brief ? brief_ : pages_[static_cast<std::size_t>(stage_)]);
    if (brief) brief_->present();
    else if (auto* picture = pictures_[static_cast<std::size_t>(stage_)]) picture->present(channel_);
    if (stage == Stage::Match) match_->present(channel_), candidates_->present(model, channel_);
    if (stage == Stage::Feed) feed_->present(channel_);
    if (stage == Stage::Pins) pins_->present(channel_);
    if (stage == Stage::Pulse) pulse_->present(channel_);
    if (stage == Stage::Routine) routine_->present(channel_);
    if (stage == Stage::Code) code_->present();
    if (stage == Stage::Tune) tune_->present(channel_);
    if (stage == Stage::Prove) prove_->present(channel_);
    if (stage == Stage::Log) log_->present(channel_);
    findings_->present(model, stage_, channel_, brief);
}

void MainWindow::go(const QString& channel, int stage) {
    const auto& channels = document_->model().project.channels;
    asking_ = false;
    channel_ = channel;
    stage_ = stage;
    // Without a channel only the brief and the whole bring-up have something to say.
    if (channel_.isEmpty() && stage_ != static_cast<int>(Stage::Need) && stage_ != static_cast<int>(Stage::Prove) && !channels.empty())
        channel_ = text(channels.front().id);
    layoutEdges();
    refresh();
}

void MainWindow::showCrossbar() {
    stage_ = -1;
    asking_ = false;
    layoutEdges();
    refresh();
}

void MainWindow::scrollRows(int pixels) {
    const int count = static_cast<int>(document_->model().project.channels.size());
    const int most = std::max(0, count * ChannelEdge::rowHeight(channels_->height(), count) - channels_->height());
    rowOffset_ = std::clamp(rowOffset_ + pixels, 0, most);
    channels_->setOffset(rowOffset_);
    crossbar_->setOffset(rowOffset_);
}

void MainWindow::showParts() {
    if (parts_ == nullptr) parts_ = new PartsWindow(document_, this);
    parts_->present();
    parts_->show();
    parts_->raise();
}

bool MainWindow::openFolder(const QString& folder) {
    const QString why = document_->open(folder);
    if (!why.isEmpty()) {
        say(tr("Not opened: %1. What was open is still open.").arg(why));
        return false;
    }
    QSettings settings;
    auto recent = settings.value("recent").toStringList();
    recent.removeAll(document_->folder());
    document_->learnFrom(recent.mid(0, 8));
    recent.prepend(document_->folder());
    settings.setValue("recent", recent.mid(0, 8));
    message_->hide();
    if (document_->hasRecovery(folder)) {
        document_->recover(folder);
        say(tr("There are unsaved changes from a session that ended early. They are opened; Ctrl+Z goes back to the saved file."));
    }
    showCrossbar();
    return true;
}

void MainWindow::save(bool elsewhere) {
    QString folder = document_->folder();
    if (elsewhere || folder.isEmpty()) {
        folder = QFileDialog::getSaveFileName(this, tr("Save into a folder"),
                                              QDir::homePath() + "/" + text(document_->model().project.brief.name).replace('/', '-'));
        if (folder.isEmpty()) return;
    }
    const QString why = document_->save(folder);
    say(why.isEmpty() ? tr("Saved in %1.").arg(folder)
                      : tr("Not saved: %1. Free some space or choose another folder with 'Save as'.").arg(why));
}

void MainWindow::say(const QString& message) {
    message_->setText(message);
    message_->setVisible(!message.isEmpty());
}

QString MainWindow::lastSaid() const {
    return message_->text();
}

void MainWindow::walk(int dx, int dy) {
    const auto& channels = document_->model().project.channels;
    if (channels.empty()) return;
    int row = 0;
    for (std::size_t i = 0; i < channels.size(); ++i)
        if (text(channels[i].id) == channel_) row = static_cast<int>(i);
    row = std::clamp(row + dy, 0, static_cast<int>(channels.size()) - 1);
    go(text(channels[static_cast<std::size_t>(row)].id), stage_ < 0 ? 0 : std::clamp(stage_ + dx, 0, project::stageCount - 1));
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        if (message_->isVisible()) message_->hide();
        else showCrossbar();
        return;
    }
    if (event->key() == Qt::Key_B && event->modifiers() == Qt::NoModifier && stage_ == static_cast<int>(Stage::Tune))
        return tune_->goBackToBest();
    if (event->key() == Qt::Key_Space && stage_ == static_cast<int>(Stage::Tune)) return tune_->stopEverything();
    QMainWindow::keyPressEvent(event);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    layoutEdges();
    scrollRows(0);
    refresh();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (document_->dirty() && isVisible() && qEnvironmentVariableIsEmpty("HINGE_SPARK_TEST")) {
        const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("Save the changes to this gadget first?"),
                                                  QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
        if (answer == QMessageBox::Cancel) return event->ignore();
        if (answer == QMessageBox::Save) {
            save(false);
            if (document_->dirty()) return event->ignore();
        } else if (!document_->folder().isEmpty()) {
            document_->discardAutosave();
        }
    }
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    if (!event->mimeData()->urls().isEmpty()) openFolder(event->mimeData()->urls().front().toLocalFile());
}

}  // namespace hinge::app
