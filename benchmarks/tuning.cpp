// Loops on their models, charts of hours, and what the bench costs the emulated board.
#include <benchmark/benchmark.h>
#include <cmath>
#include "capture/recording.hpp"
#include "catalogue/catalogue.hpp"
#include "control/search.hpp"
#include "emulator/gadget.hpp"
#include "plan/machines.hpp"
#include "stage.hpp"
#include "store/document.hpp"

namespace {

using namespace hinge;

// A hundred thousand control periods of the turntable, PID with everything, the motor moved on in each. Target: a million a second.
void closedLoopTicks(benchmark::State& state) {
    auto setup = stage().loop.setup;
    setup.pid.period = setup.tick = 0.001;
    setup.machine.sense.tach = false;
    setup.pid.gains.derivative = 1e-4;
    setup.pid.smoothing = 0.25;
    setup.length = 100.0;
    for (auto _ : state) benchmark::DoNotOptimize(control::runLoop(setup));
    state.counters["ticks_per_s"] = benchmark::Counter(100'000.0, benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK(closedLoopTicks)->Unit(benchmark::kMillisecond);

// The same of a body that balances.
void balancingTicks(benchmark::State& state) {
    control::LoopSetup setup;
    setup.machine.machine = plant::Balancer{plant::BalancerFigures{0.09, 1.57e-4, 0.02, 0.7}};
    setup.machine.sense.per_unit = -977.0, setup.machine.sense.zero = 512.0;
    setup.rolls = true;
    setup.before = setup.wanted = 512.0;
    setup.pid.gains = {20.0, 250.0, 0.0};
    setup.pid.period = 0.001;
    setup.pid.least = -4000.0, setup.pid.most = 4000.0, setup.pid.lean_rate = 0.008;
    setup.length = 100.0;
    for (auto _ : state) benchmark::DoNotOptimize(control::runLoop(setup));
    state.counters["ticks_per_s"] = benchmark::Counter(100'000.0, benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK(balancingTicks)->Unit(benchmark::kMillisecond);

// Gains for the demo's loop by search, on three machines. Target: 5 s.
void searchGains(benchmark::State& state) {
    control::SearchAsk ask{stage().loop.setup, stage().loop.target, control::Cost::Calm};
    ask.setup.pid.gains = {0.001, 0.0, 0.0};
    for (auto _ : state) benchmark::DoNotOptimize(control::searchGains(ask));
}
BENCHMARK(searchGains)->Unit(benchmark::kMillisecond);

// One frame of a strip chart: three lanes of 800 columns over all of ten million samples. A frame at 60 a second is 16.7 ms.
void stripColumns(benchmark::State& state) {
    static const auto recording = [] {
        capture::Recording made(3);
        for (std::uint32_t k = 0; k < 10'000'000; ++k)
            made.add(k * 5,
                     std::array{static_cast<float>(std::sin(k * 1e-4)), static_cast<float>(k % 977), static_cast<float>(k % 31 == 0)});
        return made;
    }();
    for (auto _ : state)
        for (std::size_t lane = 0; lane < 3; ++lane) benchmark::DoNotOptimize(recording.columns(lane, 0.0, 50'000.0, 800));
}
BENCHMARK(stripColumns)->Unit(benchmark::kMillisecond);

// One second of a sketch doing one thing: on the chip with our timers and nothing attached, and on the board with its plants, its bench,
// its inputs and every edge kept. Target: the first in at least 80 % of the time of the second.
const char* doing(int which, std::string& command) {
    const auto& s = stage();
    const auto say = [&](const char* channel, const char* what) { command = "drive " + std::to_string(s.output(channel)) + what; };
    switch (which) {
        case 0: command.clear(); return "idle";
        case 1: say("mist", " 500\n"); return "25 kHz PWM";
        case 2: say("curtain", " 40000 20000\n"); return "steps";
        default: say("turntable", " -1\n"); return "closed loop";
    }
}
void chipAlone(benchmark::State& state) {
    const auto& s = stage();
    const auto& family = board::family(s.project.board.form);
    const auto built = emulator::build(plan::sketchOf(s.project, s.plan).value(), family, emulator::usualCache());
    if (!built || !built->ok) return state.SkipWithError("no compiler");
    auto chip = emulator::Chip::load(built->elf, nameOf(family.mcu), static_cast<std::uint32_t>(family.clock)).value();
    std::string command;
    state.SetLabel(doing(static_cast<int>(state.range(0)), command));
    std::uint64_t to = 8'000'000;
    chip->runTo(to);
    for (auto _ : state) {
        chip->send(command);
        to += 16'000'000;
        chip->runTo(to);
    }
}
void wholeBoard(benchmark::State& state) {
    const auto& s = stage();
    auto started = emulator::startGadget(s.project, s.parts, s.plan, emulator::usualCache());
    if (!started) return state.SkipWithError("no compiler");
    auto& board = **started;
    board.fit(plant::Bench{plan::machinesOf(s.project, s.parts, s.plan).couplings, 1});
    board.keepEdges(100'000);
    std::string command;
    state.SetLabel(doing(static_cast<int>(state.range(0)), command));
    board.advance(0.5);
    for (auto _ : state) {
        board.write(command);
        board.advance(1.0);
    }
}
BENCHMARK(chipAlone)->DenseRange(0, 3)->Unit(benchmark::kMillisecond);
BENCHMARK(wholeBoard)->DenseRange(0, 3)->Unit(benchmark::kMillisecond);

}  // namespace
