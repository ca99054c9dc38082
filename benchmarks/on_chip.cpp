// What emitted sketches take on the chip: flash and RAM by avr-size, and the time of one tick on the emulated ATmega at 16 MHz, counted in
// cycles between two marks that are put around it. The same on every machine. Prints the table of docs/performance.md.
#include <fmt/format.h>
#include <algorithm>
#include <optional>
#include "catalogue/catalogue.hpp"
#include "emulator/build.hpp"
#include "emulator/chip.hpp"
#include "emulator/pin_bus.hpp"
#include "plan/firmware_model.hpp"
#include "plan/plan.hpp"
#include "store/document.hpp"
#include "support/generated_routine.hpp"

namespace {

using namespace hinge;

// A mark before and after everything that belongs to a tick.
firmware::Sketch marked(firmware::Sketch sketch) {
    const auto put = [&](const std::string& before, const std::string& mark) {
        const auto at = sketch.text.find(before);
        if (at != std::string::npos) sketch.text.insert(at + (mark.front() == '\n' ? before.size() : 0), mark);
    };
    put("void tick() {", "\n  GPIOR0 = 1;");
    put("  // >>> yours: every tick", "  GPIOR0 = 2;\n");
    return sketch;
}

struct Row {
    std::string name;
    firmware::Sketch sketch;
    board::Family family;
    std::vector<std::string> commands;  // sent after half a second
    double seconds = 6.0;
};

std::optional<std::string> lineOf(const Row& row) {
    const auto plain = emulator::build(row.sketch, row.family, emulator::usualCache());
    const auto with_marks = emulator::build(marked(row.sketch), row.family, emulator::usualCache());
    if (!plain || !with_marks || !plain->ok || !with_marks->ok) return std::nullopt;
    auto chip = emulator::Chip::load(with_marks->elf, nameOf(row.family.mcu), static_cast<std::uint32_t>(row.family.clock));
    if (!chip) return std::nullopt;
    std::uint64_t began = 0, worst = 0, sum = 0, ticks = 0;
    bool inside = false, busy = false;
    (*chip)->on_mark = [&](std::uint64_t cycle) {
        if (inside && busy) {
            worst = std::max(worst, cycle - began);
            sum += cycle - began;
            ++ticks;
        }
        inside = !inside;
        began = cycle;
    };
    const double clock = row.family.clock;
    (void)(*chip)->runTo(static_cast<std::uint64_t>(0.5 * clock));
    std::string all;
    for (const auto& command : row.commands) all += command + "\n";
    (*chip)->send(all);
    (void)(*chip)->runTo(static_cast<std::uint64_t>(0.6 * clock));
    busy = true;  // after the tick in which they start
    (void)(*chip)->runTo(static_cast<std::uint64_t>(row.seconds * clock));
    if (ticks == 0) return std::nullopt;
    return fmt::format("| {} | {} | {} | {:.0f} | {:.0f} |", row.name, plain->flash, plain->ram,
                       static_cast<double>(sum) / static_cast<double>(ticks) * 1e6 / clock, static_cast<double>(worst) * 1e6 / clock);
}

Row rowOf(const std::string& name, const std::string& folder, std::vector<std::string> commands) {
    const auto project = store::load(std::string{HINGE_SOURCE_DIR} + folder).value().project;
    const auto parts = catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    const auto plan = plan::evaluate(project, parts);
    return {name, plan::sketchOf(project, plan).value(), board::family(project.board.form), std::move(commands)};
}

// The pump with nothing but its button and its float switch, where there is no link and 8 kB: at rest.
Row small() {
    auto project = store::load(HINGE_SOURCE_DIR "/tests/projects/rain-alone").value().project;
    const auto parts = catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    for (auto& cue : project.routine.cues) cue.times.clear();
    project.board.form = board::BoardForm::Tiny8;
    project.channels.front().pin = "PB0";
    project.channels.front().signal.frequency = of<Frequency>(488.28125);
    const char* const pins[] = {"PB2", "PB3", "PB4"};
    for (std::size_t i = 0; i < project.inputs.size(); ++i) project.inputs[i].pin = pins[i];
    return {"one pump on an ATtiny85 at 8 MHz, no link",
            plan::sketchOf(project, plan::evaluate(project, parts)).value(),
            board::family(project.board.form),
            {}};
}

// Twelve channels and forty cues on the larger board: it has the pins.
Row made() {
    const auto program = test::generated(6).program().value();
    firmware::SketchModel model;
    model.gadget = "Made";
    model.plan = "00000000";
    model.family = board::family(board::BoardForm::Mega16);
    model.program = program;
    std::size_t next = 0;
    const auto pin = [&] {
        while (model.family.pins[next].name == "D0" || model.family.pins[next].name == "D1") ++next;
        return model.family.pins[next++];
    };
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        firmware::SketchOutput output;
        output.pin = pin();
        model.outputs.push_back(output);
    }
    for (std::size_t i = 0; i < program.inputs.size(); ++i) {
        model.inputs.emplace_back(pin());
        model.pulled_up.push_back(true);
    }
    std::vector<std::string> commands;
    for (std::size_t c = 0; c < program.cues.size(); c += 3) commands.push_back("start " + std::to_string(c));
    return {"twelve channels, forty cues", firmware::emit(model).value(), model.family, std::move(commands)};
}

}  // namespace

int main() {
    std::vector<Row> rows{rowOf("one pump", "/tests/projects/rain-alone", {"start 0"}),
                          rowOf("the stage, all its cues at once", "/demos/paper-moon-stage",
                                {"start 0", "start 1", "start 2", "start 3", "start 4", "start 5"}),
                          rowOf("the proofing box", "/demos/proofing-box", {}), rowOf("the rider", "/demos/tightrope-rider", {"start 0"})};
    rows.push_back(made());
    rows.push_back(small());
    fmt::print("| sketch | flash, B | RAM, B | a tick, us | the longest, us |\n|---|---|---|---|---|\n");
    for (const auto& row : rows) {
        const auto line = lineOf(row);
        if (!line) {
            fmt::print("{}: it does not compile, or does not run\n", row.name);
            return 1;
        }
        fmt::print("{}\n", *line);
    }
    return 0;
}
