// What becomes of the sketch: `emit`, `run`.
#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include "cli/exit_status.hpp"
#include "cli/opened.hpp"
#include "cli/verbs.hpp"
#include "drawing/circuit.hpp"
#include "drawing/svg.hpp"
#include "emulator/gadget.hpp"
#include "plan/deck.hpp"
#include "plan/machines.hpp"
#include "plan/wiring.hpp"
#include "plant/on_times.hpp"
#include "proof/capture_check.hpp"
#include "quantity/csv.hpp"
#include "quantity/text.hpp"
#include "routine/compile.hpp"
#include "simulation/happen.hpp"
#include "simulation/seen.hpp"

namespace hinge::cli {
namespace {

namespace fs = std::filesystem;

// What the sketch cannot drive is refused by name, with the way out.
int refused(Error error) {
    if (error.code == ErrorCode::NotDriven && error.field.starts_with("channels/"))
        error.accepted = "choose another, or leave it out with --without " + error.field.substr(9);
    return report(error);
}

}  // namespace

int emit(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& folder,
         bool single_file) {
    const auto opened = open(project, catalogue, false, without);
    if (!opened) return report(opened.error());
    auto sketch = plan::sketchOf(opened->document.project, opened->plan, opened->idle);
    if (!sketch) return refused(sketch.error());
    if (single_file) sketch = firmware::singleFile(std::move(*sketch));
    const fs::path out = fs::path{folder} / sketch->name;
    std::error_code error;
    fs::create_directories(out, error);
    if (error) return report({ErrorCode::NotWritable, out.string(), error.message(), "choose another folder"});
    const auto rows = plan::wireRows(opened->document.project, plan::wiring(opened->document.project, opened->parts, opened->plan));
    const std::string wires = plan::wiringCsv(rows);
    const auto circuits = drawing::circuits(opened->document.project, opened->parts, opened->plan, rows);
    const auto drawn =
        drawing::svgOf(drawing::asOne(drawing::onSheet(circuits, drawing::paper_wide), opened->document.project.brief.name), rows);
    std::string parts = "count,part,price\n";
    for (const auto& line : plan::partsList(opened->document.project, opened->parts, opened->plan))
        parts += fmt::format("{},{},{}\n", line.count, csvText(line.name), line.price ? fmt::format("{:.2f}", si(*line.price)) : "");
    std::string parameters = "name,value,least,most,unit,meaning\n";
    for (const auto& p : opened->plan.program->parameters)
        parameters += fmt::format("{},{},{},{},{},{}\n", p.name, p.value, p.least, p.most, p.unit, csvText(p.meaning));
    // What a hand wrote between the marks of the sketch that stands there is kept.
    std::string sketch_text = sketch->text;
    const fs::path ino = out / (sketch->name + ".ino");
    if (fs::is_regular_file(ino, error))
        if (const auto older = files::readWhole(ino)) sketch_text = firmware::withHandWritten(sketch_text, *older);
    const auto into = files::Folder::open(out);
    if (!into) return report(into.error());
    // All of them or none: a sketch of today beside a runtime of yesterday would be no sketch. The sketch itself comes last.
    std::vector<files::Folder::Named> set;
    for (const auto& file : sketch->beside) set.push_back({file.name, file.text});
    // A figure of the supply that nobody knows leaves the deck out, with a word; the sketch does not need it.
    const auto deck = plan::spiceDeck(opened->document.project, opened->parts, opened->plan);
    if (!deck) std::cerr << "no deck: " << sentence(deck.error()) << '\n';
    else set.push_back({sketch->name + ".cir", *deck});
    set.insert(set.end(), {{"wiring.csv", wires},
                           {"wiring.svg", drawn},
                           {"parts.csv", parts},
                           {"parameters.csv", parameters},
                           {ino.filename().string(), sketch_text}});
    if (const auto written = into->writeSet(set); !written) return report(written.error());
    std::cout << ino.string() << '\n';
    return Done;
}

namespace {

// Edges that a timer makes are known when its counter is read, a moment after those that the program
// writes: they are sorted first.
std::string vcdOf(const emulator::EmulatedBoard& board, const project::Project& project, const plan::Plan& plan) {
    auto edges = board.edges();
    const auto outputs = plan::drivenChannels(project, plan);
    // What is written is the pins' levels: where low is on, the opposite of the load's.
    const auto inverted = [&](const plant::Edge& edge) {
        return edge.output >= 0 && plan::findChannel(plan, outputs[static_cast<std::size_t>(edge.output)]->id)->inverted;
    };
    std::stable_sort(edges.begin(), edges.end(), [](const auto& a, const auto& b) { return a.time < b.time; });
    std::string text = "$version Hinge Spark $end\n$timescale 1 ns $end\n$scope module gadget $end\n";
    // Identifier codes are printable characters; two are enough for all.
    const auto code = [](std::size_t i) { return std::string{static_cast<char>('!' + i % 90), static_cast<char>('!' + i / 90)}; };
    const auto place = [&](const plant::Edge& edge) {
        return static_cast<std::size_t>(edge.output >= 0 ? edge.output : static_cast<int>(outputs.size()) + edge.input);
    };
    // As the sketch names them: a plain word each, whatever the ids are.
    for (std::size_t o = 0; o < outputs.size(); ++o)
        text += fmt::format("$var wire 1 {} {} $end\n", code(o), routine::symbol(outputs[o]->id));
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        text += fmt::format("$var wire 1 {} {} $end\n", code(outputs.size() + i), routine::symbol(project.inputs[i].id));
    // Direction and enable lines after them.
    const std::size_t first_line = outputs.size() + project.inputs.size();
    for (std::size_t l = 0; l < board.lines().size(); ++l)
        text += fmt::format("$var wire 1 {} {} $end\n", code(first_line + l), board.lines()[l].name);
    text += "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n";
    for (std::size_t l = 0; l < board.lines().size(); ++l) text += fmt::format("0{}\n", code(first_line + l));
    for (std::size_t o = 0; o < outputs.size(); ++o)
        text += fmt::format("{}{}\n", plan::findChannel(plan, outputs[o]->id)->inverted ? 1 : 0, code(o));
    for (std::size_t i = 0; i < project.inputs.size(); ++i)
        text += fmt::format("{}{}\n", project::pinActiveHigh(project.inputs[i]) ? 0 : 1, code(outputs.size() + i));
    text += "$end\n";
    std::vector<std::pair<long long, std::string>> changes;
    for (const auto& edge : edges)
        changes.emplace_back(std::llround(edge.time * 1e9),
                             fmt::format("{}{}\n", inverted(edge) ? 1 - edge.level : edge.level, code(place(edge))));
    for (const auto& edge : board.lineEdges())
        changes.emplace_back(std::llround(edge.time * 1e9), fmt::format("{}{}\n", edge.level ? 1 : 0, code(first_line + edge.line)));
    std::stable_sort(changes.begin(), changes.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    long long last = -1;
    for (const auto& [at, change] : changes) {
        if (at != last) text += fmt::format("#{}\n", at);
        last = at;
        text += change;
    }
    return text;
}

// What was seen while it ran.
struct Ran {
    emulator::EmulatedBoard& board;
    const Opened& opened;
    double length;
    std::vector<plant::Edge> edges;
    std::optional<simulation::SupplyDay> supply;  ///< what the loads drew, by what was seen at the pins
    std::vector<std::string> still;               ///< inputs that a loop holds and nothing moves

    [[nodiscard]] const routine::Program& program() const { return *opened.plan.program; }
    [[nodiscard]] std::vector<plant::OnTime> timesOn(std::size_t o) const {
        const int index = static_cast<int>(o);
        const double standing = program().outputs[o].pulse_still / 2e6;
        return plant::onTimes(standing > 0.0 ? plant::speedEdges(edges, index, standing, length) : edges, index);
    }
    [[nodiscard]] double interruptShare() const {
        return static_cast<double>(board.chip().interruptCycles()) / static_cast<double>(board.chip().cycle());
    }
    [[nodiscard]] double longestInterrupt() const { return static_cast<double>(board.chip().longestInterrupt()) / board.chip().clock(); }
};

Json ranJson(const Ran& ran) {
    const auto& program = ran.program();
    Json outputs = Json::array();
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto mine = [&](const auto& edge) { return edge.output == static_cast<int>(o); };
        const auto times = ran.timesOn(o);
        Json on = Json::array();
        for (const auto& each : times) on.push_back({{"from_s", each.from}, {"to_s", orNull(each.to)}, {"pulses", each.pulses}});
        // The last fall of all, also where it rose once more since.
        std::optional<double> fall;
        for (const auto& edge : ran.edges)
            if (mine(edge) && edge.level == 0) fall = edge.time;
        outputs.push_back({{"id", program.outputs[o].id},
                           {"edges", std::count_if(ran.edges.begin(), ran.edges.end(), mine)},
                           {"first_rise_s", times.empty() ? Json(nullptr) : Json(times.front().from)},
                           {"last_fall_s", orNull(fall)},
                           {"on", on}});
    }
    return {{"ran_on", ran.board.what()},
            {"length_s", ran.length},
            {"outputs", outputs},
            {"poured_m3", ran.board.observe().poured},
            {"peak_current_A", ran.supply ? Json(ran.supply->drawn) : Json(nullptr)},
            {"peak_time_s", ran.supply ? Json(ran.supply->drawn_time) : Json(nullptr)},
            {"charge_C", ran.supply ? Json(ran.supply->charge) : Json(nullptr)},
            {"still_readings", ran.still},
            {"resets", ran.board.chip().resets()},
            {"interrupt_share", ran.interruptShare()},
            {"longest_interrupt_s", ran.longestInterrupt()}};
}

void say(const Ran& ran) {
    const auto& program = ran.program();
    std::cout << ran.board.what() << ", " << display(Kind::Duration, ran.length) << '\n';
    constexpr std::size_t most_lines = 50;
    for (std::size_t o = 0; o < program.outputs.size(); ++o) {
        const auto times = ran.timesOn(o);
        std::cout << program.outputs[o].id << (times.empty() ? ": never on\n" : ":\n");
        for (std::size_t k = 0; k < std::min(most_lines, times.size()); ++k)
            std::cout << fmt::format("  on at {:.4f} s, {}{}\n", times[k].from,
                                     times[k].to ? fmt::format("off at {:.4f} s", *times[k].to) : "still on at the end",
                                     times[k].pulses > 1 ? fmt::format(", {} pulses", times[k].pulses) : "");
        if (times.size() > most_lines) std::cout << fmt::format("  and {} times more; --json has them all\n", times.size() - most_lines);
    }
    const auto& channels = ran.opened.document.project.channels;
    if (std::any_of(channels.begin(), channels.end(),
                    [](const auto& channel) { return std::holds_alternative<project::PumpDemand>(channel.demand); }))
        std::cout << fmt::format("poured {}\n", display(Kind::Volume, ran.board.observe().poured));
    if (ran.supply)
        std::cout << fmt::format("drawn {} at most, at {:.3f} s; {:.3g} C in all\n", display(Kind::Current, ran.supply->drawn),
                                 ran.supply->drawn_time, ran.supply->charge);
    for (const auto& id : ran.still)
        std::cout << fmt::format("{}: its reading stood still: no machine on the bench gives it, nor does --events\n", id);
    std::cout << fmt::format("interrupts took {} of the processor, the longest {}\n", display(Kind::Fraction, ran.interruptShare()),
                             display(Kind::Duration, ran.longestInterrupt()));
}

// A loop whose reading neither a machine nor the script gives holds on to a number that does not move: said, not passed over.
std::vector<std::string> standingReadings(const routine::Program& program, const std::vector<plant::Coupling>& machines,
                                          const std::vector<simulation::Event>& script) {
    std::vector<std::string> still;
    for (const auto& loop : program.loops) {
        const auto& input = program.inputs[static_cast<std::size_t>(loop.input)];
        const bool given = std::any_of(machines.begin(), machines.end(), [&](const auto& m) { return m.sense.input == loop.input; }) ||
                           std::any_of(script.begin(), script.end(), [&](const auto& event) { return event.input == input.id; });
        if (!given) still.push_back(input.id);
    }
    return still;
}

}  // namespace

int run(const std::string& project, const std::string& catalogue, const std::vector<std::string>& without, const std::string& length,
        const std::string& events, const std::string& vcd, bool json) {
    const auto opened = open(project, catalogue, false, without);
    if (!opened) return report(opened.error());
    const auto time = parseQuantity(Kind::Duration, length);
    if (!time || *time <= 0.0 || *time > 3600.0) return report({ErrorCode::OutOfRange, "--for", length, "a time such as 5s, up to 1 h"});
    const auto read = scriptOf(events);
    if (!read) return report(read.error());
    const auto& drawn = opened->document.project;
    auto board = emulator::startGadget(drawn, opened->parts, opened->plan, emulator::usualCache(), nullptr, opened->idle);
    if (!board) return refused(board.error());
    const auto& program = *opened->plan.program;
    auto machines = simulation::unscripted(plan::heldMachines(drawn, opened->parts, opened->plan), program, *read);
    const auto still = standingReadings(program, machines, *read);
    (*board)->fit(plant::Bench{std::move(machines)});
    if (const auto error = simulation::playOn(**board, program, *read, *time)) return report(*error);
    if (!vcd.empty())
        if (const auto written = files::writeWhole(vcd, vcdOf(**board, drawn, opened->plan)); !written) return report(written.error());
    Ran ran{**board, *opened, *time, (*board)->switchings(), {}, still};
    // On the tree that plan and simulate use.
    if (const auto tree = plan::drawnTree(drawn, opened->parts, opened->plan))
        ran.supply = simulation::supplySeen(program, *tree, ran.edges, emulator::enablesOf(**board, program), *time);
    if (json) print(ranJson(ran));
    else say(ran);
    return Done;
}

}  // namespace hinge::cli
