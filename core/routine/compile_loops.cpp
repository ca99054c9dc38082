// Loops: outputs that hold a reading.
#include <algorithm>
#include <cmath>
#include "routine/compile_parts.hpp"

namespace hinge::routine {

std::optional<Error> addLoops(Program& program, const Routine& routine, const std::vector<ChannelNumbers>& channels,
                              const std::vector<InputNumbers>& inputs) {
    for (const auto& loop : routine.loops) {
        const std::string field = "routine/loops/" + loop.id;
        const auto output = indexOf(channels, loop.channel, field + "/channel");
        if (!output) return output.error();
        const auto input = indexOf(inputs, loop.input, field + "/input");
        if (!input) return input.error();
        auto& made = program.outputs[static_cast<std::size_t>(*output)];
        const auto& read = inputs[static_cast<std::size_t>(*input)];
        if (made.kind == OutputKind::Servo)
            return Error{ErrorCode::Conflict, field, made.name, "what is switched, or a stepper: a servo holds its place by itself"};
        if (!read.analogue && read.source != InputSource::Tach && read.source != InputSource::Number)
            return Error{ErrorCode::Conflict, field + "/input", read.name,
                         "a level, a tach or a number: something that is more than yes or no"};
        if (made.kind == OutputKind::Switched && channels[static_cast<std::size_t>(*output)].top <= 1)
            return Error{ErrorCode::Conflict, field, made.name,
                         "what has a transistor behind it: contacts are only on or off; keep a level between two bounds instead"};
        if (std::any_of(program.loops.begin(), program.loops.end(), [&](const ProgramLoop& other) { return other.output == *output; }))
            return Error{ErrorCode::Conflict, field + "/channel", made.name, "one loop for a channel"};
        const std::string id = symbol(loop.id);
        const auto gain = [&](const char* which, const Ratio& value) {
            return addParameter(
                program, {id + "_" + which, "256ths", made.name + ": " + which + " gain for each count",
                          static_cast<std::int32_t>(std::lround(std::clamp(si(value), -100.0, 100.0) * 256.0)), -25600, 25600, "Tune"});
        };
        ProgramLoop compiled{*output, *input};
        compiled.wanted =
            addParameter(program, {id + "_wanted", "counts", made.name + ": holds " + read.name + " at",
                                   static_cast<std::int32_t>(std::lround(std::clamp(si(loop.wanted), 0.0, 1023.0))), 0, 1023, "Routine"});
        compiled.proportional = gain("proportional", loop.proportional);
        compiled.integral = gain("integral", loop.integral);
        compiled.derivative = gain("derivative", loop.derivative);
        compiled.period = addParameter(program, {id + "_period", "ms", made.name + ": period of its loop",
                                                 std::max<std::int32_t>(1, toTicks(loop.period)), 1, 1000, "Tune"});
        compiled.most = static_cast<std::int32_t>(std::clamp(si(loop.most), 1.0, made.kind == OutputKind::Stepper ? 8000.0 : 1000.0));
        compiled.smoothing = addParameter(
            program, {id + "_smoothing", "16ths", made.name + ": of a new change that count",
                      static_cast<std::int32_t>(std::lround(std::clamp(si(loop.smoothing), 1.0 / 16.0, 1.0) * 16.0)), 1, 16, "Tune"});
        compiled.forward = gain("forward", loop.forward);
        compiled.band =
            addParameter(program, {id + "_band", "counts", made.name + ": error that is let be",
                                   static_cast<std::int32_t>(std::lround(std::clamp(si(loop.band), 0.0, 200.0))), 0, 200, "Tune"});
        const auto lean = [&](const char* which, const Ratio& value, double most) {
            return addParameter(program, {id + "_" + which, "65536ths", made.name + ": counts wanted more for each step",
                                          static_cast<std::int32_t>(std::lround(std::clamp(si(value), -most, most) * 65536.0)),
                                          -static_cast<std::int32_t>(most * 65536.0), static_cast<std::int32_t>(most * 65536.0), "Tune"});
        };
        if (loop.both && made.kind == OutputKind::Switched) {
            const auto& channel = channels[static_cast<std::size_t>(*output)];
            const auto conflict = [&](const std::string& accepted) {
                return Error{ErrorCode::Conflict, field + "/both", made.name, accepted};
            };
            if (!channel.both_ways || made.pulse_still > 0) return conflict("what a bridge drives: nothing else turns it round");
            if (si(channel.off_delay) > 0.0) return conflict("no off-delay: it would still be driven when it is turned round");
            if (made.rest == Rest::On) return conflict("a safe state that is off: 'on' does not say which way");
            compiled.turn =
                addParameter(program, {symbol(channel.id) + "_turn", "ms", made.name + ": stands still before it is turned round",
                                       std::max<std::int32_t>(1, toTicks(channel.turn_pause)), 1, 60000, "Pulse"});
        }
        if (made.kind == OutputKind::Stepper) {
            compiled.lean_rate = lean("lean_rate", loop.lean_rate, 0.9);
            compiled.lean_way = lean("lean_way", loop.lean_way, 0.49);
        } else if (!loop.both) {
            compiled.least =
                addParameter(program, {id + "_least", "permille", made.name + ": never less while it is on",
                                       static_cast<std::int32_t>(std::lround(std::clamp(si(loop.least), 0.0, 1000.0))), 0, 1000, "Tune"});
        }
        // What rolls to and fro starts in the middle of what can be counted.
        if (made.kind == OutputKind::Stepper) made.start = largest_place / 2, made.furthest = largest_place;
        program.loops.push_back(compiled);
    }
    return std::nullopt;
}

}  // namespace hinge::routine
