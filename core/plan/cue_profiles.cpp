#include "plan/cue_profiles.hpp"
#include <algorithm>
#include <optional>
#include "routine/machine.hpp"
#include "routine/quiet.hpp"

namespace hinge::plan {

std::vector<Phase> phasesOf(const routine::Program& program, const routine::State& state) {
    std::vector<Phase> phases(program.outputs.size(), Phase::Off);
    for (std::size_t o = 0; o < phases.size(); ++o) {
        const bool on = routine::isOn(program, state, o);
        if (program.outputs[o].kind == routine::OutputKind::Switched) phases[o] = on ? Phase::On : Phase::Off;
        else phases[o] = on ? Phase::Moving : state.output(o).awake != 0 ? Phase::Holding : Phase::Off;
    }
    return phases;
}

namespace {

constexpr std::size_t most_changes = 200;  // one that goes round for ever has shown all by then
constexpr int most_ticks = 20'000;

routine::Program withoutNames(routine::Program program) {
    for (auto& each : program.parameters) each.name.clear(), each.unit.clear(), each.meaning.clear(), each.source.clear();
    for (auto& each : program.inputs) each.name.clear(), each.word.clear();
    for (auto& each : program.outputs) each.name.clear();
    for (auto& each : program.cues) each.name.clear();
    for (auto& each : program.interlocks) each.text.clear();
    return program;
}

// Calls with each number of the sketch that a cue's steps read.
template <class Visit>
void eachParameter(const routine::ProgramCue& cue, Visit visit) {
    for (const int index : {cue.held_parameter, cue.every_parameter})
        if (index >= 0) visit(static_cast<std::size_t>(index));
    for (const auto& step : cue.instructions)
        for (const int index : {step.parameter, step.target})
            if (index >= 0) visit(static_cast<std::size_t>(index));
}

// The program with one cue, started by hand and once; numbers that only other cues read are blank.
/// @param whole  without names
routine::Program alone(const routine::Program& whole, std::size_t kept) {
    routine::Program program = whole;
    std::vector<bool> of_others(program.parameters.size(), false);
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        auto& cue = program.cues[c];
        if (c == kept) continue;
        eachParameter(cue, [&](std::size_t index) { of_others[index] = true; });
        cue = {};
    }
    auto& own = program.cues[kept];
    own.every_parameter = own.after = -1;
    own.at_power_up = false;
    own.times_of_day.clear();
    const auto keep = [&](std::initializer_list<int> indices) {
        for (const int index : indices)
            if (index >= 0) of_others[static_cast<std::size_t>(index)] = false;
    };
    eachParameter(own, [&](std::size_t index) { of_others[index] = false; });
    for (const auto& output : program.outputs)
        keep({output.duty_parameter, output.ramp_parameter, output.off_delay_parameter, output.rest_parameter});
    for (const auto& input : program.inputs) keep({input.timeout_parameter, input.limit_parameter, input.sets});
    for (const auto& loop : program.loops)
        keep({loop.wanted, loop.proportional, loop.integral, loop.derivative, loop.period, loop.smoothing, loop.forward, loop.band,
              loop.least, loop.lean_rate, loop.lean_way, loop.turn});
    keep({program.link_parameter});
    for (std::size_t index = 0; index < of_others.size(); ++index)
        if (of_others[index]) program.parameters[index] = {};
    return program;
}

std::vector<CueProfile> followed(const routine::Program& program, std::size_t c) {
    const std::vector<std::uint8_t> quiet_pins(program.inputs.size(), 0);
    const routine::Machine machine{program};
    auto state = routine::powerUp(program);
    // Their starts were found before: else they would move nothing, and draw nothing.
    for (std::size_t o = 0; o < state.outputs(); ++o) state.output(o).placed = 1;
    routine::Happening nothing;
    nothing.pin_active = quiet_pins;
    // Until every input has been believed inactive.
    for (int i = 0; i < 64; ++i) {
        routine::skip(program, state, std::min(routine::quietTicks(program, state, quiet_pins), 2000));
        machine.tick(state, nothing);
    }
    routine::Happening start = nothing;
    start.start_cues = {static_cast<int>(c)};
    machine.tick(state, start);
    CueProfile main{static_cast<int>(c), false, {}};
    std::optional<std::size_t> ended;
    std::int64_t now = 0;
    for (int i = 0; i < most_ticks; ++i) {
        auto phases = phasesOf(program, state);
        const bool over = state.cue(c).place < 0 && !ended;
        // The end is an instant of its own, also where no output changes at it.
        if (main.changes.empty() || main.changes.back().phases != phases || over)
            main.changes.push_back({static_cast<double>(now) / routine::ticks_per_second, std::move(phases)});
        if (over) ended = main.changes.size() - 1;
        const auto quiet = routine::quietTicks(program, state, quiet_pins);
        if (quiet >= routine::ticks_per_day || main.changes.size() > most_changes) break;
        routine::skip(program, state, quiet);
        machine.tick(state, nothing);
        now += quiet + 1;
    }
    if (main.changes.empty()) return {};
    const std::size_t end = ended.value_or(main.changes.size() - 1);
    const bool runs_on = std::any_of(
        main.changes.begin() + static_cast<std::ptrdiff_t>(end), main.changes.end(),
        [](const DriveChange& change) { return std::find(change.phases.begin(), change.phases.end(), Phase::On) != change.phases.end(); });
    main.last = end;
    if (!runs_on) return {std::move(main)};
    auto tail = main;
    tail.tail = true;
    tail.first = end;
    tail.last = tail.changes.size() - 1;
    return {std::move(main), std::move(tail)};
}

// What no cue starts: an output that follows an input, one that a loop keeps at its place, one that is on at rest.
std::vector<CueProfile> byThemselves(const routine::Program& program) {
    std::vector<CueProfile> profiles;
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        const auto its = [&](const auto& tie) { return tie.output == static_cast<int>(o); };
        const bool switched = output.kind == routine::OutputKind::Switched;
        const bool follows = std::any_of(program.followers.begin(), program.followers.end(), its);
        const bool held = !switched && std::any_of(program.loops.begin(), program.loops.end(), its);
        if (!follows && !held && output.rest != routine::Rest::On && !output.remembered) continue;
        CueProfile profile{-1, false, {{0.0, std::vector<Phase>(program.outputs.size(), Phase::Off)}}};
        profile.changes[0].phases[o] = switched ? Phase::On : Phase::Moving;
        profiles.push_back(std::move(profile));
    }
    return profiles;
}

}  // namespace

std::shared_ptr<const CueProfiles> cueProfiles(const routine::Program& program,
                                               std::initializer_list<const std::shared_ptr<const CueProfiles>> before) {
    auto made = std::make_shared<CueProfiles>();
    made->reads = withoutNames(program);
    for (const auto& known : before)
        if (known != nullptr && known->reads == made->reads) return known;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        auto reads = alone(made->reads, c);
        std::shared_ptr<const CueCourse> course;
        for (const auto& known : before)
            if (course == nullptr && known != nullptr && c < known->courses.size() && known->courses[c]->reads == reads)
                course = known->courses[c];
        if (course == nullptr) {
            auto profiles = followed(reads, c);
            course = std::make_shared<const CueCourse>(CueCourse{std::move(reads), std::move(profiles)});
        }
        made->profiles.insert(made->profiles.end(), course->profiles.begin(), course->profiles.end());
        made->courses.push_back(std::move(course));
    }
    const auto others = byThemselves(made->reads);
    made->profiles.insert(made->profiles.end(), others.begin(), others.end());
    return made;
}

}  // namespace hinge::plan
