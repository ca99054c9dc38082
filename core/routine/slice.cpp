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

// Cuts a program down to what a question is about.
class Slicer {
public:
    Slicer(const Program& whole, const ProgramInterlock* rule, int output, bool loose) : whole_(whole), rule_(rule), loose_(loose) {
        slice_.program.parameters = whole.parameters;
        placeOf(slice_.outputs, rule != nullptr ? rule->output : output);
        if (rule == nullptr) return;
        if (rule->input >= 0) placeOf(slice_.inputs, rule->input);
        for (const auto& term : rule->terms) placeOf(slice_.outputs, term.output);
    }
    Slice cut() && {
        asked_ = slice_.outputs.size();
        widen();
        nothing_ = static_cast<int>(slice_.program.parameters.size());
        slice_.program.parameters.push_back({"nothing", "ms", "", 0, 0, 0, ""});
        for (std::size_t c = 0; c < whole_.cues.size(); ++c) {
            if (!touches(whole_.cues[c])) continue;
            slice_.cues.push_back(static_cast<int>(c));
            slice_.program.cues.push_back(cueFrom(whole_.cues[c]));
        }
        takeFollowers();
        for (const int each : slice_.outputs) {
            slice_.program.outputs.push_back(whole_.outputs[static_cast<std::size_t>(each)]);
            slice_.program.outputs.back().let_go_parameter = -1;  // it does not move by that
            for (auto& input : slice_.program.outputs.back().rest_unless) input = placeOf(slice_.inputs, input);
        }
        takeIdle();
        takeInputs();
        takeRule();
        if (loose_) loosen();
        return std::move(slice_);
    }

private:
    [[nodiscard]] bool matters(int output) const {
        return std::find(slice_.outputs.begin(), slice_.outputs.end(), output) != slice_.outputs.end();
    }
    [[nodiscard]] bool touches(const ProgramCue& cue) const {
        return std::any_of(cue.instructions.begin(), cue.instructions.end(),
                           [&](const Instruction& i) { return i.output >= 0 && matters(i.output); });
    }
    void widen();
    ProgramCue cueFrom(ProgramCue cue);
    void cutOut(Instruction& instruction);
    void takeFollowers();
    void takeIdle();
    void takeInputs();
    void takeRule();
    void loosen();

    const Program& whole_;
    const ProgramInterlock* rule_;
    const bool loose_;
    std::size_t asked_ = 0;  ///< of its outputs, what the question is about
    Slice slice_;
    int nothing_ = 0;  ///< the parameter of a wait that takes no time
};

// A cue that moves what has to look for its start gives up where that was not found, and one that moves something from where it stands,
// where that leads out of its way: where it is matters too. So does which way something goes that is turned round.
void Slicer::widen() {
    for (std::size_t before = 0; before != slice_.outputs.size();) {
        before = slice_.outputs.size();
        for (const auto& cue : whole_.cues) {
            if (!touches(cue)) continue;
            for (const auto& i : cue.instructions)
                if ((i.operation == Operation::Go && (i.by || isHomed(whole_, static_cast<std::size_t>(i.output)))) ||
                    (i.output >= 0 && whole_.outputs[static_cast<std::size_t>(i.output)].turns))
                    placeOf(slice_.outputs, i.output);
        }
    }
}

ProgramCue Slicer::cueFrom(ProgramCue cue) {
    for (auto& input : cue.inputs) input = placeOf(slice_.inputs, input);
    for (auto& input : cue.released) input = placeOf(slice_.inputs, input);
    cue.held_input = cue.held_parameter = cue.every_parameter = cue.after = -1;
    for (auto& guard : cue.guards) guard.input = placeOf(slice_.inputs, guard.input);
    for (auto& instruction : cue.instructions) {
        // What a cue does to outputs that do not matter is left out; the time it takes stays.
        if (instruction.operation == Operation::Clear || (instruction.output >= 0 && !matters(instruction.output))) cutOut(instruction);
        if (instruction.output >= 0) instruction.output = placeOf(slice_.outputs, instruction.output);
        if (instruction.input >= 0) instruction.input = placeOf(slice_.inputs, instruction.input);
    }
    return cue;
}

void Slicer::cutOut(Instruction& instruction) {
    const bool joined = instruction.joined;
    switch (instruction.operation) {
        case Operation::Clear:
        case Operation::On:
        case Operation::Off:
        case Operation::Toggle: instruction = waitFor(nothing_, joined); return;
        case Operation::Run:
        case Operation::Turn:
        case Operation::Go:
        case Operation::Fade:
        case Operation::Flicker: instruction = waitFor(instruction.parameter, joined); return;
        case Operation::Home: {
            // It gives up one tick after the move would have ended.
            auto within = whole_.parameters[static_cast<std::size_t>(instruction.parameter)];
            ++within.value;
            slice_.program.parameters.push_back(std::move(within));
            instruction = {Operation::Until, -1, static_cast<int>(slice_.program.parameters.size()) - 1, -1, instruction.input, true};
            return;
        }
        case Operation::Until: instruction.output = -1; return;
        case Operation::Wait:
        case Operation::Again: return;
    }
}

void Slicer::takeFollowers() {
    for (const auto& follower : whole_.followers) {
        if (!matters(follower.output)) continue;
        auto mine = follower;
        mine.output = placeOf(slice_.outputs, follower.output);
        if (follower.guard >= 0) mine.guard = placeOf(slice_.inputs, follower.guard);
        // A reading may be above its dead band whatever its two levels say: an input of its own.
        if (follower.proportional) slice_.inputs.push_back(follower.input), mine.input = static_cast<int>(slice_.inputs.size()) - 1;
        else mine.input = placeOf(slice_.inputs, follower.input);
        slice_.program.followers.push_back(mine);
    }
}

// The power-up cues, and what is remembered, wait for every input: one that nothing here reads stands for all the others.
void Slicer::takeIdle() {
    const bool wakes =
        std::any_of(slice_.program.cues.begin(), slice_.program.cues.end(), [](const ProgramCue& cue) { return cue.at_power_up; }) ||
        std::any_of(slice_.outputs.begin(), slice_.outputs.end(),
                    [&](int o) { return whole_.outputs[static_cast<std::size_t>(o)].remembered; });
    for (std::size_t i = 0; i < whole_.inputs.size() && wakes; ++i) {
        if (whole_.inputs[i].source == InputSource::Number ||
            std::find(slice_.inputs.begin(), slice_.inputs.end(), static_cast<int>(i)) != slice_.inputs.end())
            continue;
        slice_.idle = static_cast<int>(slice_.inputs.size());
        slice_.inputs.push_back(static_cast<int>(i));
        break;
    }
}

void Slicer::takeInputs() {
    for (const int input : slice_.inputs) {
        auto made = whole_.inputs[static_cast<std::size_t>(input)];
        slice_.first.push_back(isCautious(whole_, static_cast<std::size_t>(input)) ? 1 : 0);
        made.counted = made.sets = -1;
        slice_.program.inputs.push_back(std::move(made));
    }
}

void Slicer::loosen() {
    auto& program = slice_.program;
    const int out_of_its_way = static_cast<int>(program.inputs.size());
    bool any = false;
    for (auto& cue : program.cues)
        for (auto& i : cue.instructions) {
            if (!i.by || i.output < static_cast<int>(asked_)) continue;
            i.input = out_of_its_way;
            any = true;
        }
    if (!any) return;
    program.inputs.push_back({"out_of_its_way", "a move leads out of its way"});
    slice_.inputs.push_back(0);  // none of the whole's: a loose question's answer is never told as a story
    slice_.first.push_back(0);
}

void Slicer::takeRule() {
    if (rule_ == nullptr) return;
    auto mine = *rule_;
    mine.output = 0;
    if (mine.input >= 0) mine.input = 0;
    for (auto& term : mine.terms) term.output = placeOf(slice_.outputs, term.output);
    slice_.program.interlocks.push_back(std::move(mine));
}

}  // namespace

Slice sliceFor(const Program& whole, const ProgramInterlock* rule, int output, bool loose) {
    return Slicer(whole, rule, output, loose).cut();
}

bool hasLoose(const Program& whole) {
    return std::any_of(whole.cues.begin(), whole.cues.end(), [](const ProgramCue& cue) {
        return std::any_of(cue.instructions.begin(), cue.instructions.end(), [](const Instruction& i) { return i.by; });
    });
}

}  // namespace hinge::routine
