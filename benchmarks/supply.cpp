// The supply over time, beside ngspice on the same circuit and beside a million square roots.
#include <benchmark/benchmark.h>
#include <fmt/format.h>
#include <chrono>
#include <fstream>
#include "capture/capture.hpp"
#include "catalogue/catalogue.hpp"
#include "plan/tolerance.hpp"
#include "plant/motor_start.hpp"
#include "simulation/supply_day.hpp"
#include "stage.hpp"
#include "store/document.hpp"
#include "support/folder.hpp"
#include "support/long_wire.hpp"
#include "support/program.hpp"

namespace {

using namespace hinge;

// A day of twelve outputs (the stage's six twice over), a scene of each half at forty times of it: every change
// and every dip.
void supplyDayOfTwelve(benchmark::State& state) {
    auto program = *stage().plan.program;
    auto tree = *plan::supplyTree(stage().project, stage().parts, stage().plan);
    const auto outputs = program.outputs.size();
    for (std::size_t o = 0; o < outputs; ++o) {
        auto copy = program.outputs[o];
        copy.id += "2";
        program.outputs.push_back(copy);
        tree.outputs.push_back(tree.outputs[o]);
    }
    const auto cues = program.cues.size();
    for (std::size_t c = 0; c < cues; ++c) {
        auto copy = program.cues[c];
        copy.id += "2";
        copy.inputs.clear();
        for (auto& instruction : copy.instructions)
            if (instruction.output >= 0) instruction.output += static_cast<int>(outputs);
        for (int k = 0; k < 40; ++k)
            program.cues[c].times_of_day.push_back(k * 2'100'000 + 1000), copy.times_of_day.push_back(k * 2'100'000 + 600'000);
        program.cues.push_back(copy);
    }
    simulation::Event set;
    set.clock = 0;
    std::size_t changes = 0;
    for (auto _ : state) {
        const auto day = simulation::supplyDay(program, tree, {set}, 86'400.0);
        changes = day->changes.size();
        benchmark::DoNotOptimize(day);
    }
    state.counters["changes"] = static_cast<double>(changes);
}
BENCHMARK(supplyDayOfTwelve)->Unit(benchmark::kMillisecond);

// Ten thousand plans of the demo with every ± drawn at once, on two threads: wall clock counts.
void tenThousandPlans(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(plan::tolerance(stage().project, stage().parts, stage().plan, 10'000, 1, 2));
}
BENCHMARK(tenThousandPlans)->Unit(benchmark::kMillisecond)->UseRealTime();

void motorStart(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(plant::motorStart(test::longWire, 1000));
}
BENCHMARK(motorStart)->Unit(benchmark::kMillisecond);

// The same in ngspice, steps of 5 µs, its start-up taken off by a deck with nothing in it.
void motorStartInNgspice(benchmark::State& state) {
    hinge::test::TemporaryFolder folder;
    const auto deck = folder.path() / "motor.cir", empty = folder.path() / "empty.cir";
    std::ofstream(deck) << fmt::format(
        "* motor\n.options reltol=1e-5 abstol=1e-9\nVs s 0 12\nRs s a 0.9\nRe a e 0.05\nCe e 0 2200u IC=12\nRw a b 1.6\nLw b c 0.6m "
        "IC=0\nEb c x w 0 0.015\nVm x 0 0\nGt 0 w cur 0 0.015\nHc cur 0 Vm 1\nCj w 0 6e-6 IC=0\n.tran 5u 0.3 0 5u uic\n.meas tran low MIN "
        "v(a)\n.end\n");
    std::ofstream(empty) << "* nothing\nV1 a 0 1\nR1 a 0 1\n.tran 1u 2u\n.meas tran low MIN v(a)\n.end\n";
    for (auto _ : state) {
        const auto timed = [](const std::string& file) {
            const auto start = std::chrono::steady_clock::now();
            benchmark::DoNotOptimize(hinge::test::run(fmt::format("ngspice -b {} > /dev/null 2>&1", file)));
            return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        };
        state.SetIterationTime(std::max(1e-6, timed(deck.string()) - timed(empty.string())));
    }
}
BENCHMARK(motorStartInNgspice)->Unit(benchmark::kMillisecond)->UseManualTime()->Iterations(3);

// A capture of three lines, about 20 MB of VCD, beside a plain count of its lines.
const std::string& capturedText() {
    static const std::string text = [] {
        std::string made =
            "$timescale 1 us $end\n$scope module top $end\n$var wire 1 a step $end\n$var wire 1 b dir $end\n$var wire 1 c pwm "
            "$end\n$upscope $end\n$enddefinitions $end\n#0\n0a\n0b\n0c\n";
        for (int k = 1; made.size() < 20'000'000; ++k) made += fmt::format("#{}\n{}{}\n", k * 25, k % 2, k % 3 == 0 ? 'c' : 'a');
        return made;
    }();
    return text;
}
void readCapture(benchmark::State& state) {
    hinge::test::TemporaryFolder folder;
    const auto file = (folder.path() / "c.vcd").string();
    std::ofstream(file) << capturedText();
    for (auto _ : state) benchmark::DoNotOptimize(capture::readFile(file, {}));
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations() * capturedText().size()));
}
BENCHMARK(readCapture)->Unit(benchmark::kMillisecond);
void countLines(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(std::count(capturedText().begin(), capturedText().end(), '\n'));
    state.SetBytesProcessed(static_cast<std::int64_t>(state.iterations() * capturedText().size()));
}
BENCHMARK(countLines)->Unit(benchmark::kMillisecond);

}  // namespace
