#include "stages/tune/link_session.hpp"
#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>
#include <cmath>
#include "emulator/gadget.hpp"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "quantity/text.hpp"
#include "routine/machine.hpp"
#include "simulation/happen.hpp"
#include "simulation/interpreted_board.hpp"

namespace hinge::app {

LinkSession::LinkSession(Document* document, QObject* parent) : QObject(parent), document_(document), runs_(document) {
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
        for (const auto& [output, hand] : hands_)
            if (!hand.place && connected()) port_.write(line(link::Drive{output, hand.value, hand.ms}));
    });
    watch_.start();
    // A board that lists without end is shown ten times a second, not each time.
    reshape_.setSingleShot(true);
    reshape_.setInterval(100);
    connect(&reshape_, &QTimer::timeout, this, &LinkSession::reshaped);
    port_.setReadBufferSize(16 * most_at_once);
    poll_.setInterval(30);
    connect(&poll_, &QTimer::timeout, this, &LinkSession::collect);
}

LinkSession::~LinkSession() {
    cancel_ = true;
    if (building_.valid()) building_.wait();
    port_.disconnect(this);
    runs_.end();
    if (port_.isOpen()) port_.close();
}

QString LinkSession::status() const {
    if (building_.valid()) return tr("The sketch is compiled for the stand-in…");
    if (!port_.isOpen()) return note_.isEmpty() ? tr("Nothing yet.") : note_;
    if (!hello_)
        return tr("%1 is open; nothing has answered yet. Is the sketch uploaded, and the rate %2?").arg(port_.portName()).arg(link::baud);
    QString running =
        board_ != nullptr && board_->port().endsWith(port_.portName()) ? board_->what() : tr("a board on %1").arg(port_.portName());
    running += tr("\n%1 samples, %2 lost").arg(telemetry_.size()).arg(decoder_.lost());
    if (misfits_ > 0) running += tr("\n%1 more had another width than this sketch's: another sketch, or another rate?").arg(misfits_);
    const auto& program = document_->model().plan.program;
    const bool timed = program && std::any_of(program->cues.begin(), program->cues.end(),
                                              [](const routine::ProgramCue& cue) { return !cue.times_of_day.empty(); });
    if (timed || last_.clock_set)
        running += last_.clock_set
                       ? tr("\nIts clock: %1").arg(QTime::fromMSecsSinceStartOfDay(static_cast<int>(last_.clock_ms)).toString("HH:mm:ss"))
                       : tr("\nThe time is lost until you set it.");
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
    runs_.end();
    if (port_.isOpen()) port_.close();
    hello_ = false;
    board_.reset();
    const auto& model = document_->model();
    const auto stays = [this](const QString& why) {
        note_ = why;
        Q_EMIT reshaped();
    };
    if (!model.plan.program)
        return stays(tr("The stand-in waits for a complete routine: %1")
                         .arg(model.plan.program_error ? words(*model.plan.program_error) : QString()));
    note_.clear();
    if (building_.valid()) {  // the newest plan counts: collect() starts it when this one has ended
        cancel_ = again_ = true;
        return;
    }
    cancel_ = again_ = false;
    building_ =
        std::async(std::launch::async, [project = model.project, parts = model.parts, plan = model.plan, cancel = &cancel_]() -> Made {
            const bool linked = board::family(project.board.form).link;
            if (auto board = linked ? emulator::startGadget(project, parts, plan, emulator::usualCache(), cancel)
                                    : Result<std::unique_ptr<emulator::EmulatedBoard>>{nullptr};
                board && *board) {
                (*board)->keepEdges(4096);
                return {std::move(*board), {}};
            } else if (!board && board.error().code == ErrorCode::Cancelled) {
                return {nullptr, tr("Stopped; nothing was started.")};
            }
            auto plants = plan::plantsOf(project, parts, plan);
            if (!plants) return {nullptr, words(plants.error())};
            return {std::make_unique<simulation::InterpretedBoard>(*plan.program, std::move(*plants), project.brief.name, "interpreted"),
                    linked
                        ? QString()
                        : tr("This chip has no link: the interpreter of the routine stands in for it. What you find here is put into the "
                             "project, and goes into the next sketch.")};
        });
    poll_.start();
    Q_EMIT reshaped();
}

void LinkSession::collect() {
    if (!building_.valid() || building_.wait_for(std::chrono::seconds(0)) != std::future_status::ready) return;
    poll_.stop();
    auto made = building_.get();
    if (again_) return startStandIn();
    if (made.board != nullptr) fitBoard(std::move(made.board));
    if (!made.problem.isEmpty()) note_ = made.problem;
    Q_EMIT reshaped();
}

void LinkSession::fitBoard(std::unique_ptr<plant::StandIn> stand_in) {
    const auto& model = document_->model();
    auto machines = plan::machinesOf(model.project, model.parts, model.plan).couplings;
    if (variation_ != 0)
        for (std::size_t m = 0; m < machines.size(); ++m) machines[m] = plant::varied(std::move(machines[m]), variation_ + m);
    stand_in->fit(plant::Bench{std::move(machines), variation_ + 1});
    board_ = std::make_unique<LiveBoard>(std::move(stand_in));
    if (board_->port().isEmpty()) {
        note_ = tr("No pseudo-terminal could be had on this machine.");
        return Q_EMIT reshaped();
    }
    board_->start();
    connectTo(board_->port());
}

void LinkSession::connectTo(const QString& name) {
    note_.clear();
    runs_.end();
    if (port_.isOpen()) port_.close();
    hello_ = false;
    greeted_.invalidate();
    decoder_ = {};
    parameters_.clear();
    inputs_.clear();
    cues_.clear();
    telemetry_.clear(0);
    foreign_ = false;
    misfits_ = 0;
    hands_.clear();
    phase_ = Phase::Idle;
    writer_.reset();
    last_ = {};
    doing_.clear();
    port_.setPortName(name);
    port_.setBaudRate(link::baud);
    if (!port_.open(QIODevice::ReadWrite)) {
        note_ = tr("%1 cannot be opened: %2. Check the cable, that you may use it, and that no other window has it.")
                    .arg(name, port_.errorString());
        Q_EMIT reshaped();
        return;
    }
    send(link::SayHello{});
    send(link::AskList{});
    // A board that resets when its port opens needs a moment; ask again until it answers.
    for (const int after : {1500, 3000})
        QTimer::singleShot(after, this, [this] {
            if (port_.isOpen() && !hello_) send(link::SayHello{}), send(link::AskList{});
        });
    Q_EMIT reshaped();
}

QByteArray LinkSession::line(const link::Command& command) const {
    const auto& program = document_->model().plan.program;
    return QByteArray::fromStdString(link::encode(program ? simulation::withItsWord(*program, command) : command) + "\n");
}

void LinkSession::send(const link::Command& command) {
    if (!port_.isOpen()) return;
    const bool moves = std::holds_alternative<link::StartCue>(command) || std::holds_alternative<link::Drive>(command) ||
                       std::holds_alternative<link::SetParameter>(command) || std::holds_alternative<link::SayWord>(command) ||
                       std::holds_alternative<link::SendNumber>(command) || std::holds_alternative<link::Save>(command);
    if (foreign_ && moves) {
        note_ = tr("The sketch on this port belongs to another gadget: nothing is sent to it but stop. Upload this one.");
        Q_EMIT reshaped();
        return;
    }
    if (std::holds_alternative<link::Stop>(command)) {
        hands_.clear();
        if (recording()) stopTrial();
    }
    const QByteArray said = line(command);
    port_.write(said);
    // Silence is said: a lost command must not look like a pump that chose not to run.
    const int before = answers_;
    if (hello_)
        QTimer::singleShot(2000, this, [this, before, said] {
            if (!port_.isOpen() || answers_ != before) return;
            note_ = tr("The board has not answered “%1”. Try again; if it stays silent, check the cable and the power.")
                        .arg(QString::fromUtf8(said).trimmed());
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
    runs_.end();
    if (!port_.isOpen()) return;
    note_ = tr("The port has gone. What was drawn stays; connect again when it is back.");
    hello_ = false;
    hands_.clear();
    if (recording()) stopTrial();
    port_.close();
    Q_EMIT reshaped();
}

void LinkSession::drive(int output, int value, int ms) {
    const auto& program = document_->model().plan.program;
    if (!program || output < 0 || static_cast<std::size_t>(output) >= program->outputs.size()) return;
    const bool looped =
        std::any_of(program->loops.begin(), program->loops.end(), [&](const routine::ProgramLoop& loop) { return loop.output == output; });
    hands_[output] = {value, ms, program->outputs[static_cast<std::size_t>(output)].kind != routine::OutputKind::Switched && !looped};
    send(link::Drive{output, value, ms});
}

void LinkSession::letGo(int output) {
    if (hands_.erase(output) != 0) send(link::Drive{output, routine::hand_off, 1});
}

void LinkSession::letGoAll() {
    while (!hands_.empty()) letGo(hands_.begin()->first);
}

std::optional<std::size_t> LinkSession::signalOf(const std::string& input) const {
    const auto& program = document_->model().plan.program;
    if (!program) return std::nullopt;
    std::size_t at = program->outputs.size();
    for (const auto& each : program->inputs) {
        if (!routine::isMeasured(each)) continue;
        if (each.id == input) return at < telemetry_.signals() ? std::optional(at) : std::nullopt;
        ++at;
    }
    return std::nullopt;
}

std::optional<plant::Seen> LinkSession::machineOf(int output) const {
    if (board_ == nullptr) return std::nullopt;
    for (const auto& seen : board_->observe().machines)
        if (seen.output == output) return seen;
    return std::nullopt;
}

void LinkSession::holdAll() {
    const auto& loops = document_->model().project.routine.loops;
    const auto mine = std::find_if(loops.begin(), loops.end(), [&](const routine::Loop& each) { return each.id == trial_.loop; });
    for (const auto& each : loops)
        if (mine != loops.end() && each.input == mine->input) drive(outputOf(text(each.channel)), routine::hand_own);
}

// The trial's own clock runs in the board's time.
void LinkSession::follow(const link::Telemetry& t) {
    const double now = t.time_ms * 1e-3;
    const auto o = static_cast<std::size_t>(trialOutput_);
    const auto latest = telemetry_.size() - 1;
    const double reading = telemetry_.value(trialSignal_, latest);
    if (now < phaseFrom_) return stopTrial();  // the board has started anew
    if (phase_ == Phase::Settling) {
        // At rest when the reading has not moved for a while, or after six seconds.
        const auto from = telemetry_.from(now - 0.4);
        const auto [least, greatest] = telemetry_.signal(trialSignal_).over(std::min(from, latest), latest + 1);
        if ((now - phaseFrom_ > 0.8 && greatest - least <= 1.0F && (rolls_ || t.levels[o] == 0)) || now - phaseFrom_ > 6.0) {
            phaseFrom_ = now;
            beginTrial();
        }
        return;
    }
    double drive = telemetry_.value(o, latest);
    if (rolls_ && phase_ == Phase::Before) {
        // Set up again and held at once; the trial begins here, and half way through it is shoved.
        phase_ = Phase::Running;
        phaseFrom_ = now;
        if (board_ != nullptr) board_->disturb(trialOutput_, 0.0);
        holdAll();
        return;
    }
    if (rolls_) {
        const double place = t.levels[o];
        if (lastPlaceTime_ >= 0.0 && now - lastPlaceTime_ < period_ * 0.999) return;
        drive = lastPlaceTime_ >= 0.0 && now > lastPlaceTime_ ? (place - lastPlace_) / (now - lastPlaceTime_) : 0.0;
        lastPlace_ = place;
        lastPlaceTime_ = now;
    }
    const double since = now - phaseFrom_, before = std::max(0.2, 4.0 * period_);
    if (since + 1e-9 >= nextRow_) {
        nextRow_ += period_;
        const auto seen = machineOf(trialOutput_);
        const bool held = phase_ == Phase::Running || rolls_;
        const journal::TrialRow row{since, !held ? 0.0 : open_ >= 0 ? open_ * 1e-3 : wanted_, reading, drive, seen ? seen->value : 0.0};
        trial_.rows.push_back(row);
        if (writer_)
            if (const auto kept = writer_->add(row); !kept) {
                note_ = tr("The rest of this trial is not kept: %1").arg(words(kept.error()));
                writer_.reset();
            }
    }
    // What runs away is stopped, not watched.
    const bool far =
        rolls_ ? std::abs(reading - wanted_) > 400.0
               : open_ < 0 && reading > wanted_ + std::max(5.0, 0.3 * std::abs(wanted_)) && drive > 0.95;  // far beyond, and still pushed
    if (phase_ == Phase::Running) astray_ = far ? astray_ + 1 : 0;
    if (astray_ * period_ > std::max(0.25, 4.0 * period_)) {
        send(link::Stop{});
        note_ = rolls_ ? tr("It fell: its motors are off. Set it up, and try more P and more I.")
                       : tr("It ran away: far beyond what was asked for, so everything was made safe. Less P and I; if it goes the wrong "
                            "way from the start, sensor or motor is wired the other way round.");
        Q_EMIT reshaped();
        return;
    }
    if (phase_ == Phase::Before && since >= before) {
        phase_ = Phase::Running;
        if (open_ >= 0) this->drive(trialOutput_, open_);
        else holdAll();
    }
    if (rolls_ && !shoved_ && board_ != nullptr && since >= trialLength_ / 2.0) {
        shoved_ = true;
        board_->disturb(trialOutput_, shove);
    }
    if (phase_ == Phase::Running && since >= (rolls_ ? 0.0 : before) + trialLength_) stopTrial();
}

void LinkSession::readPort() {
    // A little at a time: what floods the port must not keep stop from being heard.
    const QByteArray bytes = port_.read(most_at_once);
    if (port_.bytesAvailable() > 0) QTimer::singleShot(0, this, &LinkSession::readPort);
    for (auto& message : decoder_.feed({bytes.constData(), static_cast<std::size_t>(bytes.size())})) take(std::move(message));
}

void LinkSession::take(link::Message message) {
    if (const auto* t = std::get_if<link::Telemetry>(&message)) {
        const auto& program = document_->model().plan.program;
        last_ = *t;
        const std::size_t expected = program ? routine::frameValues(*program, link::most_values) : t->levels.size();
        if (t->levels.size() != expected) {
            ++misfits_;
            return;
        }
        if (telemetry_.signals() != expected + 1) telemetry_.clear(expected + 1);
        std::vector<float> values(expected + 1, 0.0F);
        for (std::size_t o = 0; o < expected; ++o)
            values[o] = program && o < program->outputs.size() ? static_cast<float>(routine::shareOf(program->outputs[o], t->levels[o]))
                                                               : static_cast<float>(t->levels[o]);
        if (board_ != nullptr) {
            const auto seen = board_->observe();
            values.back() = static_cast<float>(seen.supply_current);
        }
        telemetry_.add(t->time_ms, values);
        if (board_ == nullptr && hello_ && !foreign_) {
            runs_.take(*t);
            if (const QString trouble = runs_.takeTrouble(); !trouble.isEmpty()) note_ = trouble;
        }
        if (recording()) follow(*t);
    } else if (const auto* hello = std::get_if<link::Hello>(&message)) {
        hello_ = true;
        const auto& sketch = document_->model().sketch;
        const bool other_version = hello->version != link::version;
        foreign_ = other_version || hello->gadget != link::spoken(document_->model().project.brief.name);
        if (other_version)
            note_ =
                tr("The board speaks version %1 of the link, this window version %2: what one means the other may take for something else. "
                   "It can be looked at and stopped; nothing else is sent. Upload this gadget's sketch anew.")
                    .arg(hello->version)
                    .arg(link::version);
        else if (foreign_)
            note_ = tr("“%1” is on this port, not this gadget. It can be looked at and stopped; nothing else is sent.")
                        .arg(text(hello->gadget));
        else if (sketch && hello->plan != "interpreted" && sketch->text.find("from plan " + hello->plan + ",") == std::string::npos)
            note_ = tr("The board runs another plan (%1). Upload this one before you trust the numbers.").arg(text(hello->plan));
        // One that says hello without end is answered once a second.
        if (!greeted_.isValid() || greeted_.hasExpired(1000)) {
            greeted_.start();
            send(link::Stream{true});
            send(link::TellStates{true});
        }
    } else if (const auto* p = std::get_if<link::ParameterLine>(&message)) {
        bool known = false;
        for (auto& mine : parameters_)
            if (mine.name == p->name) mine = *p, known = true;
        if (!known && parameters_.size() < most_listed) parameters_.push_back(*p);
    } else if (const auto* name = std::get_if<link::NameLine>(&message)) {
        auto* list = name->what == "input" ? &inputs_ : name->what == "cue" ? &cues_ : nullptr;
        if (list != nullptr && name->index == static_cast<int>(list->size()) && list->size() < most_listed)
            list->push_back(text(name->name));
    } else if (std::holds_alternative<link::End>(message)) {
        ++answers_;
        if (!reshape_.isActive()) reshape_.start();
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
    return plan::outputOf(document_->model().project, document_->model().plan, channel.toStdString());
}

void LinkSession::keepRun(const QString& channel) {
    const auto output = static_cast<std::size_t>(std::clamp(outputOf(channel), 0, 15));
    auto project = document_->model().project;
    auto entry = project::newEntry(project, "run", journal::EntryKind::Run, channel.toStdString(), nowText());
    double on = 0.0, from = -1.0, peak = 0.0;
    for (std::size_t i = 0; i < telemetry_.size() && output < telemetry_.signals(); ++i) {
        peak = std::max(peak, static_cast<double>(telemetry_.value(currentSignal(), i)));
        const bool runs = telemetry_.value(output, i) > 0.0F;
        if (runs && from < 0.0) from = telemetry_.time(i);
        if (!runs && from >= 0.0) on += telemetry_.time(i) - from, from = -1.0;
    }
    entry.text = "Run on " + (board_ != nullptr ? board_->what().toStdString() : std::string{"the board"}) + ": on for " +
                 display(Kind::Duration, on);
    if (board_ != nullptr)
        entry.text += ", poured " + display(Kind::Volume, board_->observe().poured) + ", peak " + display(Kind::Current, peak);
    entry.settings = joined(parameters_, ", ", [&](const auto& p) { return p.name + " " + std::to_string(p.value) + " " + p.unit; });
    project.journal.entries.push_back(std::move(entry));
    document_->replace(std::move(project));
    note_ = tr("The run is in the log.");
}

}  // namespace hinge::app
