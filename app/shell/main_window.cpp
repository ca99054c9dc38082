#include "shell/main_window.hpp"
#include "pictures/picture.hpp"
#include "shell/edges.hpp"
#include "shell/panels.hpp"
#include "stages/log/log_page.hpp"
#include "stages/presenter.hpp"
#include "stages/prove/prove_page.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/theme.hpp"
#include <QApplication>
#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QShortcut>
#include <QStackedWidget>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace hinge::app {
namespace {
using project::Stage;
}

MainWindow::MainWindow(Document* document, QWidget* parent) : QMainWindow(parent), document_(document) {
    setObjectName("main");
    setAcceptDrops(true);
    setMinimumSize(1000, 640);
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = new HeadlineStrip;
    stages_ = new StageBar;
    menu_ = new QPushButton(stages_);
    menu_->setObjectName("gadgetMenu");
    menu_->setText(tr("Gadget"));
    menu_->setFocusPolicy(Qt::NoFocus);
    auto* middle_row = new QWidget;
    auto* row = new QHBoxLayout(middle_row);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    channels_ = new ChannelEdge;
    middle_ = new QStackedWidget;
    crossbar_ = new Crossbar;
    empty_ = makeEmptyPage();
    workplace_ = makeWorkplace();
    for (auto* page : {static_cast<QWidget*>(crossbar_), empty_, workplace_}) middle_->addWidget(page);
    row->addWidget(channels_);
    row->addWidget(middle_, 1);
    message_ = new QLabel;
    message_->setObjectName("message");
    message_->setWordWrap(true);
    message_->hide();
    findings_ = new FindingsStrip;
    column->addWidget(headline_);
    column->addWidget(stages_);
    column->addWidget(message_);
    column->addWidget(middle_row, 1);
    column->addWidget(findings_);
    setCentralWidget(whole);

    connect(stages_, &StageBar::chosen, this, [this](int stage) {
        QString channel = channel_;
        if (stage_ < 0) channel = stage == static_cast<int>(Stage::Need) || document_->model().project.channels.empty() ? QString() : text(document_->model().project.channels.front().id);
        go(channel, stage);
    });
    connect(channels_, &ChannelEdge::chosen, this, [this](const QString& id) { go(id, stage_ < 0 ? 0 : stage_); });
    connect(channels_, &ChannelEdge::menuAsked, this, &MainWindow::channelMenu);
    connect(crossbar_, &Crossbar::chosen, this, &MainWindow::go);
    connect(findings_, &FindingsStrip::remedyPressed, this, [this](const std::vector<project::FactEdit>& edits) {
        const QString why = document_->apply(edits);
        if (!why.isEmpty()) say(why);
    });
    connect(findings_, &FindingsStrip::goTo, this, [this](const QString& id, int stage) { go(id.isEmpty() ? channel_ : id, stage); });
    connect(document_, &Document::changed, this, &MainWindow::refresh);
    connect(document_, &Document::said, this, &MainWindow::say);

    auto* menu = new QMenu(this);
    const auto action = [&](const QString& name, const QKeySequence& keys, auto slot) {
        auto* made = menu->addAction(name);
        made->setShortcut(keys);
        connect(made, &QAction::triggered, this, slot);
        addAction(made);
        return made;
    };
    action(tr("New gadget"), QKeySequence::New, [this] {
        if (document_->dirty() && QMessageBox::question(this, tr("Unsaved changes"), tr("This gadget has changes that are not saved. Start a new one and lose them?")) != QMessageBox::Yes) return;
        document_->newGadget();
        showCrossbar();
    });
    action(tr("Open…"), QKeySequence::Open, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Open a project folder"));
        if (!folder.isEmpty()) openFolder(folder);
    });
    auto* recent = menu->addMenu(tr("Recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] {
        recent->clear();
        for (const QString& folder : QSettings().value("recent").toStringList()) recent->addAction(folder, this, [this, folder] { openFolder(folder); });
    });
    action(tr("Save"), QKeySequence::Save, [this] { save(false); });
    action(tr("Save as…"), QKeySequence::SaveAs, [this] { save(true); });
    menu->addSeparator();
    action(tr("Add a channel"), QKeySequence("Ctrl+K"), [this] { askWhatMoves(); });
    menu->addSeparator();
    action(tr("Undo"), QKeySequence::Undo, [this] { document_->undo(); });
    action(tr("Redo"), QKeySequence::Redo, [this] { document_->redo(); });
    menu->addSeparator();
    action(tr("Fold the working"), QKeySequence("Ctrl+W"), [this] {
        workingFolded_ = !workingFolded_;
        layoutEdges();
    });
    action(tr("Light or dark"), QKeySequence("Ctrl+L"), [this] {
        useDark(!isDark());
        applyTheme();
    });
    action(tr("Larger text"), QKeySequence::ZoomIn, [this] { setScale(std::min(2.0, scale() * 1.1)); applyTheme(); });
    action(tr("Smaller text"), QKeySequence::ZoomOut, [this] { setScale(std::max(0.8, scale() / 1.1)); applyTheme(); });
    action(tr("Shortcuts"), QKeySequence(Qt::Key_F1), [this] { shortcuts(); });
    action(tr("Quit"), QKeySequence::Quit, [this] { close(); });
    connect(menu_, &QPushButton::clicked, this, [this, menu] { menu->popup(menu_->mapToGlobal(QPoint(0, menu_->height()))); });

    const auto key = [this](const char* keys, auto slot) { connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, slot); };
    key("Alt+Left", [this] { walk(-1, 0); });
    key("Alt+Right", [this] { walk(1, 0); });
    key("Alt+Up", [this] { walk(0, -1); });
    key("Alt+Down", [this] { walk(0, 1); });
    applyTheme();
    showCrossbar();
}

QWidget* MainWindow::makeEmptyPage() {
    auto* page = new QWidget;
    page->setObjectName("emptyPage");
    auto* column = new QVBoxLayout(page);
    column->addStretch(2);
    auto* question = new QLabel(tr("What moves or switches?"));
    question->setObjectName("question");
    question->setAlignment(Qt::AlignHCenter);
    auto* row = new QHBoxLayout;
    newName_ = new QLineEdit;
    newName_->setObjectName("newChannelName");
    newName_->setPlaceholderText(tr("its name, such as Rain"));
    newName_->setMaximumWidth(320);
    auto* pump = new QPushButton(tr("A pump"));
    pump->setObjectName("addPump");
    pump->setProperty("main", true);
    connect(pump, &QPushButton::clicked, this, &MainWindow::addChannel);
    connect(newName_, &QLineEdit::returnPressed, this, &MainWindow::addChannel);
    row->addStretch();
    row->addWidget(newName_);
    row->addWidget(pump);
    row->addStretch();
    auto* note = new QLabel(tr("Name it and say what it is. Board and supply come under Pins and Feed; the brief is Need with no channel chosen."));
    note->setObjectName("emptyNote");
    note->setAlignment(Qt::AlignHCenter);
    column->addWidget(question);
    column->addLayout(row);
    column->addWidget(note);
    column->addStretch(3);
    return page;
}

QWidget* MainWindow::makeWorkplace() {
    auto* page = new QWidget;
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    facts_ = new FactsPanel(document_);
    auto* middle = new QWidget;
    middle->setObjectName("centre");
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, px(8), 0, 0);
    column->setSpacing(px(2));
    sentence_ = new QLabel;
    sentence_->setObjectName("sentence");
    sentence_->setWordWrap(true);
    hint_ = new QLabel;
    hint_->setObjectName("hint");
    hint_->setWordWrap(true);
    centre_ = new QStackedWidget;
    for (int s = 0; s < project::stageCount; ++s) {
        const auto stage = static_cast<Stage>(s);
        if (stage == Stage::Code) {
            code_ = new QPlainTextEdit;
            code_->setObjectName("code");
            code_->setReadOnly(true);
            code_->setLineWrapMode(QPlainTextEdit::NoWrap);
            centre_->addWidget(code_);
            pictures_.push_back(nullptr);
        } else if (stage == Stage::Tune) {
            tune_ = new TunePage(document_);
            centre_->addWidget(tune_);
            pictures_.push_back(nullptr);
        } else if (stage == Stage::Prove) {
            prove_ = new ProvePage(document_);
            centre_->addWidget(prove_);
            pictures_.push_back(nullptr);
        } else if (stage == Stage::Log) {
            log_ = new LogPage(document_);
            centre_->addWidget(log_);
            pictures_.push_back(nullptr);
        } else if (stage == Stage::Routine) {
            auto* both = new QWidget;
            auto* stack = new QVBoxLayout(both);
            stack->setContentsMargins(0, 0, 0, 0);
            routineText_ = new QTextBrowser;
            routineText_->setObjectName("routineText");
            routineText_->setOpenLinks(false);
            routineText_->setFrameShape(QFrame::NoFrame);
            connect(routineText_, &QTextBrowser::anchorClicked, this, [this](const QUrl& url) { changeWord(url.path(), QCursor::pos()); });
            auto* picture = new Picture(document_, stage);
            pictures_.push_back(picture);
            stack->addWidget(routineText_, 2);
            stack->addWidget(picture, 3);
            centre_->addWidget(both);
        } else {
            auto* picture = new Picture(document_, stage);
            pictures_.push_back(picture);
            centre_->addWidget(picture);
        }
    }
    column->addWidget(sentence_);
    column->addWidget(hint_);
    column->addWidget(centre_, 1);
    working_ = new WorkingPanel;
    row->addWidget(facts_);
    row->addWidget(middle, 1);
    row->addWidget(working_);
    return page;
}

void MainWindow::applyTheme() {
    const auto& c = colours();
    qApp->setFont(textFont(Text::Body));
    qApp->setStyleSheet(styleSheet());
    sentence_->setFont(textFont(Text::Sentence));
    sentence_->setStyleSheet(QString("background: %1; padding: 0 %2px;").arg(c.card.name()).arg(px(14)));
    hint_->setFont(textFont(Text::Small));
    hint_->setStyleSheet(QString("background: %1; color: %2; padding: 0 %3px;").arg(c.card.name(), c.soft.name()).arg(px(14)));
    findChild<QWidget*>("centre")->setStyleSheet(QString("QWidget#centre { background: %1; border-left: 1px solid %2; border-right: 1px solid %2; }").arg(c.card.name(), c.line.name()));
    code_->setFont(textFont(Text::Mono));
    code_->setFrameShape(QFrame::NoFrame);
    routineText_->setFont(textFont(Text::Body));
    routineText_->setStyleSheet(QString("background: %1; padding: 0 %2px;").arg(c.card.name()).arg(px(10)));
    menu_->setFont(textFont(Text::Body));
    menu_->setStyleSheet(QString("QPushButton { background: %1; border: 1px solid %2; border-radius: 4px; padding: 2px 10px; }").arg(c.card.name(), c.line.name()));
    findChild<QLabel*>("question")->setFont(textFont(Text::Title));
    findChild<QLabel*>("emptyNote")->setStyleSheet(QString("color: %1").arg(c.soft.name()));
    message_->setFont(textFont(Text::Body));
    message_->setStyleSheet(QString("background: %1; color: %2; padding: 6px 18px;").arg(c.sparkTint.name(), c.ink.name()));
    layoutEdges();
    refresh();
}

void MainWindow::layoutEdges() {
    const bool narrow = width() < px(1100);
    channels_->setFixedWidth(narrow ? px(56) : px(176));
    menu_->setGeometry(px(narrow ? 3 : 76), px(5), px(narrow ? 50 : 90), px(27));
    menu_->setText(narrow ? "☰" : tr("Gadget"));
    const auto stage = static_cast<Stage>(std::max(0, stage_));
    const bool has_facts = stage_ >= 0 && stage != Stage::Tune && stage != Stage::Prove && stage != Stage::Code;
    facts_->setFixedWidth(px(248));
    facts_->setVisible(has_facts);
    working_->setFixedWidth(px(268));
    working_->setVisible(stage_ >= 0 && !workingFolded_ && width() >= px(1240) && stage != Stage::Prove && stage != Stage::Log && stage != Stage::Tune && !(stage == Stage::Need && channel_.isEmpty()));
}

void MainWindow::refresh() {
    const auto& model = document_->model();
    if (!channel_.isEmpty() && project::findChannel(model.project, channel_.toStdString()) == nullptr) {
        channel_ = model.project.channels.empty() ? QString() : text(model.project.channels.front().id);
        if (channel_.isEmpty()) stage_ = -1;
    }
    setWindowTitle(text(model.project.brief.name) + (document_->dirty() ? " *" : "") + tr(" · Hinge Spark"));
    headline_->present(model, document_->dirty());
    const bool narrow = width() < px(1100);
    stages_->present(stage_, narrow ? px(56) : px(176));
    channels_->present(model, channel_, narrow);
    if (stage_ < 0) {
        if (model.project.channels.empty()) middle_->setCurrentWidget(empty_);
        else if (middle_->currentWidget() == workplace_) middle_->setCurrentWidget(crossbar_);
        crossbar_->present(model);
        findings_->present(model, -1, {});
        return;
    }
    middle_->setCurrentWidget(workplace_);
    const auto stage = static_cast<Stage>(stage_);
    const auto opening = openingOf(model, stage, channel_);
    sentence_->setText(opening.sentence);
    hint_->setText(opening.hint);
    facts_->present(stage_, channel_);
    working_->present(model, stage_, channel_);
    centre_->setCurrentIndex(stage_);
    if (auto* picture = pictures_[static_cast<std::size_t>(stage_)]) picture->present(channel_);
    if (stage == Stage::Routine) routineText_->setHtml(routineHtml(model));
    if (stage == Stage::Code) {
        const QString sketch = model.sketch ? text(model.sketch->text) : tr("// The sketch waits for a complete routine and a pin for every channel and input.");
        if (code_->toPlainText() != sketch) code_->setPlainText(sketch);
    }
    if (stage == Stage::Tune) tune_->present(channel_);
    if (stage == Stage::Prove) prove_->present(channel_);
    if (stage == Stage::Log) log_->present(channel_);
    findings_->present(model, stage_, channel_);
}

void MainWindow::go(const QString& channel, int stage) {
    channel_ = channel;
    stage_ = stage;
    if (channel_.isEmpty() && stage_ != static_cast<int>(Stage::Need) && stage_ != static_cast<int>(Stage::Prove) && !document_->model().project.channels.empty())
        channel_ = text(document_->model().project.channels.front().id);
    layoutEdges();
    refresh();
}

void MainWindow::showCrossbar() {
    stage_ = -1;
    middle_->setCurrentWidget(document_->model().project.channels.empty() ? empty_ : crossbar_);
    layoutEdges();
    refresh();
}

void MainWindow::askWhatMoves() {
    stage_ = -1;
    layoutEdges();
    refresh();
    middle_->setCurrentWidget(empty_);
    newName_->setFocus();
}

void MainWindow::addChannel() {
    const QString name = newName_->text().trimmed().isEmpty() ? tr("Pump") : newName_->text().trimmed();
    newName_->clear();
    auto project = project::addChannel(document_->model().project, project::ChannelKind::Pump, name.toStdString());
    const QString id = text(project.channels.back().id);
    // A new channel gets a cue of its own, started by a button, so that it can run at all.
    std::vector<std::string> cues, inputs;
    for (const auto& cue : project.routine.cues) cues.push_back(cue.id);
    for (const auto& input : project.inputs) inputs.push_back(input.id);
    if (inputs.empty()) {
        project::Input start;
        start.id = project::freshId("start", inputs);
        start.name = "start";
        start.pin = "D2";
        project.inputs.push_back(start);
    }
    routine::Cue cue;
    cue.id = project::freshId("run " + name.toStdString(), cues);
    cue.name = name.toStdString();
    cue.input = project.inputs.front().id;
    cue.moves.push_back({"runs", routine::Action::Run, id.toStdString(), std::nullopt});
    project.routine.cues.push_back(cue);
    document_->replace(std::move(project));
    go(id, 0);
}

void MainWindow::channelMenu(const QString& id, const QPoint& where) {
    const auto& model = document_->model();
    const auto* channel = project::findChannel(model.project, id.toStdString());
    if (channel == nullptr) return;
    const int at = static_cast<int>(channel - model.project.channels.data());
    QMenu menu(this);
    auto* rename = menu.addAction(tr("Rename…"));
    auto* copy = menu.addAction(tr("Duplicate"));
    auto* up = menu.addAction(tr("Move up"));
    auto* down = menu.addAction(tr("Move down"));
    auto* remove = menu.addAction(tr("Remove"));
    const auto* chosen = menu.exec(where);
    if (chosen == rename) {
        bool given = false;
        const QString name = QInputDialog::getText(this, tr("Rename"), tr("Name"), QLineEdit::Normal, text(channel->name), &given);
        if (given && !name.trimmed().isEmpty()) document_->apply(project::FactEdit{"channels/" + id.toStdString() + "/name", name.trimmed().toStdString()});
    } else if (chosen == copy) {
        document_->replace(project::duplicateChannel(model.project, id.toStdString()));
    } else if (chosen == up) {
        document_->replace(project::moveChannel(model.project, id.toStdString(), at - 1));
    } else if (chosen == down) {
        document_->replace(project::moveChannel(model.project, id.toStdString(), at + 1));
    } else if (chosen == remove) {
        document_->replace(project::removeChannel(model.project, id.toStdString()));
    }
}

// A word of the routine: a flag flips, a choice opens its list, anything else a small field.
void MainWindow::changeWord(const QString& path, const QPoint& where) {
    const auto fact = project::fact(document_->model().project, path.toStdString());
    if (!fact) return;
    const auto set = [this, path](const QString& value) {
        const QString why = document_->apply(project::FactEdit{path.toStdString(), value.toStdString()});
        if (!why.isEmpty()) say(why);
    };
    if (fact->type == project::FactType::Flag) return set(fact->exact == "yes" ? "no" : "yes");
    if (path.endsWith("/input")) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        menu->addAction(tr("nothing"), this, [set] { set(""); });
        for (const auto& input : document_->model().project.inputs) menu->addAction(text(input.name), this, [set, id = text(input.id)] { set(id); });
        return menu->popup(where);
    }
    auto* field = new QLineEdit(this);
    field->setObjectName("wordField");
    field->setWindowFlag(Qt::Popup);
    field->setAttribute(Qt::WA_DeleteOnClose);
    field->setText(text(fact->text));
    field->setPlaceholderText(text(fact->hint));
    field->resize(px(200), px(30));
    field->move(where);
    connect(field, &QLineEdit::returnPressed, this, [set, field] {
        set(field->text());
        field->close();
    });
    field->show();
    field->setFocus();
    field->selectAll();
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
    recent.prepend(document_->folder());
    settings.setValue("recent", recent.mid(0, 8));
    message_->hide();
    if (document_->hasRecovery(folder)) {
        say(tr("There are unsaved changes from a session that ended early. They are opened; Ctrl+Z goes back to the saved file."));
        document_->recover(folder);
    }
    showCrossbar();
    return true;
}

void MainWindow::save(bool elsewhere) {
    QString folder = document_->folder();
    if (elsewhere || folder.isEmpty()) {
        folder = QFileDialog::getSaveFileName(this, tr("Save into a folder"), QDir::homePath() + "/" + text(document_->model().project.brief.name));
        if (folder.isEmpty()) return;
    }
    const QString why = document_->save(folder);
    say(why.isEmpty() ? tr("Saved in %1.").arg(folder) : tr("Not saved: %1.").arg(why));
}

void MainWindow::say(const QString& message) {
    message_->setText(message);
    message_->setVisible(!message.isEmpty());
}

QString MainWindow::lastSaid() const { return message_->text(); }

void MainWindow::walk(int dx, int dy) {
    const auto& channels = document_->model().project.channels;
    if (channels.empty()) return;
    int row = 0;
    for (std::size_t i = 0; i < channels.size(); ++i)
        if (text(channels[i].id) == channel_) row = static_cast<int>(i);
    row = std::clamp(row + dy, 0, static_cast<int>(channels.size()) - 1);
    go(text(channels[static_cast<std::size_t>(row)].id), stage_ < 0 ? 0 : std::clamp(stage_ + dx, 0, project::stageCount - 1));
}

void MainWindow::shortcuts() {
    say(tr("Alt + arrows: walk along channels and stages · Esc: crossbar · Ctrl+Z, Ctrl+Shift+Z: undo, redo · Ctrl+S: save · Ctrl+O: open · Ctrl+N: new · Ctrl+K: add a channel · Ctrl+W: fold the working · Ctrl+L: light or dark · Ctrl + and −: text size · "
           "Space in Tune: everything safe · F1: this list, Esc closes it"));
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        if (message_->isVisible()) message_->hide();
        else showCrossbar();
        return;
    }
    if (event->key() == Qt::Key_Space && stage_ == static_cast<int>(Stage::Tune)) {
        tune_->stopEverything();
        return;
    }
    QMainWindow::keyPressEvent(event);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    layoutEdges();
    refresh();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (document_->dirty() && qEnvironmentVariableIsEmpty("HINGE_SPARK_TEST")) {
        const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("Save the changes to this gadget first?"), QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
        if (answer == QMessageBox::Cancel) return event->ignore();
        if (answer == QMessageBox::Save) {
            save(false);
            if (document_->dirty()) return event->ignore();
        } else if (!document_->folder().isEmpty()) {
            store::discardAutosave(document_->folder().toStdString());
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
