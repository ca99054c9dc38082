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

}  // namespace

Slice sliceFor(const Program& whole, const ProgramInterlock* rule, int output) {
    Slice slice;
    slice.program.parameters = whole.parameters;
    placeOf(slice.outputs, rule != nullptr ? rule->output : output);
    if (rule != nullptr && rule->input >= 0) placeOf(slice.inputs, rule->input);
    if (rule != nullptr)
        for (const auto& term : rule->terms) placeOf(slice.outputs, term.output);
    const std::vector<int> matter = slice.outputs;
    const auto matters = [&](int o) { return std::find(matter.begin(), matter.end(), o) != matter.end(); };
    const int nothing = static_cast<int>(slice.program.parameters.size());
    slice.program.parameters.push_back({"nothing", "ms", "", 0, 0, 0, ""});
    for (std::size_t c = 0; c < whole.cues.size(); ++c) {
        ProgramCue cue = whole.cues[c];
        if (std::none_of(cue.instructions.begin(), cue.instructions.end(),
                         [&](const Instruction& i) { return i.output >= 0 && matters(i.output); }))
            continue;
        for (auto& input : cue.inputs) input = placeOf(slice.inputs, input);
        for (auto& input : cue.released) input = placeOf(slice.inputs, input);
        cue.held_input = cue.held_parameter = cue.every_parameter = cue.after = -1;
        cue.at_power_up = false;
        for (auto& guard : cue.guards) guard.input = placeOf(slice.inputs, guard.input);
        for (auto& instruction : cue.instructions) {
            // What a cue does to outputs that do not matter is left out; the time it takes stays.
            const bool apart = instruction.output >= 0 && !matters(instruction.output);
            switch (instruction.operation) {
                case Operation::Clear: instruction = {Operation::Wait, -1, nothing}; continue;
                case Operation::On:
                case Operation::Off:
                case Operation::Toggle:
                    if (apart) {
                        instruction = {Operation::Wait, -1, nothing};
                        continue;
                    }
                    break;
                case Operation::Go:
                case Operation::Fade:
                case Operation::Flicker:
                    if (apart) {
                        instruction = {Operation::Wait, -1, instruction.parameter};
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
    for (const int input : slice.inputs) {
        auto made = whole.inputs[static_cast<std::size_t>(input)];
        slice.first.push_back(isCautious(whole, static_cast<std::size_t>(input)) ? 1 : 0);
        made.counted = made.sets = -1;
        slice.program.inputs.push_back(std::move(made));
    }
    for (const int each : slice.outputs) slice.program.outputs.push_back(whole.outputs[static_cast<std::size_t>(each)]);
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
