#include "stages/code/code_page.hpp"
#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QStackedWidget>
#include <QSyntaxHighlighter>
#include <QTextBrowser>
#include <QVBoxLayout>
#include "emulator/build.hpp"
#include "emulator/own_firmware.hpp"
#include "emulator/upload.hpp"
#include "firmware/difference.hpp"
#include "firmware/habits.hpp"
#include "firmware/runtime_files.hpp"
#include "plan/behaviour.hpp"
#include "plan/deck.hpp"
#include "plan/firmware_model.hpp"
#include "proof/own_sketch.hpp"
#include "quantity/text.hpp"
#include "shell/labels.hpp"
#include "shell/wrap_row.hpp"
#include "simulation/happen.hpp"
#include "stages/code/own_report.hpp"
#include "stages/opening.hpp"
#include "store/document.hpp"

namespace hinge::app {
namespace {

// Comments soft, the numbers at the top in time's colour: what a maker looks for.
class Tints final : public QSyntaxHighlighter {
public:
    using QSyntaxHighlighter::QSyntaxHighlighter;

protected:
    void highlightBlock(const QString& line) override {
        static const QRegularExpression named("^const [a-z0-9_ ]+ ([A-Z][A-Z0-9_]*) = ([^;]+);");
        const auto match = named.match(line);
        if (match.hasMatch()) {
            QTextCharFormat strong;
            strong.setForeground(colours().time);
            strong.setFontWeight(QFont::Bold);
            setFormat(static_cast<int>(match.capturedStart(1)), static_cast<int>(match.capturedLength(1)), colours().time);
            setFormat(static_cast<int>(match.capturedStart(2)), static_cast<int>(match.capturedLength(2)), strong);
        }
        if (line.startsWith("− ") || line.startsWith("+ ")) {
            QTextCharFormat marked;
            marked.setForeground(line.startsWith("+") ? colours().hinge : colours().breaks);
            marked.setFontWeight(QFont::Bold);
            setFormat(0, 2, marked);
            if (line.startsWith("− ")) setFormat(2, static_cast<int>(line.size()) - 2, colours().soft);
            return;
        }
        const auto comment = line.indexOf("//");
        if (comment >= 0) setFormat(static_cast<int>(comment), static_cast<int>(line.size() - comment), colours().soft);
    }
};

}  // namespace

CodePage::CodePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("codePage");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(4), 0, 0, 0);
    column->setSpacing(px(4));
    said_ = label("", Text::Small, colours().ink);
    said_->setObjectName("codeSaid");
    said_->setContentsMargins(px(10), 0, px(14), 0);
    said_->hide();
    view_ = new QPlainTextEdit;
    view_->setObjectName("code");
    view_->setAccessibleName(tr("The sketch"));
    view_->setReadOnly(true);
    view_->setLineWrapMode(QPlainTextEdit::NoWrap);
    view_->setFrameShape(QFrame::NoFrame);
    new Tints(view_->document());
    own_ = new QTextBrowser;
    own_->setObjectName("ownReport");
    own_->setFrameShape(QFrame::NoFrame);
    stack_ = new QStackedWidget;
    stack_->addWidget(view_);
    stack_->addWidget(own_);
    column->addWidget(makeButtons());
    column->addWidget(makeUpload());
    column->addWidget(said_);
    column->addWidget(stack_, 1);
    poll_.setInterval(50);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (work_.valid() && work_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
    });
}

QWidget* CodePage::makeButtons() {
    auto* buttons = new QWidget;
    auto* row = new WrapRow(buttons);
    row->setContentsMargins(px(10), 0, px(14), 0);
    row->setSpacing(px(8));
    const auto add = [&](const QString& words_of, const QString& name, const QString& why, auto slot) {
        auto* button = smallButton(words_of, name, why);
        connect(button, &QPushButton::clicked, this, slot);
        row->addWidget(button);
        return button;
    };
    const auto view = [&](const QString& words_of, const QString& name, const QString& why, View which) {
        views_[which] = add(words_of, name, why, [this, which] { show(which); });
        views_[which]->setCheckable(true);
    };
    view(tr("The sketch"), "viewSketch", tr("As the plan makes it now."), View::Sketch);
    view(
        tr("Its runtime"), "viewRuntime",
        tr("The headers in its folder, under src/: the arithmetic that the plan, the proof and the chip share. They are the same for every "
           "gadget."),
        View::Runtime);
    view(tr("What has changed"), "viewDifference", tr("Against the sketch of the project as it was last saved."), View::Difference);
    view(tr("One of your own…"), "viewOwn",
         tr("Runs a sketch, .hex or .elf of yours on the emulated board, against this plan, and reads its source for habits."), View::Own);
    add(tr("Save…"), "saveSketch",
        tr("As .ino, with its runtime and its wiring as a deck for ngspice. What you wrote between the marks of a sketch that stands there "
           "is kept."),
        [this] { save(); });
    add(tr("Copy all"), "copySketch", tr("Into the clipboard."), [this] { QApplication::clipboard()->setText(view_->toPlainText()); });
    add(tr("Onto the board…"), "openUpload", tr("Writes the sketch over the board's own port."), [this] {
        upload_->setVisible(!upload_->isVisible());
        fillPorts();
    });
    return buttons;
}

QWidget* CodePage::makeUpload() {
    upload_ = new QFrame;
    upload_->setObjectName("uploadPanel");
    auto* line = new WrapRow(upload_);
    line->setContentsMargins(px(10), px(4), px(14), px(4));
    line->setSpacing(px(8));
    what_ = label("", Text::Small, colours().ink);
    ports_ = new QComboBox;
    ports_->setObjectName("uploadPort");
    ports_->setEditable(true);
    ports_->setAccessibleName(tr("Where the board is"));
    ports_->lineEdit()->setAccessibleName(ports_->accessibleName());
    ports_->setMinimumWidth(px(150));
    safe_ = new QCheckBox(tr("horns off, load supply off"));
    safe_->setObjectName("uploadSafe");
    write_ = new QPushButton(tr("Write it"));
    write_->setObjectName("uploadWrite");
    connect(write_, &QPushButton::clicked, this, [this] { upload(); });
    stop_ = new QPushButton(tr("Stop"));
    stop_->setObjectName("uploadStop");
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { cancel_ = true; });
    for (QWidget* widget : std::initializer_list<QWidget*>{what_, ports_, safe_, write_, stop_}) line->addWidget(widget);
    upload_->hide();
    return upload_;
}

CodePage::~CodePage() {
    cancel_ = true;
    if (work_.valid()) work_.wait();
}

void CodePage::show(View which) {
    if (which == View::Own && (shown_ == View::Own || !ownHtml_.isEmpty()) && shown_ != View::Own) {
        shown_ = which;
        return present();
    }
    if (which == View::Own) {
        const QString file =
            QFileDialog::getOpenFileName(this, tr("A sketch of your own"), {}, tr("Sketches and firmware (*.ino *.cpp *.hex *.elf)"));
        present();
        if (!file.isEmpty()) examine(file);
        return;
    }
    shown_ = which;
    present();
}

void CodePage::present() {
    const auto& model = document_->model();
    for (const auto& [which, button] : views_) button->setChecked(which == shown_);
    stack_->setCurrentWidget(shown_ == View::Own ? static_cast<QWidget*>(own_) : view_);
    what_->setText(
        tr("%1, plan %2 →").arg(text(model.project.brief.name), model.sketch ? text(firmware::planMark(*model.sketch)) : tr("none")));
    safe_->setVisible(plan::moves(model.project));
    view_->setFont(textFont(Text::Mono));
    view_->setStyleSheet(QString("background-color: %1; padding-left: %2px;").arg(colours().card.name()).arg(px(8)));
    own_->setStyleSheet(QString("background-color: %1; padding: 0 %2px;").arg(colours().card.name()).arg(px(10)));
    if (shown_ == View::Own) return own_->setHtml(ownHtml_);
    QString page = model.sketch ? text(model.sketch->text) : "// " + whyNoSketch(model);
    if (shown_ == View::Difference) page = differencePage();
    if (shown_ == View::Runtime && model.sketch) page = runtimePage();
    if (view_->toPlainText() == page && themed_ == themeKey()) return;
    themed_ = themeKey();
    view_->setPlainText(page);
}

QString CodePage::runtimePage() const {
    QString page;
    for (const auto& file : document_->model().sketch->beside) page += "// ---- " + text(file.name) + " ----\n" + text(file.text) + "\n";
    return page;
}

QString CodePage::differencePage() const {
    const auto& model = document_->model();
    const auto before = plan::sketchOf(document_->saved(), plan::evaluate(document_->saved(), model.parts));
    if (!model.sketch) return "// " + whyNoSketch(model);
    if (!before) return tr("// The project as it was last saved made no sketch yet: everything is new.");
    const auto files = firmware::differences(*before, *model.sketch);
    if (files.empty()) return tr("// Nothing has changed since the project was saved.");
    QString page = tr("// Since the project was saved: lines gone (−) and new (+).") + "\n";
    for (const auto& file : files) {
        page += "\n// ---- " +
                tr("%1: %2 gone, %3 new")
                    .arg(text(file.name))
                    .arg(file.count(firmware::LineFate::Gone))
                    .arg(file.count(firmware::LineFate::New)) +
                " ----\n";
        for (const auto& change : file.lines)
            page += (change.fate == firmware::LineFate::Gone  ? "− "
                     : change.fate == firmware::LineFate::New ? "+ "
                                                              : "  ") +
                    text(change.text) + "\n";
    }
    return page;
}

void CodePage::start(std::function<Outcome()> work, const QString& doing) {
    if (work_.valid()) return;
    cancel_ = false;
    said_->setText(doing);
    said_->show();
    write_->setEnabled(false);
    stop_->show();
    poll_.start();
    work_ = std::async(std::launch::async, std::move(work));
}

void CodePage::collect() {
    const auto outcome = work_.get();
    poll_.stop();
    write_->setEnabled(true);
    stop_->hide();
    said_->setText(outcome.said);
    if (!outcome.html.isEmpty()) {
        ownHtml_ = outcome.html;
        shown_ = View::Own;
    }
    present();
}

void CodePage::settle() {
    if (!work_.valid()) return;
    work_.wait();
    collect();
}

void CodePage::examine(const QString& file) {
    const auto& model = document_->model();
    if (!model.plan.program) return Q_EMIT said(tr("The plan has no complete routine yet: there is nothing to lay your sketch against."));
    start(
        [this, file, project = model.project, parts = model.parts, plan = model.plan, script = model.script]() -> Outcome {
            std::optional<Error> wrong;
            const double length = std::min(20.0, simulation::sceneLength(*plan.program, script));
            const auto run = emulator::runOwn(
                file.toStdString(), project, parts, plan, emulator::usualCache(),
                [&](plant::Played& board) { wrong = simulation::playOn(board, *plan.program, script, length, &cancel_); }, &cancel_);
            if (cancel_) return {tr("Stopped; nothing was taken over."), {}};
            if (!run) return {words(run.error()), {}};
            if (wrong) return {words(*wrong), {}};
            std::vector<firmware::Habit> habits;
            if (file.endsWith(".ino") || file.endsWith(".cpp"))
                if (const auto source = files::readWhole(file.toStdString())) habits = firmware::habitsOf(*source);
            if (!run->built)
                return {tr("%1 does not compile; the compiler's words stand below.").arg(QFileInfo(file).fileName()),
                        "<pre>" + text(run->log.substr(0, 4000)).toHtmlEscaped() + "</pre>"};
            const auto facts = proof::ownFacts(run->seen, project, plan, simulation::startsOf(*plan.program, script, run->seen.length));
            return {tr("%1 ran for %2 on the emulated board, with the inputs of the scene.")
                        .arg(QFileInfo(file).fileName(), text(display(Kind::Duration, run->seen.length, 3))),
                    ownReportHtml(facts, habits)};
        },
        tr("%1 is compiled and runs on the emulated board.").arg(QFileInfo(file).fileName()));
}

void CodePage::fillPorts() {
    const QString chosen = ports_->currentText();
    ports_->clear();
    for (const auto& port : QDir("/dev").entryList({"ttyUSB*", "ttyACM*"}, QDir::System)) ports_->addItem("/dev/" + port);
    if (!chosen.isEmpty()) ports_->setCurrentText(chosen);
    const auto& board = board::family(document_->model().project.board.form);
    const bool fits = board.programmer.has_value() && emulator::programmerFound();
    for (QWidget* widget : std::initializer_list<QWidget*>{ports_, write_}) widget->setVisible(fits);
    if (fits) {
        if (ports_->count() == 0)
            said_->setText(tr("No board's port is seen. Plug it in with a cable that carries data, and open this again."));
        else return;
    } else if (board.programmer) {
        said_->setText(tr("avrdude is not installed. Install the package avrdude, or save the sketch and write it with your own tools."));
    } else {
        QStringList steps;
        int n = 0;
        for (const auto step : board.by_hand) steps << QString("%1 · %2").arg(++n).arg(text(std::string{step}));
        said_->setText(tr("By hand: ") + steps.join("  "));
    }
    said_->setVisible(upload_->isVisible());
}

void CodePage::upload() {
    const auto& model = document_->model();
    if (!model.sketch) return Q_EMIT said(whyNoSketch(document_->model()));
    start(
        [this, sketch = *model.sketch, form = model.project.board.form, port = ports_->currentText().toStdString(),
         movers = plan::moves(model.project), safe = safe_->isChecked()]() -> Outcome {
            const auto built = emulator::build(sketch, board::family(form), emulator::usualCache(), &cancel_);
            if (!built) return {words(built.error()), {}};
            if (!built->ok) return {tr("The sketch does not compile: nothing was written."), {}};
            const auto done = emulator::upload({built->elf, form, port, movers, safe}, &cancel_);
            if (!done && done.error().field == "made_safe")
                return {tr("Something that moves is coupled. Take horns and loads off and switch their supply off, tick that, and write "
                           "again."),
                        {}};
            if (!done && done.error().code == ErrorCode::Cancelled)
                return {tr("Stopped. The program on the board may be only half there: write it again before you use it."), {}};
            if (!done) return {words(done.error()), {}};
            if (done->signature.empty())
                return {tr("No answer on %1. Is it the board's port, is the board the one that was planned, and is no other program on the "
                           "port?")
                            .arg(text(port)),
                        {}};
            if (!done->ok)
                return {tr("Writing failed half way; write it again before you use it. The programmer said: %1")
                            .arg(text(done->log).section('\n', -3).simplified()),
                        {}};
            return {tr("Written and read back; the chip's signature is %1. Loads on only after the first steps of Prove.")
                        .arg(text(done->signature)),
                    {}};
        },
        tr("The sketch is compiled and written to %1.").arg(ports_->currentText()));
}

void CodePage::save() {
    const auto& sketch = document_->model().sketch;
    if (!sketch) return Q_EMIT said(whyNoSketch(document_->model()));
    const QString file = QFileDialog::getSaveFileName(this, tr("Save the sketch"), text(sketch->name) + ".ino", tr("Sketches (*.ino)"));
    if (!file.isEmpty()) saveTo(file);
}

void CodePage::saveTo(const QString& file) {
    const auto& m = document_->model();
    const auto& sketch = m.sketch;
    if (!sketch) return Q_EMIT said(whyNoSketch(m));
    std::string page = sketch->text;
    bool kept = false;
    if (QFileInfo::exists(file))
        if (const auto older = files::readWhole(file.toStdString())) {
            page = firmware::withHandWritten(page, *older);
            kept = page != sketch->text;
        }
    const auto into = files::Folder::open(QFileInfo(file).dir().path().toStdString());
    if (!into) return Q_EMIT said(tr("Not saved: %1.").arg(words(into.error())));
    // All of them or none, the page last.
    std::vector<files::Folder::Named> set;
    for (const auto& beside : sketch->beside) set.push_back({beside.name, beside.text});
    set.push_back({QFileInfo(file).fileName().toStdString(), page});
    const auto written = into->writeSet(set);
    if (!written) return Q_EMIT said(tr("Not saved: %1.").arg(words(written.error())));
    QString done = (kept ? tr("The sketch is in %1, with what you wrote between its marks.") : tr("The sketch is in %1.")).arg(file);
    // The sketch does not need the deck: where a figure is missing, it is left out with a word.
    const QString deck_name = QFileInfo(file).completeBaseName() + ".cir";
    const auto beside = plan::spiceDeck(m.project, m.parts, m.plan).and_then([&](const std::string& deck) {
        return into->write(deck_name.toStdString(), deck);
    });
    Q_EMIT said(done + " " +
                (beside ? tr("Beside it lies its wiring as a deck for ngspice, %1.").arg(deck_name)
                        : tr("Its wiring as a deck for ngspice is not beside it: %1.").arg(words(beside.error()))));
}

}  // namespace hinge::app
