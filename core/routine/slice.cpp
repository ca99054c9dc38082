#include "routine/slice.hpp"
#include <algorithm>

namespace hinge::routine {
namespace {

int placeOf(std::vector<int>& list, int index) {
    const auto found = std::find(list.begin(), list.end(), index);
    if (found != list.end()) return static_cast<int>(found - list.begin());
    list.push_back(index);
    return static_cast<int>(list.size()) - 1;
}

Instruction waitFor(int parameter, bool joined) {
    Instruction wait{Operation::Wait, -1, parameter};
    wait.joined = joined;
    return wait;
}

}  // namespace

Slice sliceFor(const Program& whole, const ProgramInterlock* rule, int output) {
    Slice slice;
    slice.program.parameters = whole.parameters;
    placeOf(slice.outputs, rule != nullptr ? rule->output : output);
    if (rule != nullptr && rule->input >= 0) placeOf(slice.inputs, rule->input);
    if (rule != nullptr)
        for (const auto& term : rule->terms) placeOf(slice.outputs, term.output);
    const auto matters = [&](int o) { return std::find(slice.outputs.begin(), slice.outputs.end(), o) != slice.outputs.end(); };
    const auto touches = [&](const ProgramCue& cue) {
        return std::any_of(cue.instructions.begin(), cue.instructions.end(),
                           [&](const Instruction& i) { return i.output >= 0 && matters(i.output); });
    };
    // A cue that moves what has to look for its start gives up where that was not found: whether it was, matters too. So does which way
    // something goes that is turned round.
    for (std::size_t before = 0; before != slice.outputs.size();) {
        before = slice.outputs.size();
        for (const auto& cue : whole.cues) {
            if (!touches(cue)) continue;
            for (const auto& i : cue.instructions)
                if ((i.operation == Operation::Go && isHomed(whole, static_cast<std::size_t>(i.output))) ||
                    (i.output >= 0 && whole.outputs[static_cast<std::size_t>(i.output)].turns))
                    placeOf(slice.outputs, i.output);
        }
    }
    const int nothing = static_cast<int>(slice.program.parameters.size());
    slice.program.parameters.push_back({"nothing", "ms", "", 0, 0, 0, ""});
    for (std::size_t c = 0; c < whole.cues.size(); ++c) {
        ProgramCue cue = whole.cues[c];
        if (!touches(cue)) continue;
        for (auto& input : cue.inputs) input = placeOf(slice.inputs, input);
        for (auto& input : cue.released) input = placeOf(slice.inputs, input);
        cue.held_input = cue.held_parameter = cue.every_parameter = cue.after = -1;
        for (auto& guard : cue.guards) guard.input = placeOf(slice.inputs, guard.input);
        for (auto& instruction : cue.instructions) {
            const bool joined = instruction.joined;
            // What a cue does to outputs that do not matter is left out; the time it takes stays.
            const bool apart = instruction.output >= 0 && !matters(instruction.output);
            switch (instruction.operation) {
                case Operation::Clear: instruction = waitFor(nothing, joined); continue;
                case Operation::On:
                case Operation::Off:
                case Operation::Toggle:
                    if (apart) {
                        instruction = waitFor(nothing, joined);
                        continue;
                    }
                    break;
                case Operation::Run:
                case Operation::Turn:
                case Operation::Go:
                case Operation::Fade:
                case Operation::Flicker:
                    if (apart) {
                        instruction = waitFor(instruction.parameter, joined);
                        continue;
                    }
                    break;
                case Operation::Home:
                    if (apart) {
                        // It gives up one tick after the move would have ended.
                        auto within = whole.parameters[static_cast<std::size_t>(instruction.parameter)];
                        ++within.value;
                        slice.program.parameters.push_back(std::move(within));
                        instruction = {Operation::Until,  -1,  static_cast<int>(slice.program.parameters.size()) - 1, -1,
                                       instruction.input, true};
                    }
                    break;
                case Operation::Wait:
                case Operation::Until:
                case Operation::Again: break;
            }
            if (instruction.output >= 0) instruction.output = placeOf(slice.outputs, instruction.output);
            if (instruction.input >= 0) instruction.input = placeOf(slice.inputs, instruction.input);
        }
        slice.cues.push_back(static_cast<int>(c));
        slice.program.cues.push_back(std::move(cue));
    }
    for (const auto& follower : whole.followers) {
        if (!matters(follower.output)) continue;
        auto mine = follower;
        mine.output = placeOf(slice.outputs, follower.output);
        if (follower.guard >= 0) mine.guard = placeOf(slice.inputs, follower.guard);
        // A reading may be above its dead band whatever its two levels say: an input of its own.
        if (follower.proportional) slice.inputs.push_back(follower.input), mine.input = static_cast<int>(slice.inputs.size()) - 1;
        else mine.input = placeOf(slice.inputs, follower.input);
        slice.program.followers.push_back(mine);
    }
    for (const int each : slice.outputs) {
        slice.program.outputs.push_back(whole.outputs[static_cast<std::size_t>(each)]);
        for (auto& input : slice.program.outputs.back().rest_unless) input = placeOf(slice.inputs, input);
    }
    // The power-up cues, and what is remembered, wait for every input: one that nothing here reads stands for all the others.
    const bool wakes =
        std::any_of(slice.program.cues.begin(), slice.program.cues.end(), [](const ProgramCue& cue) { return cue.at_power_up; }) ||
        std::any_of(slice.outputs.begin(), slice.outputs.end(),
                    [&](int o) { return whole.outputs[static_cast<std::size_t>(o)].remembered; });
    for (std::size_t i = 0; i < whole.inputs.size() && wakes; ++i) {
        if (whole.inputs[i].source == InputSource::Number ||
            std::find(slice.inputs.begin(), slice.inputs.end(), static_cast<int>(i)) != slice.inputs.end())
            continue;
        slice.idle = static_cast<int>(slice.inputs.size());
        slice.inputs.push_back(static_cast<int>(i));
        break;
    }
    for (const int input : slice.inputs) {
        auto made = whole.inputs[static_cast<std::size_t>(input)];
        slice.first.push_back(isCautious(whole, static_cast<std::size_t>(input)) ? 1 : 0);
        made.counted = made.sets = -1;
        slice.program.inputs.push_back(std::move(made));
    }
    if (rule != nullptr) {
        auto mine = *rule;
        mine.output = 0;
        if (mine.input >= 0) mine.input = 0;
        for (auto& term : mine.terms) term.output = placeOf(slice.outputs, term.output);
        slice.program.interlocks.push_back(std::move(mine));
    }
    return slice;
}

}  // namespace hinge::routine
