#include <algorithm>
#include <cmath>
#include "control/step_fit.hpp"
#include "control/tuning_rules.hpp"
#include "quantity/text.hpp"
#include "stages/tune/tune_page.hpp"
#include "theme/text.hpp"

// The ways to gains: by search, led step by step, by a relay, by a step.
namespace hinge::app {
void TunePage::search(control::Cost cost) {
    if (searching_.valid()) return;
    control::SearchAsk ask;
    if (practising()) {
        const auto& exercise = control::exercises()[static_cast<std::size_t>(exercise_)];
        ask = {exercise.setup, exercise.target, cost};
        ask.setup.pid.gains = tried_;
        ask.variation = 0;
    } else if (case_ && draft_) {
        ask = {case_->setup, case_->target, cost};
        ask.setup.pid = plan::pidOf(*draft_, case_->setup.rolls);
    } else {
        return;
    }
    cancel_ = false;
    ask.cancel = &cancel_;
    searching_ = std::async(std::launch::async, [ask] { return control::searchGains(ask); });
    poll_.start();
    built_.clear();
    build();
}

void TunePage::settle() {
    if (searching_.valid()) searching_.wait(), collect();
    if (refresh_.isActive()) refresh_.stop(), refresh();
}

void TunePage::collect() {
    poll_.stop();
    const auto found = searching_.get();
    if (!found) {
        said_ = found.error().code == ErrorCode::Cancelled ? tr("The search was stopped; the gains are as they were.")
                                                           : tr("The search found nothing: %1").arg(words(found.error()));
        Q_EMIT document_->said(said_);
    } else {
        if (practising()) {
            const auto g = found->pid.gains;
            takeGain('P', g.proportional), takeGain('I', g.integral), takeGain('D', g.derivative);
            hints_ = 8;  // found for you: it does not count
        } else if (draft_ && case_) {
            auto moved = *draft_;
            plan::takeGains(moved, found->pid.gains, case_->setup.rolls);
            takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', si(moved.derivative));
        }
        said_ = tr("%1 runs of the model: its cost fell from %2 to %3, also for two machines that are a little off. Try the gains on the "
                   "board.")
                    .arg(found->trials)
                    .arg(found->before >= 1e5 ? tr("hopeless") : number(found->before), number(found->cost));
        Q_EMIT document_->said(said_);
    }
    built_.clear();
    build();
    refresh();
}

// One step in the maker's order, from what the model or the last trial showed.
void TunePage::lead() {
    if (!case_ || !draft_) return;
    auto setup = case_->setup;
    setup.pid = plan::pidOf(*draft_, setup.rolls);
    std::optional<control::Response> seen;
    for (const auto& trial : trials_)
        if (text(trial.id) == now_) seen = control::readResponse(rowsOf(trial), case_->target, setup.pid.least, setup.pid.most);
    if (!seen) seen = control::readResponse(control::runLoop(setup).rows, case_->target, setup.pid.least, setup.pid.most);
    if (setup.pid.gains == control::ParallelGains{}) guide_ = control::GuideStep::RaiseP, seen.reset();
    const double first = 0.1 * setup.pid.most / std::max(1.0, std::abs(setup.wanted - setup.before));
    const auto next = control::guide(guide_, setup.pid.gains, seen, case_->target, first, setup.pid.period);
    guide_ = next.step;
    auto moved = *draft_;
    plan::takeGains(moved, next.next, setup.rolls);
    takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', si(moved.derivative));
    said_ = text(next.words);
    tell();
}

// The relay experiment on the model, and the rule that it leads to.
void TunePage::runRelay() {
    if (!case_ || !draft_ || case_->setup.rolls) return;
    auto setup = case_->setup;
    setup.before = setup.wanted;
    setup.length = 20.0 * std::max(case_->target.settle_within, 10.0 * setup.pid.period);
    const double middle = (setup.pid.least + setup.pid.most) / 2.0, swing = (setup.pid.most - setup.pid.least) / 2.0;
    const auto reading = control::readRelay(control::runRelay(setup, middle, swing, 0.5).rows);
    if (!reading) {
        said_ = tr("The relay did not make it swing four times: its wanted reading cannot be reached, or its period is too long.");
    } else {
        control::RelayTune in;
        in.output_amplitude = of<Ratio>(swing), in.response_amplitude = of<Ratio>(std::max(0.5, reading->amplitude)),
        in.period = of<Duration>(reading->period);
        in.controller = control::Controller::Pi, in.rule = control::RelayRule::TyreusLuyben;
        if (const auto tuned = control::relayTune(in)) {
            takePi(si(tuned->result.kp), si(tuned->result.ki));
            said_ = tr("Relay: swings of %1 counts every %2; its ultimate gain is %3. PI by Tyreus and Luyben.")
                        .arg(number(reading->amplitude), text(display(Kind::Duration, reading->period, 2)),
                             number(si(tuned->result.ultimate_gain)));
        }
    }
    tell();
}

// P and I by a rule, no D.
void TunePage::takePi(double proportional, double integral) {
    auto moved = *draft_;
    plan::takeGains(moved, {proportional, integral, 0.0}, false);
    takeGain('P', si(moved.proportional)), takeGain('I', si(moved.integral)), takeGain('D', 0.0);
}

void TunePage::tell() {
    Q_EMIT document_->said(said_);
    built_.clear();
    build();
}

// First order with dead time through an open step, and the rule that it leads to: on the board when there is one, on the model otherwise.
void TunePage::fitStep() {
    if (!case_ || !draft_ || case_->setup.rolls) return;
    const double share = 0.5 * case_->setup.pid.most;
    if (session_.connected() && !session_.foreign()) {
        session_.startStep(text(draft_->id), 6.0 * case_->target.settle_within, static_cast<int>(std::lround(share * 1000.0)));
        return;
    }
    auto setup = case_->setup;
    setup.length = setup.step_at + 6.0 * case_->target.settle_within;
    bool on = false;
    journal::Trial trial;
    const auto run = control::runLoop(setup, [&](double wanted, double, double) {
        on = on || wanted != setup.before;
        return on ? share : 0.0;
    });
    for (const auto& row : run.rows) trial.rows.push_back({row.time, row.drive, row.reading, row.drive, row.value});
    fitOpen(trial);
}

void TunePage::fitOpen(const journal::Trial& trial) {
    if (!case_ || !draft_) return;
    std::vector<control::StepRow> rows;
    for (const auto& row : trial.rows) rows.push_back({row.time, row.wanted, row.reading});
    const auto fit = control::fitStep(rows);
    if (!fit) {
        said_ = words(fit.error());
    } else {
        control::PidRule in;
        in.gain = fit->result.gain, in.time_constant = fit->result.time_constant;
        in.dead_time = of<Duration>(std::max(si(fit->result.dead_time), case_->setup.pid.period / 2.0));
        in.controller = control::Controller::Pi, in.rule = control::StepRule::Simc;
        const auto tuned = si(in.gain) != 0.0 ? std::optional(control::pidRule(in)) : std::nullopt;
        if (tuned && *tuned) {
            takePi(si((*tuned)->result.kp), si((*tuned)->result.ki));
            said_ = tr("Step: K %1 counts, T %2, L %3 (half a period at least); fit %4. PI by Skogestad's rule.")
                        .arg(number(si(fit->result.gain)), text(display(fit->result.time_constant, 2)), text(display(in.dead_time, 2)),
                             number(si(fit->result.fit)));
        } else {
            said_ = tr("It did not move: nothing can be fitted. Is its sensor wired, and does it have power?");
        }
    }
    tell();
}

}  // namespace hinge::app
