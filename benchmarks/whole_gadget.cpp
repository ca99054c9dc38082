// What the maker waits for, each beside a reference in the same run: `squareRoots`, a million of them
// with nothing else, stands for the machine. `benchmarks/run` prints the ratios.
#include "catalogue/catalogue.hpp"
#include "emulator/gadget.hpp"
#include "plan/plan.hpp"
#include "routine/prove.hpp"
#include "simulation/interpreted_board.hpp"
#include "simulation/simulate.hpp"
#include "store/document.hpp"
#include <benchmark/benchmark.h>
#include <cmath>

namespace {

using namespace hinge;

struct Demo {
    project::Project project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage").value().project;
    project::Parts parts = catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    plan::Plan plan = plan::evaluate(project, parts);
};
const Demo& demo() {
    static const Demo one;
    return one;
}

void squareRoots(benchmark::State& state) {
    for (auto _ : state) {
        double sum = 0.0;
        for (int i = 0; i < 1'000'000; ++i) sum += std::sqrt(static_cast<double>(i) + sum * 1e-9);
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(squareRoots);

// After every keystroke: everything, from decisions to findings.
void evaluateDemo(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(plan::evaluate(demo().project, demo().parts));
}
BENCHMARK(evaluateDemo);

// 40 pumps on 25 switches: the shipped ones, repeated under other names.
void rankThousandPairs(benchmark::State& state) {
    project::Parts parts;
    for (std::size_t i = 0; i < 40; ++i) {
        parts.pumps.push_back(demo().parts.pumps[i % demo().parts.pumps.size()]);
        parts.pumps.back().id += "-" + std::to_string(i);
    }
    for (std::size_t i = 0; i < 25; ++i) {
        parts.switches.push_back(demo().parts.switches[i % demo().parts.switches.size()]);
        parts.switches.back().id += "-" + std::to_string(i);
    }
    const auto& context = demo().plan.channels.front().pump.context;
    for (auto _ : state) benchmark::DoNotOptimize(match::rank(context, parts));
}
BENCHMARK(rankThousandPairs);

// Every reachable state of the demo's routine, for all its interlocks.
void proveInterlocks(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(routine::prove(*demo().plan.program));
}
BENCHMARK(proveInterlocks);

// A whole day with the clock set; nothing happens for most of it.
void simulateDay(benchmark::State& state) {
    const auto plants = plan::plantsOf(demo().project, demo().parts, demo().plan).value();
    simulation::Options options;
    options.length = 86400.0;
    options.events.push_back({.time = 0.5, .clock = 0});
    for (auto _ : state) benchmark::DoNotOptimize(simulation::simulate(*demo().plan.program, plants, options).value());
}
BENCHMARK(simulateDay);

// One second of the board that runs the emitted sketch, pump running; under 1 s of wall clock keeps up.
void emulatedSecond(benchmark::State& state) {
    auto board = emulator::startGadget(demo().project, demo().parts, demo().plan, emulator::usualCache());
    if (!board) return state.SkipWithError(sentence(board.error()).c_str());
    (*board)->advance(0.5);
    (*board)->write("start 0\n");
    for (auto _ : state) (*board)->advance(1.0);
}
BENCHMARK(emulatedSecond);

// The same second without the chip: the interpreter and the plant only.
void interpretedSecond(benchmark::State& state) {
    simulation::InterpretedBoard board(*demo().plan.program, plan::plantsOf(demo().project, demo().parts, demo().plan).value(), "demo", "benchmark");
    board.write("start 0\n");
    for (auto _ : state) board.advance(1.0);
}
BENCHMARK(interpretedSecond);

}  // namespace

BENCHMARK_MAIN();
