#include "proof/test_sketch.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "quantity/constants.hpp"

namespace hinge::proof {
namespace {

// For how long a channel may run while somebody looks at it.
Duration lookFor(project::ChannelKind kind, const plan::ChannelPlan& planned) {
    if (kind == project::ChannelKind::Heat) return of<Duration>(5.0);
    if (kind == project::ChannelKind::Pump && planned.dose_time) return of<Duration>(std::min(2.0, si(*planned.dose_time)));
    return of<Duration>(2.0);
}

// Ends for a test that looks for them, in place of those that are not known: of a servo as wide as each of them bears, of a stepper a tenth
// of a turn of its own shaft in four seconds. @return whether that gives it places
bool endsAsGuessed(project::Project& project, const project::Parts& parts, const std::string& id) {
    for (auto& channel : project.channels) {
        if (channel.id != id) continue;
        const auto* part = project::findActuator(parts, channel.actuator);
        const double range = part != nullptr ? kinds::actuatorKind(*part).range(*part) : kinds::unknown;
        const bool servo = kinds::known(range), stepper = part != nullptr && kinds::actuatorKind(*part).stepping;
        const bool found = channel.calibration.pulse_min && channel.calibration.pulse_max;
        if (!stepper && (!servo || found)) return false;
        // The servo's whole range over eight tenths of a millisecond: what is asked of it, whatever it is, lies within.
        if (servo) channel.calibration.pulse_min = of<Duration>(1.1e-3), channel.calibration.pulse_max = of<Duration>(1.9e-3);
        project::TurnDemand turn;  // of hardly any weight
        turn.angle = stepper ? of<Angle>(0.2 * constants::pi) : of<Angle>(range);
        turn.time = of<Duration>(stepper ? 4.0 : 2.0);
        turn.mass = of<Mass>(1e-3);
        turn.arm = of<Length>(1e-3);
        channel.demand = turn;
        channel.drive.gear_ratio = of<Ratio>(1.0);
        return true;
    }
    return false;
}

class Test {
public:
    Test(const project::Project& project, std::string channel) : channel_{std::move(channel)}, out_{project, {}, {}} {
        auto& routine = out_.project.routine;
        routine.cues.clear();
        routine.followers.clear();
        routine.loops.clear();
        // Statements about this channel alone; one that asks what another does has nothing to ask any more.
        std::erase_if(routine.interlocks, [&](const routine::Interlock& each) { return each.channel != channel_ || !each.terms.empty(); });
        std::erase_if(out_.project.inputs, [](const project::Input& each) { return each.kind == project::InputKind::Counter; });
        out_.project.brief.name += ": test of " + project::findChannel(project, channel_)->name;
    }

    void onWord(const std::string& word, const std::string& does, routine::Move move) {
        project::Input input;
        std::vector<std::string> taken;
        for (const auto& each : out_.project.inputs) taken.push_back(each.id);
        input.id = project::freshId("word " + word, taken);
        input.name = "the word " + word;
        input.kind = project::InputKind::Word;
        input.word = word;
        routine::Cue cue;
        cue.id = "test_" + word;
        cue.name = "Test: " + word;
        cue.input = input.id;
        move.id = "it";
        move.channel = channel_;
        cue.moves.push_back(std::move(move));
        out_.project.inputs.push_back(std::move(input));
        out_.project.routine.cues.push_back(std::move(cue));
        out_.words.push_back({word, does});
    }
    TestSketch& out() { return out_; }

private:
    std::string channel_;
    TestSketch out_;
};

}  // namespace

Result<TestSketch> testSketch(const project::Project& given, const project::Parts& parts, const std::string& channel,
                              const plan::Plan* plain) {
    project::Project project = given;
    if (project::findChannel(project, channel) == nullptr) return fail(ErrorCode::Unknown, "channel", channel, "the id of a channel");
    if (const auto& family = board::family(project.board.form); !family.link)
        return fail(ErrorCode::NotDriven, "board/form", std::string{family.name},
                    "a board with a link, to try the channel on: a test sketch does what it is told over it");
    auto plan = plain != nullptr ? *plain : plan::evaluate(project, parts);
    // A servo whose ends are what is to be found: four tenths of a millisecond on either side of its middle, which every one of them bears
    // (common practice, no published source), stand in for them here.
    const auto& before = *plan::findChannel(plan, channel);
    const bool servo = before.signal == plan::SignalKind::ServoPulse && !before.motion.pulse_from,
               stepper = before.signal == plan::SignalKind::Steps && !before.motion.steps;
    const bool guesses = (servo || stepper) && endsAsGuessed(project, parts, channel), guessed = guesses && servo;
    if (guesses) plan = plan::evaluate(project, parts, {}, &plan);
    const auto* decided = project::findChannel(project, channel);
    const auto& planned = *plan::findChannel(plan, channel);
    if (!plan::isDriven(planned)) return fail(ErrorCode::Missing, channel, "", "a part, a driver and pulses: Match and Pulse settle them");
    Test test(project, channel);
    using routine::Action;
    const auto go = [&](std::optional<double> share) {
        routine::Move move;
        move.action = Action::Go;
        if (const auto* along = std::get_if<project::MoveDemand>(&decided->demand)) {
            if (share && along->travel) move.place = of<Length>(*share * si(*along->travel));
        } else if (share) {
            // Of what turns, the plan's own angle: a valve's is counted in turns.
            const auto& angle = planned.context->ask.angle;
            if (angle || *share == 0.0) move.angle = of<Angle>(angle ? *share * si(*angle) : 0.0);
        }
        return move;
    };
    if (guessed) {
        // Nothing is known of its ends: from the middle outwards, a little at a time, and slowly.
        const double middle = si(*planned.context->ask.angle) / 2.0;
        const auto step = [&](double share) {
            routine::Move move;
            move.action = Action::Go;
            move.time = of<Duration>(2.0);
            move.angle = of<Angle>(middle * (1.0 + share));
            return move;
        };
        test.onWord("middle", "to 1.5 ms: its horn still off", step(0.0));
        for (int n = 1; n <= 4; ++n) {
            test.onWord(fmt::format("out{}", n), fmt::format("{} us longer: stop before it hums", 100 * n), step(0.25 * n));
            test.onWord(fmt::format("in{}", n), fmt::format("{} us shorter: stop before it hums", 100 * n), step(-0.25 * n));
        }
    } else if (planned.signal == plan::SignalKind::ServoPulse) {
        const auto& motion = planned.motion;
        if (motion.pulse_from && motion.pulse_per_angle && *motion.pulse_per_angle != 0.0) {
            const double rest = (1.5e-3 - si(*motion.pulse_from)) / *motion.pulse_per_angle;
            const double end = motion.pulse_to ? (si(*motion.pulse_to) - si(*motion.pulse_from)) / *motion.pulse_per_angle : 0.0;
            if (rest >= 0.0 && rest <= end) {
                auto move = go({});
                move.angle = of<Angle>(rest);
                test.onWord("middle", "to 1.5 ms: fit the horn here", move);
            }
        }
        test.onWord("there", "to the end of its move", go({}));
        test.onWord("back", "to the start of its move", go(0.0));
    } else if (planned.signal == plan::SignalKind::Steps) {
        if (planned.motion.steps && si(*planned.motion.steps) > 0.0)
            test.onWord("step", "a little of its way: one full step",
                        go(std::min(1.0, std::max(1.0, si(decided->signal.microsteps)) / si(*planned.motion.steps))));
        test.onWord("there", guesses ? "a tenth of a turn of its own shaft, slowly: its way is not known yet" : "to the end of its way",
                    go({}));
        test.onWord("back", guesses ? "and back" : "to the start of its way", go(0.0));
    } else {
        routine::Move move;
        move.action = Action::Run;
        move.time = lookFor(project::channelKind(*decided), planned);
        test.onWord("run", "on, and off by itself after " + display(*move.time, 2), move);
    }
    const auto test_plan = plan::evaluate(test.out().project, parts, {}, &plan);
    auto sketch = plan::sketchOf(test.out().project, test_plan);
    if (!sketch) return tl::unexpected(sketch.error());
    test.out().sketch = std::move(*sketch);
    return std::move(test.out());
}

}  // namespace hinge::proof
