#include "proof/capture_check.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>
#include "plan/apart.hpp"
#include "plan/firmware_model.hpp"
#include "quantity/letters.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"

namespace hinge::proof {
namespace {

bool sameWord(const std::string& a, const std::string& b) {
    return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](char x, char y) { return lowered(x) == lowered(y); });
}

/// Gathers one line's checks.
class Checks {
public:
    Checks(std::vector<CaptureCheck>& out, const capture::SignalMeasure& signal, const project::Channel& channel)
        : out_{out}, signal_{signal}, channel_{channel} {}

    // Holds inside [least, most], tight inside [low, high], else breaks.
    void range(const char* what, Kind kind, double measured, double planned, double least, double most, double low, double high,
               const std::string& advice) {
        CaptureCheck check{signal_.name, channel_.id, what, kind, measured, planned, least, most, Verdict::Holds, ""};
        const double slack = 1e-9 * std::max(std::abs(most), std::abs(least));
        if (measured < least - slack || measured > most + slack) {
            check.verdict = measured < low - slack || measured > high + slack ? Verdict::Breaks : Verdict::Tight;
            check.text = fmt::format("{}: {} is {}, planned is {}. {}", channel_.name, what, display(kind, measured, 4),
                                     display(kind, planned, 4), advice);
        }
        out_.push_back(std::move(check));
    }

private:
    std::vector<CaptureCheck>& out_;
    const capture::SignalMeasure& signal_;
    const project::Channel& channel_;
};

// The steps that one burst of an output may have, by the routine itself: each move from wherever it may stand, and moves that follow one
// another without a rest, which a capture shows as one. A search for the start may end anywhere up to its farthest.
struct Bursts {
    std::set<long> counts;
    long search = 0;
    double peak = 0.0;  // 1/s
};
Bursts burstsOf(const routine::Program& program, std::size_t o) {
    using routine::Operation;
    constexpr std::size_t most = 5000;
    Bursts bursts;
    const auto& output = program.outputs[o];
    const auto number = [&](int parameter) { return program.parameters[static_cast<std::size_t>(parameter)].value; };
    std::set<long> places{output.start};
    for (const auto& cue : program.cues)
        for (const auto& each : cue.instructions)
            if (each.output == static_cast<int>(o) && each.operation == Operation::Go && !each.by) places.insert(number(each.target));
    long farthest = 0;
    for (const long a : places)
        for (const long b : places) farthest = std::max(farthest, std::abs(a - b));
    const auto fast = [&](long way, std::int32_t ticks, bool gentle, bool home) {
        const auto profile = routine::profileOf(output.kind, ticks, gentle, home);
        bursts.peak = std::max(bursts.peak, 1000.0 * static_cast<double>(way) * routine::peakSpeed(profile, ticks));
    };
    for (const auto& cue : program.cues) {
        const auto& list = cue.instructions;
        for (std::size_t from = 0; from < list.size(); ++from) {
            const auto& first = list[from];
            if (first.output != static_cast<int>(o)) continue;
            if (first.operation == Operation::Home) {
                const long way =
                    first.target >= 0 ? number(first.target) : std::abs(static_cast<long>(routine::homingFrom(output)) - output.start);
                bursts.search = std::max(bursts.search, way);
                fast(way, std::max<std::int32_t>(1, number(first.parameter)), false, true);
            }
            if (first.operation != Operation::Go) continue;
            fast(first.by ? number(first.target) : farthest, std::max<std::int32_t>(1, number(first.parameter)), first.gentle, false);
            for (const long start : places) {
                long stands = start, sum = 0;
                std::size_t rounds = 0;
                for (std::size_t k = from; k < list.size() && bursts.counts.size() < most;) {
                    const auto& each = list[k];
                    if (each.operation == Operation::Again && each.back <= static_cast<int>(from) && rounds++ < 400) {
                        k = static_cast<std::size_t>(each.back);
                        continue;
                    }
                    if (each.operation != Operation::Go || each.output != static_cast<int>(o)) break;
                    // One from where it stands is as long wherever that is.
                    sum += each.by ? number(each.target) : std::abs(number(each.target) - stands);
                    if (!each.by) stands = number(each.target);
                    bursts.counts.insert(sum);
                    ++k;
                }
            }
        }
    }
    if (output.rest == routine::Rest::Start) {
        for (const long a : places) bursts.counts.insert(std::abs(a - output.start));
        fast(farthest, std::max<std::int32_t>(1, number(output.rest_parameter)), true, false);
    }
    bursts.counts.erase(0);
    return bursts;
}

// A channel by what a maker would call its line: the one whose name has that word in it, or the only one of its kind.
const project::Channel* channelByWord(const project::Project& project, const std::string& signal) {
    const auto has = [&](const std::string& text) {
        std::string word;
        for (std::size_t i = 0; i <= text.size(); ++i) {
            if (i < text.size() && isLetterOrDigit(text[i])) {
                word += text[i];
                continue;
            }
            if (sameWord(word, signal)) return true;
            word.clear();
        }
        return false;
    };
    const auto only = [&](const auto& fits) {
        const project::Channel* found = nullptr;
        for (const auto& channel : project.channels) {
            if (!fits(channel)) continue;
            if (found != nullptr) return static_cast<const project::Channel*>(nullptr);
            found = &channel;
        }
        return found;
    };
    if (const auto* named = only([&](const project::Channel& channel) { return has(channel.name) || has(channel.id); })) return named;
    using K = project::ChannelKind;
    static const std::vector<std::pair<std::string_view, K>> usual{{"fan", K::Blow},      {"blower", K::Blow}, {"pump", K::Pump},
                                                                   {"heater", K::Heat},   {"lamp", K::Switch}, {"relay", K::Switch},
                                                                   {"solenoid", K::Press}};
    for (const auto& [word, kind] : usual)
        if (sameWord(std::string{word}, signal))
            return only([&, of = kind](const project::Channel& channel) { return project::channelKind(channel) == of; });
    return nullptr;
}

}  // namespace

capture::Capture captureOf(std::vector<plant::Edge> edges, const project::Project& project, const plan::Plan& plan, double length,
                           std::size_t keep_edges) {
    if (plan.apart) return captureOf(std::move(edges), plan.apart->project(), plan.apart->plan, length, keep_edges);
    // Edges that a timer makes are known when its counter is read, a moment after those that the program writes.
    std::stable_sort(edges.begin(), edges.end(), [](const plant::Edge& a, const plant::Edge& b) { return a.time < b.time; });
    capture::Options options;
    options.keep_edges = keep_edges;
    capture::Gatherer gather(options);
    const auto outputs = plan::drivenChannels(project, plan);
    // A capture is of the pins, an edge of the load: where low is on they are each other's opposite.
    std::vector<bool> inverted;
    for (const auto* channel : outputs) {
        inverted.push_back(plan::findChannel(plan, channel->id)->inverted);
        gather.level(gather.addSignal(channel->id), 0.0, inverted.back() ? 1 : 0);
    }
    for (const auto& input : project.inputs) gather.level(gather.addSignal(input.id), 0.0, project::pinActiveHigh(input) ? 0 : 1);
    for (const auto& edge : edges)
        gather.level(edge.output >= 0 ? static_cast<std::size_t>(edge.output) : outputs.size() + static_cast<std::size_t>(edge.input),
                     edge.time, edge.output >= 0 && inverted[static_cast<std::size_t>(edge.output)] ? 1 - edge.level : edge.level);
    capture::Capture capture;
    capture.length = length;
    capture.time_step = 62.5e-9;
    gather.finish(capture);
    return capture;
}

const project::Channel* channelOfSignal(const project::Project& project, const std::string& signal) {
    for (const auto& channel : project.channels)
        if (sameWord(channel.id, signal) || sameWord(routine::symbol(channel.id), signal) || sameWord(channel.name, signal) ||
            (!channel.pin.empty() && sameWord(channel.pin, signal)))
            return &channel;
    return channelByWord(project, signal);
}

namespace {

void frame(Checks& checks, const capture::SignalMeasure& signal) {
    checks.range("frame", Kind::Duration, signal.period.typical, 0.020, 0.0198, 0.0202, 0.018, 0.025,
                 "Another sketch or clock runs on that board.");
}

void pwm(Checks& checks, const capture::SignalMeasure& signal, const project::Channel& channel, const plan::ChannelPlan& planned) {
    const double f = si(planned.pwm->actual_frequency);
    checks.range("PWM frequency", Kind::Frequency, *signal.frequency, f, 0.99 * f, 1.01 * f, 0.97 * f, 1.03 * f,
                 "Another sketch, another clock or another timer setting runs on that board.");
    if (planned.signal != plan::SignalKind::Pwm || si(channel.signal.duty) >= 1.0) return;
    const double duty = si(planned.closedFor(channel.signal.duty)), high = signal.high.typical / signal.period.typical;
    // Of a bridge with two inputs the chopped one is low while it drives.
    const double measured =
        planned.two_inputs && planned.switched_ends == 0 && std::abs(1.0 - high - duty) < std::abs(high - duty) ? 1.0 - high : high;
    checks.range(planned.two_inputs ? "share of driven time" : "share of high time", Kind::Fraction, measured, duty, duty - 0.02,
                 duty + 0.02, duty - 0.05, duty + 0.05, "The set share is another, or an interrupt holds up the pulses.");
}

void servo(Checks& checks, const capture::SignalMeasure& signal, const plan::ChannelPlan& planned) {
    const double from = si(*planned.motion.pulse_from), to = si(*planned.motion.pulse_to), low = std::min(from, to),
                 high = std::max(from, to);
    frame(checks, signal);
    checks.range("shortest pulse", Kind::Duration, signal.high.shortest, low, low - 10e-6, high + 10e-6, low - 30e-6, high + 30e-6,
                 "The servo is sent beyond its end: it strains and heats.");
    checks.range("longest pulse", Kind::Duration, signal.high.longest, high, low - 10e-6, high + 10e-6, low - 30e-6, high + 30e-6,
                 "The servo is sent beyond its end: it strains and heats.");
}

// A servo that turns on. @param turns_round  whether any cue sends it backwards
void turning(Checks& checks, const capture::SignalMeasure& signal, const plan::ChannelPlan& planned, bool turns_round) {
    const double still = si(*planned.motion.pulse_still), full = si(*planned.motion.pulse_span), back = turns_round ? full : 0.0;
    frame(checks, signal);
    checks.range("shortest pulse", Kind::Duration, signal.high.shortest, still, still - back - 10e-6, still + full + 10e-6,
                 still - back - 30e-6, still + full + 30e-6, "It is told to turn faster, or the other way, than any cue asks.");
    checks.range("longest pulse", Kind::Duration, signal.high.longest, still + full, still - back - 10e-6, still + full + 10e-6,
                 still - back - 30e-6, still + full + 30e-6, "It is told to turn faster than full speed.");
}

void steps(Checks& checks, const capture::SignalMeasure& signal, const plan::ChannelPlan& planned, const Bursts& asked,
           const std::vector<CaptureCheck>& made) {
    double count = si(*planned.motion.steps);
    const double rate = std::max(si(*planned.motion.peak_rate), asked.peak);
    for (const auto& burst : signal.bursts) {
        if (burst.pulses < 2) continue;
        const auto pulses = static_cast<long>(burst.pulses);
        // In search of its start it ends where its switch is.
        const bool searches = pulses <= asked.search && !asked.counts.contains(pulses);
        if (!searches && !asked.counts.empty()) {
            // The nearest that the routine can ask.
            auto above = asked.counts.lower_bound(pulses);
            if (above == asked.counts.end() || (above != asked.counts.begin() && pulses - *std::prev(above) < *above - pulses)) --above;
            count = static_cast<double>(*above);
        }
        if (!searches)
            checks.range("steps of a move", Kind::Count, static_cast<double>(burst.pulses), count, count, count, count, count,
                         "The carriage does not end where it should: another move, or steps that were left out.");
        checks.range("fastest steps", Kind::Frequency, burst.peak_rate, rate, 0.0, 1.1 * rate, 0.0, 1.25 * rate,
                     "Faster than the motor was chosen for: it may lose steps.");
        if (!searches && made.size() > 400) break;
    }
}

Bursts burstsAsked(const plan::Plan& plan, const std::string& channel) {
    if (plan.program)
        for (std::size_t o = 0; o < plan.program->outputs.size(); ++o)
            if (plan.program->outputs[o].id == channel) return burstsOf(*plan.program, o);
    return {};
}

// A gate on the mains: once each half-wave, and let go before the next crossing.
void fired(Checks& checks, const capture::SignalMeasure& signal, const plan::MainsPlan& mains) {
    const double rate = 2.0 * si(mains.frequency), until = si(*mains.until);
    checks.range("gate pulses a second", Kind::Frequency, *signal.frequency, rate, 0.99 * rate, 1.01 * rate, 0.97 * rate, 1.03 * rate,
                 "Another mains, or half-waves that are left out or fired twice: a coil then carries direct current.");
    checks.range("longest gate", Kind::Duration, signal.high.longest, until, 0.0, 1.01 * until, 0.0, 1.0 / rate,
                 "It is on at a crossing: the next half-wave is let through whole.");
}

// What is missing or cut, whatever the signal is.
void whole(Checks& checks, const capture::SignalMeasure& signal, bool steps) {
    // Steps speed up and slow down: what is left out of them is missing from their count.
    if (signal.missing > 0 && !steps)
        checks.range("pulses left out", Kind::Count, static_cast<double>(signal.missing), 0.0, 0.0, 0.0, 0.0, 0.0,
                     "Something held the sketch up: a wait, or an interrupt that is too long.");
    if (signal.short_pulses > 0)
        checks.range("pulses cut short", Kind::Count, static_cast<double>(signal.short_pulses), 0.0, 0.0, 0.0, 0.0, 1e18,
                     "A compare value was written in the middle of a period, or the wire picks up noise.");
}

}  // namespace

std::vector<CaptureCheck> checkCapture(const capture::Capture& capture, const project::Project& project, const plan::Plan& plan) {
    if (plan.apart) return checkCapture(capture, plan.apart->project(), plan.apart->plan);
    std::vector<CaptureCheck> out;
    for (const auto& signal : capture.signals) {
        const auto* channel = channelOfSignal(project, signal.name);
        const auto* planned = channel == nullptr ? nullptr : plan::findChannel(plan, channel->id);
        if (planned == nullptr || signal.rises == 0) continue;
        Checks checks(out, signal, *channel);
        const bool places = planned->signal == plan::SignalKind::ServoPulse, stepped = kinds::isSteps(planned->signal);
        const auto& motion = planned->motion;
        if (planned->pwm && signal.frequency && !places && !stepped) pwm(checks, signal, *channel, *planned);
        if (places && signal.frequency && motion.pulse_from && motion.pulse_to) servo(checks, signal, *planned);
        if (planned->signal == plan::SignalKind::PartWaves && planned->mains && planned->mains->until && signal.frequency)
            fired(checks, signal, *planned->mains);
        if (planned->latch && signal.high.count > 0) {
            const double pulse = si(*planned->latch);
            checks.range("longest pulse", Kind::Duration, signal.high.longest, pulse, 0.9 * pulse, 1.1 * pulse, 0.5 * pulse, 2.0 * pulse,
                         "A shorter one may not latch it; a longer one heats its coil.");
        }
        if (motion.pulse_still && signal.frequency)
            turning(checks, signal, *planned, plan.program && routine::turnsRound(project.routine, channel->id));
        if (stepped && motion.steps && motion.peak_rate) steps(checks, signal, *planned, burstsAsked(plan, channel->id), out);
        if (planned->signal == plan::SignalKind::StepRate && motion.step_rate && signal.frequency) {
            const double rate = si(*motion.step_rate) * si(channel->signal.duty);
            checks.range("steps a second", Kind::Frequency, *signal.frequency, rate, 0.0, 1.01 * rate, 0.0, 1.03 * rate,
                         "Another sketch, or other micro-steps: it goes faster than any cue asks.");
        }
        whole(checks, signal, stepped);
    }
    return out;
}

}  // namespace hinge::proof
