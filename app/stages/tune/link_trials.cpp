// Steps that are given over the link, and what is kept of them.
#include <QDateTime>
#include <QFileInfo>
#include <QStandardPaths>
#include <cmath>
#include "quantity/text.hpp"
#include "stages/tune/link_session.hpp"

namespace hinge::app {

std::string LinkSession::trialFolder() const {
    if (!trialsElsewhere_.empty()) return trialsElsewhere_;
    if (!document_->folder().isEmpty() && QFileInfo(document_->folder()).isWritable()) return document_->folder().toStdString();
    return (QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved").toStdString();
}

void LinkSession::startStep(const QString& id, double length, int open) {
    const auto& model = document_->model();
    if (!connected() || foreign_ || recording() || !model.plan.program) return;
    const auto& project = model.project;
    const auto loop = std::find_if(project.routine.loops.begin(), project.routine.loops.end(),
                                   [&](const routine::Loop& each) { return text(each.id) == id; });
    if (loop == project.routine.loops.end()) return;
    const auto signal = signalOf(loop->input);
    trialOutput_ = outputOf(text(loop->channel));
    if (!signal || trialOutput_ < 0) {
        note_ = tr("Nothing has come over the link yet: wait for the first samples, then try again.");
        Q_EMIT reshaped();
        return;
    }
    trialSignal_ = *signal;
    const auto name = [&](const char* which) { return text(routine::symbol(loop->id)) + "_" + which; };
    period_ = value(name("period")).value_or(20) * 1e-3;
    wanted_ = value(name("wanted")).value_or(static_cast<int>(std::lround(si(loop->wanted))));
    rolls_ = model.plan.program->outputs[static_cast<std::size_t>(trialOutput_)].kind == routine::OutputKind::Stepper;
    trialLength_ = length;
    open_ = rolls_ ? -1 : open;
    trial_ = {};
    trial_.id = store::nextTrial(trialFolder());
    trial_.date = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss").toStdString();
    trial_.channel = loop->channel;
    trial_.loop = loop->id;
    if (open_ >= 0) trial_.kind = "open";
    trial_.on = board_ != nullptr && board_->port().endsWith(port_.portName()) ? board_->what().toStdString()
                                                                               : "a board on " + port_.portName().toStdString();
    if (model.sketch) trial_.plan = firmware::planMark(*model.sketch);
    const std::string own = routine::symbol(loop->id) + "_";
    for (const auto& p : parameters_)
        if (p.name.rfind(own, 0) == 0) trial_.settings.push_back({p.name, p.value, p.unit});
    // From rest: the channel is let go and given time, then held by its loop. Two wheels of one body go together.
    phase_ = Phase::Settling;
    phaseFrom_ = last_.time_ms * 1e-3;
    lastPlaceTime_ = -1.0;
    for (const auto& each : project.routine.loops)
        if (each.input == loop->input) drive(outputOf(text(each.channel)), rolls_ ? routine::hand_off : 0);
    Q_EMIT reshaped();
}

void LinkSession::beginTrial() {
    auto writer = store::TrialWriter::begin(trialFolder(), trial_);
    // Another window may have taken that number meanwhile.
    for (int turn = 0; turn < 10 && !writer && writer.error().code == ErrorCode::Conflict; ++turn) {
        trial_.id = store::nextTrial(trialFolder());
        writer = store::TrialWriter::begin(trialFolder(), trial_);
    }
    if (writer) writer_.emplace(std::move(*writer));
    else note_ = tr("This trial cannot be kept: %1").arg(words(writer.error()));
    phase_ = Phase::Before;
    nextRow_ = 0.0;
    shoved_ = false;
    astray_ = 0;
}

// Every channel whose loop reads the same input: two wheels of one body.
void LinkSession::stopTrial() {
    if (phase_ == Phase::Idle) return;
    const bool kept = phase_ == Phase::Running || phase_ == Phase::Before;
    phase_ = Phase::Idle;
    writer_.reset();
    // What balances stays held: it would fall. All else comes to rest.
    if (!rolls_) letGo(trialOutput_);
    if (kept) Q_EMIT trialEnded(text(trial_.id));
    Q_EMIT reshaped();
}

}  // namespace hinge::app
