// What the maker waits for, each beside a reference in the same run: `squareRoots`, a million of them
// with nothing else, stands for the machine. `benchmarks/run` prints the ratios.
#include <benchmark/benchmark.h>
#include <cmath>
#include <random>
#include "catalogue/catalogue.hpp"
#include "emulator/gadget.hpp"
#include "match/rank.hpp"
#include "plan/plan.hpp"
#include "routine/prove.hpp"
#include "simulation/interpreted_board.hpp"
#include "simulation/simulate.hpp"
#include "store/document.hpp"
#include "support/generated_routine.hpp"

namespace {

using namespace hinge;

struct Demo {
    explicit Demo(const std::string& folder) : project{store::load(HINGE_SOURCE_DIR + folder).value().project} {}
    project::Project project;
    project::Parts parts = catalogue::load(HINGE_SOURCE_DIR "/parts").value().parts;
    plan::Plan plan = plan::evaluate(project, parts);
};
// The rain pump alone, and the whole stage with its six channels.
const Demo& demo() {
    static const Demo one{"/tests/projects/rain-alone"};
    return one;
}
const Demo& stage() {
    static const Demo one{"/demos/paper-moon-stage"};
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

// A generated catalogue of motors, gearmotors, servos and steppers spread over decades of strength.
project::Parts generated(std::size_t actuators, std::size_t drivers) {
    std::mt19937 dice(7);
    std::uniform_real_distribution<double> decade(-1.0, 1.0);
    project::Parts parts;
    const auto& shipped = demo().parts;
    std::vector<const actuator::Part*> models;
    for (const auto& part : shipped.actuators)
        if (std::holds_alternative<actuator::Motor>(part) || std::holds_alternative<actuator::Servo>(part) ||
            std::holds_alternative<actuator::Stepper>(part))
            models.push_back(&part);
    for (std::size_t i = 0; i < actuators; ++i) {
        auto part = *models[i % models.size()];
        actuator::head(part).id += "-" + std::to_string(i);
        const double factor = std::pow(10.0, decade(dice));
        if (auto* m = std::get_if<actuator::Motor>(&part))
            m->stall_torque = of<Torque>(si(*m->stall_torque) * factor),
            m->no_load_speed = of<RotationSpeed>(si(*m->no_load_speed) / factor);
        if (auto* s = std::get_if<actuator::Servo>(&part); s != nullptr && s->torque_low)
            s->torque_low = of<Torque>(si(*s->torque_low) * factor), s->torque_high = of<Torque>(si(*s->torque_high) * factor);
        if (auto* s = std::get_if<actuator::Stepper>(&part)) s->holding_torque = of<Torque>(si(*s->holding_torque) * factor);
        actuator::head(part).price = of<Ratio>(2.0 + 10.0 * factor);
        parts.actuators.push_back(std::move(part));
    }
    for (std::size_t i = 0; i < drivers; ++i) {
        auto driver = shipped.drivers[i % shipped.drivers.size()];
        driver.id += "-" + std::to_string(i);
        if (driver.current_max) driver.current_max = of<Current>(si(*driver.current_max) * std::pow(10.0, 0.5 * decade(dice)));
        parts.drivers.push_back(std::move(driver));
    }
    return parts;
}

const plan::ChannelPlan& moon() {
    return *plan::findChannel(stage().plan, "moon");
}

// One channel against 20 000 parts and 500 drivers: the first 200 parts with their reasons. Target: 100 ms.
void matchLargeCatalogue(benchmark::State& state) {
    static const auto parts = generated(20'000, 500);
    for (auto _ : state) benchmark::DoNotOptimize(match::candidates(moon().context, parts, 200));
}
BENCHMARK(matchLargeCatalogue);

// The same, every surviving pair of the ten million in order: nobody needs it, it shows what staging saves.
void matchEverySurvivor(benchmark::State& state) {
    static const auto parts = generated(20'000, 500);
    std::size_t found = 0;
    for (auto _ : state) {
        const auto rows = match::survivors(moon().context, parts);
        found = rows.size();
        benchmark::DoNotOptimize(rows);
    }
    state.counters["survivors"] = static_cast<double>(found);
}
BENCHMARK(matchEverySurvivor);

// The same on every pair, one by one, over a hundredth of it.
void matchEveryPair(benchmark::State& state) {
    static const auto parts = generated(2'000, 50);
    for (auto _ : state) benchmark::DoNotOptimize(match::everyPair(moon().context, parts));
}
BENCHMARK(matchEveryPair);

// An edit in Need re-ranks the shipped catalogue: demand, every pair, words for sixty rows. Target: 16 ms.
void rerankShipped(benchmark::State& state) {
    for (auto _ : state) {
        match::Context context = moon().context;
        context.ask = match::ask(context.demand);
        benchmark::DoNotOptimize(match::candidates(context, stage().parts, 60));
    }
}
BENCHMARK(rerankShipped);

// Six channels, everything from decisions to findings.
void evaluateStage(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(plan::evaluate(stage().project, stage().parts));
}
BENCHMARK(evaluateStage);

// The stage's channels over and over on the larger board, without pins, as a gadget grows: what is offered for them is worked out anew.
project::Project grown(std::size_t channels) {
    auto project = project::with(stage().project, project::FactEdit{"board/form", "atmega2560-16mhz"}).value();
    const auto first = project.channels.size();
    for (std::size_t k = 0; project.channels.size() < channels; ++k)
        project = project::duplicateChannel(project, project.channels[k % first].id);
    for (auto& channel : project.channels) channel.pin = channel.direction_pin = channel.enable_pin = "";
    return project;
}
// Target: 2 ms.
void evaluateTwelve(benchmark::State& state) {
    static const auto project = grown(12);
    for (auto _ : state) benchmark::DoNotOptimize(plan::evaluate(project, stage().parts));
}
BENCHMARK(evaluateTwelve);
// Target: 100 ms. Forty-six do not fit: which of them clash, and what would help, is worked out too.
void evaluateFortySix(benchmark::State& state) {
    static const auto project = grown(46);
    for (auto _ : state) benchmark::DoNotOptimize(plan::evaluate(project, stage().parts));
}
BENCHMARK(evaluateFortySix);
// The same after an edit of one fact, with the plan before at hand.
void evaluateFortySixAgain(benchmark::State& state) {
    static const auto project = grown(46);
    static const auto before = plan::evaluate(project, stage().parts);
    const auto edited = project::with(project, project::FactEdit{"channels/rain/demand/lift", "0.4 m"}).value();
    for (auto _ : state) benchmark::DoNotOptimize(plan::evaluate(edited, stage().parts, {}, &before));
}
BENCHMARK(evaluateFortySixAgain);

// Every reachable state of the demo's routine, for all its interlocks.
void proveInterlocks(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(routine::prove(*demo().plan.program));
}
BENCHMARK(proveInterlocks);

// A made routine of twelve channels and forty cues, six of whose timers may run at once: every claim, explored fully. Target: 5 s.
void proveForty(benchmark::State& state) {
    const auto program = test::generated(6).program().value();
    std::size_t states = 0;
    for (auto _ : state) {
        states = 0;
        for (const auto& proof : routine::prove(program)) {
            if (proof.status == routine::ProofStatus::Bounded) return state.SkipWithError("not explored fully");
            states += proof.states;
        }
    }
    state.counters["states"] = static_cast<double>(states);
}
BENCHMARK(proveForty);

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
    simulation::InterpretedBoard board(*demo().plan.program, plan::plantsOf(demo().project, demo().parts, demo().plan).value(), "demo",
                                       "benchmark");
    board.write("start 0\n");
    for (auto _ : state) board.advance(1.0);
}
BENCHMARK(interpretedSecond);

}  // namespace

BENCHMARK_MAIN();
