#include "stages/prove/link_reader.hpp"
#include <QStringList>
#include <algorithm>
#include <bit>
#include "proof/link_reading.hpp"
#include "quantity/text.hpp"

namespace hinge::app {
namespace {

constexpr int look_every = 20;     // ms
constexpr int silence_most = 100;  // looks

}  // namespace

LinkReader::LinkReader(Document* document, LinkSession* session, QObject* parent)
    : QObject(parent), document_(document), session_(session) {
    watch_.setInterval(look_every);
    connect(&watch_, &QTimer::timeout, this, &LinkReader::look);
}

double LinkReader::boardTime() const {
    const auto& all = session_->telemetry();
    return all.empty() ? 0.0 : all.time(all.size() - 1);
}

QString LinkReader::begin(const proof::Step& step) {
    cancel();
    if (!session_->connected()) return tr("No board answers yet. Connect it in Tune, or start the stand-in there; then take the reading.");
    if (session_->foreign())
        return tr("The sketch on this board belongs to another gadget, so nothing is moved. Upload this gadget's sketch first.");
    if (session_->telemetry().empty()) return tr("The board has not sent anything yet. Wait a second and try again.");
    step_ = step;
    from_ = boardTime();
    heard_ = session_->telemetry().size();
    first_ = heard_ - 1;
    high_ = low_ = 0;
    silent_ = 0;
    watched_.clear();
    held_ = false;
    const QString channel = text(step.channel);
    output_ = session_->outputOf(channel);
    switch (step.over_link) {
        case proof::OverLink::None: return tr("The link cannot read this; take the instrument that the step names.");
        case proof::OverLink::Frames: doing_ = tr("Counting frames for a second of the board's time."); break;
        case proof::OverLink::Inputs: {
            const auto& program = document_->model().plan.program;
            if (!program) return tr("The routine is not complete, so the link knows no inputs yet.");
            // A frame has one bit for each of the first eight.
            for (std::size_t i = 0; i < program->inputs.size() && i < 8; ++i) {
                const auto* input = project::findInput(document_->model().project, program->inputs[i].id);
                if (input != nullptr && project::hasPin(input->kind) && !project::isAnalogue(input->kind) &&
                    input->kind != project::InputKind::Tach)
                    watched_.push_back(i);
            }
            doing_ = tr("Press and let go each of them now.");
            break;
        }
        case proof::OverLink::Held:
            if (output_ < 0 || !session_->signalOf(step.link_input))
                return tr("The board's sketch does not send this reading: upload this gadget's sketch first.");
            session_->drive(output_, routine::hand_own);
            held_ = true;
            doing_ = tr("It runs, held by its loop; wait until it is steady.");
            break;
        case proof::OverLink::OnTime: {
            const auto& program = document_->model().plan.program;
            int cue = -1;
            if (program && output_ >= 0)
                for (std::size_t k = 0; k < program->cues.size() && cue < 0; ++k)
                    for (const auto& each : document_->model().project.routine.cues)
                        if (each.id == program->cues[k].id &&
                            std::any_of(each.moves.begin(), each.moves.end(),
                                        [&](const routine::Move& move) { return move.channel == step.channel; }))
                            cue = static_cast<int>(k);
            if (cue < 0) return tr("No cue runs it, so the link cannot start it.");
            session_->send(link::StartCue{cue});
            doing_ = tr("Its cue is started; the link times it.");
            break;
        }
    }
    watch_.start();
    Q_EMIT progressed();
    return {};
}

void LinkReader::end() {
    watch_.stop();
    if (held_ && output_ >= 0) session_->letGo(output_);
    held_ = false;
    doing_.clear();
}

void LinkReader::cancel() {
    if (!busy()) return;
    end();
    Q_EMIT progressed();
}

void LinkReader::look() {
    const auto give_up = [&](const QString& why) {
        end();
        Q_EMIT gaveUp(why);
    };
    const auto take = [&](const QString& reading) {
        end();
        Q_EMIT took(reading);
    };
    if (!session_->connected())
        return give_up(tr("The link broke off while it was read. Plug it in again, connect in Tune, and take the reading anew."));
    const auto& all = session_->telemetry();
    silent_ = all.size() == heard_ ? silent_ + 1 : 0;
    heard_ = all.size();
    if (silent_ > silence_most)
        return give_up(tr("Nothing has come over the link for two seconds. Look at the board and its plug, and take the reading anew."));
    if (all.empty() || boardTime() < from_)
        return give_up(tr("The board has started anew while it was read: a reset. Find out why before you go on."));
    const double since = boardTime() - from_;
    switch (step_.over_link) {
        case proof::OverLink::Frames:
            if (since >= step_.link_time)
                if (const auto rate = proof::framesASecond(all, first_)) take(text(significant(*rate, 4)));
            return;
        case proof::OverLink::Inputs: {
            for (const std::size_t i : watched_) (session_->last().inputs >> i & 1u ? high_ : low_) |= 1u << i;
            const int both = std::popcount(high_ & low_);
            if (both == static_cast<int>(watched_.size()) || since >= step_.link_time) return take(QString::number(both));
            QStringList open;
            for (const std::size_t i : watched_)
                if ((high_ & low_ & 1u << i) == 0 && i < session_->inputs().size()) open << session_->inputs()[i];
            doing_ = tr("Not seen yet: %1.").arg(open.join(", "));
            Q_EMIT progressed();
            return;
        }
        case proof::OverLink::Held: {
            if (since < step_.link_time) return;
            return take(QString::number(proof::countsOfLast(all, *session_->signalOf(step_.link_input), 1.0)));
        }
        case proof::OverLink::OnTime: {
            const auto read = proof::firstOnTime(all, static_cast<std::size_t>(output_), first_);
            if (read.lasted) return take(text(display(Kind::Duration, *read.lasted, 4)));
            if (since > step_.link_time)
                give_up(!read.began ? tr("It did not start: a guard forbids it, or the board is stopped. Look at its inputs, and take the "
                                         "reading anew.")
                                    : tr("It runs longer than the step allows. Switch it off, and look at its time in Routine."));
            return;
        }
        case proof::OverLink::None: return;
    }
}

}  // namespace hinge::app
