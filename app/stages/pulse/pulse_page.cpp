#include "stages/pulse/pulse_page.hpp"
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QTextBrowser>
#include <QVBoxLayout>
#include "emulator/gadget.hpp"
#include "link/protocol.hpp"
#include "quantity/text.hpp"
#include "simulation/happen.hpp"
#include "theme/marks.hpp"

namespace hinge::app {
namespace {

constexpr std::size_t most_edges = 16'000'000;  // kept for the picture; the figures take all
constexpr double longest_run = 60.0;            // s

QString shown(Kind kind, double value, int digits = 4) {
    return text(display(kind, value, digits));
}

}  // namespace

QString captureHtml(const capture::Capture& capture, const std::vector<proof::CaptureCheck>& checks) {
    const auto& c = colours();
    QString html = QString(
                       "<style>td, th { padding: 2px 14px 2px 0; text-align: left; } .soft { color: %1; } .breaks { color: %2; "
                       "font-weight: bold; } .tight { color: %3; font-weight: bold; }</style>")
                       .arg(c.soft.name(), c.breaks.name(), c.tight.name());
    const auto tr = [](const char* words) { return PulsePage::tr(words); };
    if (!checks.empty()) {
        html += "<table><tr class='soft'><th></th><th>" + tr("line") + "</th><th>" + tr("figure") + "</th><th>" + tr("measured") +
                "</th><th>" + tr("planned") + "</th></tr>";
        for (const auto& check : checks)
            html += QString("<tr><td class='%1'>%2</td><td>%3</td><td>%4</td><td>%5</td><td>%6</td></tr>%7")
                        .arg(check.verdict == Verdict::Breaks  ? "breaks"
                             : check.verdict == Verdict::Tight ? "tight"
                                                               : "soft",
                             verdictWord(check.verdict), text(check.signal).toHtmlEscaped(), tr(check.what.c_str()),
                             shown(check.kind, check.measured), shown(check.kind, check.planned),
                             check.text.empty() ? QString()
                                                : "<tr><td></td><td colspan='4'>" + text(check.text).toHtmlEscaped() + "</td></tr>");
        html += "</table><br>";
    }
    html += "<table><tr class='soft'><th>" + tr("line") + "</th><th>" + tr("looks like") + "</th><th>" + tr("pulses") + "</th><th>" +
            tr("frequency") + "</th><th>" + tr("high") + "</th><th>" + tr("jitter") + "</th><th>" + tr("left out") + "</th></tr>";
    for (const auto& s : capture.signals) {
        const QString high =
            s.high.count == 0 ? QString()
            : s.high.shortest == s.high.longest
                ? shown(Kind::Duration, s.high.shortest)
                : PulsePage::tr("%1 to %2").arg(shown(Kind::Duration, s.high.shortest), shown(Kind::Duration, s.high.longest));
        html += QString("<tr><td>%1</td><td>%2</td><td>%3</td><td>%4</td><td>%5</td><td>%6</td><td>%7</td></tr>")
                    .arg(text(s.name).toHtmlEscaped(), tr(labelOf(s.looks)), QString::number(s.rises),
                         s.frequency ? shown(Kind::Frequency, *s.frequency, 5) : QString(), high,
                         s.period.count > 2 ? shown(Kind::Duration, s.jitter_rms, 3) : QString(),
                         s.missing > 0 ? QString::number(s.missing) : QString());
        for (const auto& burst : s.bursts)
            if (burst.acceleration)
                html += "<tr><td></td><td colspan='6' class='soft'>" +
                        PulsePage::tr("at %1: %2 pulses, up to %3, gaining %4 a second each second")
                            .arg(shown(Kind::Duration, burst.start), QString::number(burst.pulses), shown(Kind::Frequency, burst.peak_rate),
                                 QString::number(*burst.acceleration, 'g', 4)) +
                        "</td></tr>";
    }
    html += "</table>";
    for (const auto& remark : capture.remarks) html += "<p class='soft'>" + text(remark.text).toHtmlEscaped() + "</p>";
    if (capture.edges_cut) html += "<p class='soft'>" + tr("More edges came than the picture keeps; the figures count them all.") + "</p>";
    return html;
}

PulsePage::PulsePage(Document* document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("pulse");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(4), px(14), 0);
    auto* top = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& words, bool checkable) {
        auto* made = new QPushButton(words);
        made->setObjectName(name);
        made->setCheckable(checkable);
        top->addWidget(made);
        return made;
    };
    planned_ = button("pulsePlanned", tr("As planned"), true);
    real_ = button("pulseReal", tr("As they were"), true);
    top->addStretch(1);
    run_ = button("pulseRun", tr("Run the sketch"), false);
    run_->setToolTip(tr("The emitted sketch on the emulated board, through the scene: every edge of every pin."));
    open_ = button("pulseOpen", tr("Open a capture…"), false);
    open_->setToolTip(tr("VCD or CSV from any instrument. A line named as a channel, or as its pin, is laid against the plan."));
    cancelButton_ = button("pulseCancel", tr("Stop reading"), false);
    cancelButton_->hide();
    column->addLayout(top);
    stack_ = new QStackedWidget;
    picture_ = new PulsePicture(document_);
    stack_->addWidget(picture_);
    auto* captured = new QWidget;
    auto* inner = new QVBoxLayout(captured);
    inner->setContentsMargins(0, 0, 0, 0);
    edges_ = new EdgeChart;
    table_ = new QTextBrowser;
    table_->setObjectName("captureTable");
    table_->setFrameShape(QFrame::NoFrame);
    inner->addWidget(edges_, 3);
    inner->addWidget(table_, 2);
    stack_->addWidget(captured);
    column->addWidget(stack_, 1);
    said_ = new QLabel;
    said_->setObjectName("captureSaid");
    said_->setWordWrap(true);
    said_->hide();
    column->addWidget(said_);
    connect(planned_, &QPushButton::clicked, this, [this] { showPlanned(true); });
    connect(real_, &QPushButton::clicked, this, [this] {
        if (capture_) showPlanned(false);
        else runSketch();
    });
    connect(run_, &QPushButton::clicked, this, &PulsePage::runSketch);
    connect(open_, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Open a capture"), {}, tr("Captures (*.vcd *.csv);;All files (*)"));
        if (!path.isEmpty()) openCapture(path);
    });
    connect(cancelButton_, &QPushButton::clicked, this, [this] { cancel_ = true; });
    poll_.setInterval(60);
    connect(&poll_, &QTimer::timeout, this, [this] {
        if (work_.valid() && work_.wait_for(std::chrono::seconds(0)) == std::future_status::ready) collect();
        else if (bytes_ > 0) said_->setText(tr("%1 %2 MB read.").arg(doing_).arg(bytes_ / 1'000'000));
    });
    showPlanned(true);
}

PulsePage::~PulsePage() {
    cancel_ = true;
    if (work_.valid()) work_.wait();
}

void PulsePage::present(const QString& channel) {
    channel_ = channel;
    picture_->present(channel);
    if (capture_ && stack_->currentIndex() == 1) showCapture();
}

void PulsePage::applyTheme() {
    table_->setFont(textFont(Text::Body));
    table_->setStyleSheet(QString("background-color: %1;").arg(colours().card.name()));
    if (capture_) showCapture();
}

void PulsePage::showPlanned(bool planned) {
    planned_->setChecked(planned);
    real_->setChecked(!planned);
    stack_->setCurrentIndex(planned ? 0 : 1);
    if (!planned) showCapture();
}

void PulsePage::start(std::function<Outcome()> work, const QString& doing) {
    if (work_.valid()) return;
    cancel_ = false;
    bytes_ = 0;
    doing_ = doing;
    said_->setText(doing);
    said_->show();
    cancelButton_->show();
    run_->setEnabled(false);
    open_->setEnabled(false);
    poll_.start();
    work_ = std::async(std::launch::async, std::move(work));
}

void PulsePage::openCapture(const QString& path) {
    start(
        [this, path]() -> Outcome {
            capture::Options options;
            options.keep_edges = most_edges;
            options.progress = [this](std::uint64_t bytes) {
                bytes_ = bytes;
                return !cancel_;
            };
            auto read = capture::readFile(path.toStdString(), options);
            if (!read)
                return {std::nullopt,
                        {},
                        read.error().code == ErrorCode::Cancelled ? tr("Stopped; nothing was taken over.") : words(read.error())};
            return {std::move(*read), QFileInfo(path).fileName(), {}};
        },
        tr("Reading %1.").arg(QFileInfo(path).fileName()));
}

void PulsePage::runSketch() {
    const auto& model = document_->model();
    if (!model.plan.program) {
        said_->setText(tr("The routine is not complete yet, so there is no sketch to run."));
        said_->show();
        return;
    }
    start(
        [this, project = model.project, parts = model.parts, plan = model.plan, script = model.script]() -> Outcome {
            auto board = emulator::startGadget(project, parts, plan, emulator::usualCache(), &cancel_);
            if (!board) return {std::nullopt, {}, words(board.error())};
            const double length = std::min(longest_run, simulation::sceneLength(*plan.program, script));
            if (const auto error = simulation::playOn(**board, *plan.program, script, length, &cancel_))
                return {std::nullopt, {}, words(*error)};
            if (cancel_) return {std::nullopt, {}, tr("Stopped; nothing was taken over.")};
            return {proof::captureOf((*board)->edges(), project, plan, length, most_edges), tr("the emulated board"), {}};
        },
        tr("The sketch runs on the emulated board."));
}

void PulsePage::settle() {
    if (!work_.valid()) return;
    work_.wait();
    collect();
}

void PulsePage::collect() {
    auto outcome = work_.get();
    poll_.stop();
    cancelButton_->hide();
    run_->setEnabled(true);
    open_->setEnabled(true);
    if (!outcome.capture) {
        said_->setText(outcome.problem);
        return;
    }
    capture_ = std::move(outcome.capture);
    captureName_ = outcome.name;
    edges_->show(*capture_);
    showPlanned(false);
}

void PulsePage::showCapture() {
    if (!capture_) return;
    const auto& model = document_->model();
    const auto checks = proof::checkCapture(*capture_, model.project, model.plan);
    int breaks = 0, tight = 0;
    for (const auto& check : checks) breaks += check.verdict == Verdict::Breaks ? 1 : 0, tight += check.verdict == Verdict::Tight ? 1 : 0;
    QString words = tr("From %1, %2 long: ").arg(captureName_, shown(Kind::Duration, capture_->length, 3));
    if (checks.empty()) words += tr("no line bears the name of a channel or its pin, so nothing is laid against the plan.");
    else if (breaks + tight == 0) words += tr("all %1 figures are as planned.").arg(checks.size());
    else words += tr("%1 of %2 figures are not as planned.").arg(breaks + tight).arg(checks.size());
    said_->setText(words);
    said_->show();
    table_->setHtml(captureHtml(*capture_, checks));
}

}  // namespace hinge::app
