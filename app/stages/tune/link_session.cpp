#include "stages/tune/link_session.hpp"
#include "emulator/gadget.hpp"
#include "quantity/text.hpp"
#include "simulation/interpreted_board.hpp"
#include <QDateTime>
#include <QFile>

namespace hinge::app {

LinkSession::LinkSession(Document* document, QObject* parent) : QObject(parent), document_(document) {
    connect(&port_, &QSerialPort::readyRead, this, &LinkSession::readPort);
    connect(&port_, &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError error) {
        if (error == QSerialPort::ResourceError || error == QSerialPort::PermissionError) lost();
    });
    // Not every driver reports a pulled plug; its device file always goes.
    watch_.setInterval(400);
    connect(&watch_, &QTimer::timeout, this, [this] {
        const QString name = port_.portName();
        if (!QFile::exists(name.startsWith('/') ? name : "/dev/" + name)) lost();
        // A routine may take silence for a lost link: an empty line is enough.
        if (port_.isOpen() && hello_) port_.write("\n");
        // A board that was reset, or missed the request while it listed, streams nothing: ask again.
        if (port_.isOpen() && hello_ && telemetry_.size() == heard_) send(link::Stream{true});
        heard_ = telemetry_.size();
    });
    watch_.start();
}

LinkSession::~LinkSession() {
    port_.disconnect(this);
    if (port_.isOpen()) port_.close();
}

QString LinkSession::status() const {
    if (!port_.isOpen()) return note_.isEmpty() ? tr("Nothing yet.") : note_;
    if (!hello_) return tr("%1 is open; nothing has answered yet. Is the sketch uploaded, and the rate %2?").arg(port_.portName()).arg(link::baud);
    QString running = board_ != nullptr && board_->port().endsWith(port_.portName()) ? board_->what() : tr("a board on %1").arg(port_.portName());
    running += tr("\n%1 samples, %2 lost").arg(telemetry_.size()).arg(decoder_.lost());
    running += last_.clock_set ? tr("\nIts clock: %1").arg(QTime::fromMSecsSinceStartOfDay(static_cast<int>(last_.clock_ms)).toString("HH:mm:ss")) : tr("\nThe time is lost until you set it.");
    if (!doing_.isEmpty()) running += tr("\nIt says: %1").arg(doing_);
    if (last_.faulted) running += tr("\nA cue ended because what it waited for did not come in time.");
    if (last_.stopped) running += tr("\nStopped: everything is in its safe state.");
    if (!note_.isEmpty()) running += "\n" + note_;
    return running;
}

std::optional<int> LinkSession::value(const QString& parameter) const {
    for (const auto& p : parameters_)
        if (text(p.name) == parameter) return p.value;
    return std::nullopt;
}

void LinkSession::startStandIn() {
    if (port_.isOpen()) port_.close();
    hello_ = false;
    board_.reset();
    const auto& model = document_->model();
    const auto stays = [this](const QString& why) {
        note_ = why;
        Q_EMIT reshaped();
    };
    if (!model.plan.program) return stays(tr("The stand-in waits for a complete routine: %1").arg(model.plan.program_error ? words(*model.plan.program_error) : QString()));
    std::unique_ptr<plant::StandIn> stand_in;
    if (auto board = emulator::startGadget(model.project, model.parts, model.plan, emulator::usualCache())) {
        (*board)->keepEdges(4096);
        stand_in = std::move(*board);
    } else {
        auto plants = plan::plantsOf(model.project, model.parts, model.plan);
        if (!plants) return stays(words(plants.error()));
        stand_in = std::make_unique<simulation::InterpretedBoard>(*model.plan.program, std::move(*plants), model.project.brief.name, "interpreted");
    }
    board_ = std::make_unique<LiveBoard>(std::move(stand_in));
    if (board_->port().isEmpty()) return stays(tr("No pseudo-terminal could be had on this machine."));
    board_->start();
    connectTo(board_->port());
}

void LinkSession::connectTo(const QString& name) {
    note_.clear();
    if (port_.isOpen()) port_.close();
    hello_ = false;
    decoder_ = {};
    parameters_.clear();
    inputs_.clear();
    cues_.clear();
    telemetry_.clear();
    last_ = {};
    doing_.clear();
    port_.setPortName(name);
    port_.setBaudRate(link::baud);
    if (!port_.open(QIODevice::ReadWrite)) {
        note_ = tr("%1 cannot be opened: %2. Check the cable and that you may use it.").arg(name, port_.errorString());
        Q_EMIT reshaped();
        return;
    }
    send(link::SayHello{});
    send(link::AskList{});
    // A board that resets when its port opens needs a moment; ask again until it answers.
    for (const int after : {1500, 3000}) QTimer::singleShot(after, this, [this] {
        if (port_.isOpen() && !hello_) send(link::SayHello{}), send(link::AskList{});
    });
    Q_EMIT reshaped();
}

void LinkSession::send(const link::Command& command) {
    if (!port_.isOpen()) return;
    const std::string line = link::encode(command);
    port_.write(QByteArray::fromStdString(line + "\n"));
    // Silence is said: a lost command must not look like a pump that chose not to run.
    const int before = answers_;
    if (hello_) QTimer::singleShot(2000, this, [this, before, line] {
        if (!port_.isOpen() || answers_ != before) return;
        note_ = tr("The board has not answered “%1”. Try again; if it stays silent, check the cable and the power.").arg(text(line));
        Q_EMIT reshaped();
    });
}

void LinkSession::change(const QString& parameter, const QString& typed) {
    for (const auto& p : parameters_) {
        if (text(p.name) != parameter) continue;
        bool whole = false;
        const int wanted = typed.trimmed().toInt(&whole);
        if (!whole || wanted < p.least || wanted > p.most) {
            note_ = tr("%1 takes whole numbers from %2 to %3.").arg(parameter).arg(p.least).arg(p.most);
            Q_EMIT confirmed(parameter, p.value);
            return;
        }
        note_.clear();
        send(link::SetParameter{p.name, wanted});
    }
}

void LinkSession::lost() {
    if (!port_.isOpen()) return;
    note_ = tr("The port has gone. What was drawn stays; connect again when it is back.");
    hello_ = false;
    port_.close();
    Q_EMIT reshaped();
}

void LinkSession::readPort() {
    const QByteArray bytes = port_.readAll();
    for (auto& message : decoder_.feed({bytes.constData(), static_cast<std::size_t>(bytes.size())})) take(std::move(message));
}

void LinkSession::take(link::Message message) {
    if (const auto* t = std::get_if<link::Telemetry>(&message)) {
        const auto& program = document_->model().plan.program;
        last_ = *t;
        Sample sample;
        sample.time = t->time_ms / 1000.0;
        sample.current = board_ != nullptr ? board_->observe().supply_current : 0.0;
        for (std::size_t o = 0; o < t->levels.size() && o < sample.shares.size(); ++o)
            if (program && o < program->outputs.size()) sample.shares[o] = static_cast<float>(routine::shareOf(program->outputs[o], t->levels[o]));
        telemetry_.push_back(sample);
        if (telemetry_.size() > 2'000'000) telemetry_.erase(telemetry_.begin(), telemetry_.begin() + 1'000'000);
    } else if (const auto* hello = std::get_if<link::Hello>(&message)) {
        hello_ = true;
        const auto& sketch = document_->model().sketch;
        if (sketch && hello->plan != "interpreted" && sketch->text.find("from plan " + hello->plan + ",") == std::string::npos)
            note_ = tr("The board runs another plan (%1). Upload this one before you trust the numbers.").arg(text(hello->plan));
        send(link::Stream{true});
        send(link::TellStates{true});
    } else if (const auto* p = std::get_if<link::ParameterLine>(&message)) {
        bool known = false;
        for (auto& mine : parameters_)
            if (mine.name == p->name) mine = *p, known = true;
        if (!known) parameters_.push_back(*p);
    } else if (const auto* name = std::get_if<link::NameLine>(&message)) {
        auto* list = name->what == "input" ? &inputs_ : name->what == "cue" ? &cues_ : nullptr;
        if (list != nullptr && name->index == static_cast<int>(list->size())) list->push_back(text(name->name));
    } else if (std::holds_alternative<link::End>(message)) {
        ++answers_;
        Q_EMIT reshaped();
    } else if (const auto* done = std::get_if<link::Done>(&message)) {
        ++answers_;
        const QStringList parts = text(done->text).split(' ');
        for (auto& mine : parameters_)
            if (parts.size() == 2 && parts[0] == text(mine.name)) {
                mine.value = parts[1].toInt();
                Q_EMIT confirmed(parts[0], mine.value);
            }
    } else if (const auto* refused = std::get_if<link::Refused>(&message)) {
        ++answers_;
        note_ = tr("The board refuses: %1.").arg(text(refused->text));
    } else if (const auto* told = std::get_if<link::Told>(&message)) {
        doing_ = text(told->text);
    }
}

int LinkSession::outputOf(const QString& channel) const {
    const auto& program = document_->model().plan.program;
    for (std::size_t o = 0; program && o < program->outputs.size(); ++o)
        if (text(program->outputs[o].id) == channel) return static_cast<int>(o);
    return -1;
}

void LinkSession::keepRun(const QString& channel) {
    const auto output = static_cast<std::size_t>(std::clamp(outputOf(channel), 0, 15));
    auto project = document_->model().project;
    std::vector<std::string> taken;
    for (const auto& entry : project.journal.entries) taken.push_back(entry.id);
    journal::Entry entry;
    entry.id = project::freshId("run", taken);
    entry.date = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm").toStdString();
    entry.kind = journal::EntryKind::Run;
    entry.channel = channel.toStdString();
    double on = 0.0, from = -1.0, peak = 0.0;
    for (const auto& sample : telemetry_) {
        peak = std::max(peak, sample.current);
        if (sample.shares[output] > 0.0F && from < 0.0) from = sample.time;
        if (sample.shares[output] <= 0.0F && from >= 0.0) on += sample.time - from, from = -1.0;
    }
    entry.text = "Run on " + (board_ != nullptr ? board_->what().toStdString() : std::string{"the board"}) + ": on for " + display(Kind::Duration, on);
    if (board_ != nullptr) entry.text += ", poured " + display(Kind::Volume, board_->observe().poured) + ", peak " + display(Kind::Current, peak);
    for (const auto& p : parameters_) entry.settings += (entry.settings.empty() ? "" : ", ") + p.name + " " + std::to_string(p.value) + " " + p.unit;
    project.journal.entries.push_back(std::move(entry));
    document_->replace(std::move(project));
    note_ = tr("The run is in the log.");
}

}  // namespace hinge::app
