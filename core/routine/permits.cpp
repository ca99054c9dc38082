// What the link may do only with a word, and how much room its lines take.
#include <algorithm>
#include "routine/machine.hpp"

namespace hinge::routine {

std::vector<int> wordsOfCue(const Program& program, std::size_t cue) {
    std::vector<int> words;
    // And what starts after such a cue, down the chain.
    for (std::size_t at = cue, steps = 0; steps <= program.cues.size(); ++steps) {
        const auto& each = program.cues[at];
        for (const auto* list : {&each.inputs, &each.released})
            for (const int input : *list)
                if (program.inputs[static_cast<std::size_t>(input)].source == InputSource::Word &&
                    std::find(words.begin(), words.end(), input) == words.end())
                    words.push_back(input);
        if (each.after < 0) break;
        at = static_cast<std::size_t>(each.after);
    }
    return words;
}

std::vector<int> wordsOfOutput(const Program& program, std::size_t output) {
    std::vector<int> words;
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& instructions = program.cues[c].instructions;
        if (std::none_of(instructions.begin(), instructions.end(),
                         [&](const Instruction& each) { return each.output == static_cast<int>(output) && holdsOutput(each.operation); }))
            continue;
        for (const int word : wordsOfCue(program, c))
            if (std::find(words.begin(), words.end(), word) == words.end()) words.push_back(word);
    }
    return words;
}

std::vector<int> wordsOfParameter(const Program& program, std::size_t parameter) {
    const int p = static_cast<int>(parameter);
    std::vector<int> words;
    const auto add = [&](const std::vector<int>& more) {
        for (const int word : more)
            if (std::find(words.begin(), words.end(), word) == words.end()) words.push_back(word);
    };
    for (std::size_t c = 0; c < program.cues.size(); ++c) {
        const auto& cue = program.cues[c];
        if (cue.held_parameter == p || cue.every_parameter == p) add(wordsOfCue(program, c));
        for (const auto& each : cue.instructions)
            if (each.parameter == p || each.target == p) add(wordsOfCue(program, c));
    }
    for (const auto& loop : program.loops)
        for (const int own : {loop.wanted, loop.proportional, loop.integral, loop.derivative, loop.period, loop.smoothing, loop.forward,
                              loop.band, loop.least, loop.lean_rate, loop.lean_way})
            if (own == p) add(wordsOfOutput(program, static_cast<std::size_t>(loop.output)));
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto& output = program.outputs[o];
        const bool switched = output.kind == OutputKind::Switched;
        if ((switched && (output.duty_parameter == p || output.ramp_parameter == p || output.off_delay_parameter == p)) ||
            output.rest_parameter == p)
            add(wordsOfOutput(program, o));
    }
    return words;
}

std::size_t lineRoom(const Program& program) {
    std::size_t name = 0, word = 0;
    for (const auto& p : program.parameters) name = std::max(name, p.name.size());
    for (const auto& input : program.inputs) word = std::max(word, input.word.size());
    const std::size_t with_word = word > 0 ? word + 1 : 0;
    return std::max({std::string_view{"clock 12:34:56 2026-11-29"}.size(), 4 + word, 4 + name + 1 + 11 + with_word,
                     std::string_view{"drive 12 -1234567890 600000"}.size() + with_word}) +
           2;
}

std::size_t frameValues(const Program& program, std::size_t most) {
    const auto measured = std::count_if(program.inputs.begin(), program.inputs.end(), isMeasured);
    return std::min(most, program.outputs.size() + static_cast<std::size_t>(measured));
}

std::vector<spark::Permit> permitsOf(const Program& program) {
    std::vector<spark::Permit> permits;
    const auto add = [&](spark::Permit::What what, std::size_t count, const auto& wordsOf) {
        for (std::size_t which = 0; which < count; ++which)
            for (const int input : wordsOf(program, which)) {
                const auto place = std::count_if(program.inputs.begin(), program.inputs.begin() + input,
                                                 [](const ProgramInput& each) { return each.source == InputSource::Word; });
                permits.push_back({what, static_cast<std::uint8_t>(place), static_cast<std::int16_t>(which)});
            }
    };
    add(spark::Permit::start, program.cues.size(), wordsOfCue);
    add(spark::Permit::drive, program.outputs.size(), wordsOfOutput);
    add(spark::Permit::set, program.parameters.size(), wordsOfParameter);
    return permits;
}

}  // namespace hinge::routine
