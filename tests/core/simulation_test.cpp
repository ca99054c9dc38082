#include <cmath>
#include "link/protocol.hpp"
#include "plan/firmware_model.hpp"
#include "plan/machines.hpp"
#include "plant/on_times.hpp"
#include "project/routine_edits.hpp"
#include "simulation/interpreted_board.hpp"
#include "simulation/scene.hpp"
#include "simulation/simulate.hpp"
#include "simulation/supply_day.hpp"
#include "store/document.hpp"
#include "support/alone.hpp"

namespace hinge::simulation {
namespace {

class Scene : public testing::Test {
protected:
    Scene()
        : project_{test::demoProject()},
          parts_{test::shippedParts()},
          plan_{plan::evaluate(project_, parts_)},
          plants_{*plan::plantsOf(project_, parts_, plan_)} {}
    Traces play(const std::string& csv, double length, bool as_proved = false) {
        Options options;
        options.length = length;
        options.as_proved = as_proved;
        auto events = parseEvents(csv);
        EXPECT_TRUE(events) << sentence(events.error());
        options.events = *events;
        auto traces = simulate(*plan_.program, plants_, options);
        EXPECT_TRUE(traces) << sentence(traces.error());
        return *traces;
    }
    project::Project project_;
    project::Parts parts_;
    plan::Plan plan_;
    std::vector<plant::PumpFigures> plants_;
};

TEST_F(Scene, aPressGivesOneDose) {
    const auto traces = play("0.5,start,1\n0.7,start,0\n", 6.0);
    ASSERT_EQ(traces.switchings.size(), 2U);
    EXPECT_NEAR(traces.switchings[0].time, 0.520, 1.1e-3) << "20 ms of debounce by hand";
    EXPECT_NEAR(traces.switchings[1].time - traces.switchings[0].time, si(*plan_.channels.front().dose_time), 1.1e-3);
}

TEST_F(Scene, atRestTheChargeIsTheRestCurrentTimesTheTime) {
    const auto tree = plan::supplyTree(plan::under(project_, plan::supplyOptions(project_).front()), parts_, plan_);
    ASSERT_TRUE(tree);
    EXPECT_NEAR(supplyOf(play("", 3600.0), *tree).charge, 0.045 * 3600.0, 1e-4) << "closed form Q = I·t; the board's own 45 mA";
}

// What the loads draw in a scene, worked out from change to change, is what the plan counts: never more than its worst, and as
// much where the one cue there is brings it about.
TEST_F(Scene, drawsWhatThePlanSays) {
    const auto tree = plan::supplyTree(plan::under(project_, plan::supplyOptions(project_).front()), parts_, plan_);
    ASSERT_TRUE(tree);
    const auto day = supplyOf(play("0.5,start,1\n0.7,start,0\n", 6.0), *tree);
    EXPECT_NEAR(day.drawn, si(*plan_.headline.worst_current), 1e-6);
    EXPECT_NEAR(day.drawnAt(day.drawn_time), day.drawn, 1e-6);
    EXPECT_NEAR(day.drawnAt(0.2), 0.045, 1e-6);
    const auto jammed = supplyOf(play("0.5,start,1\n0.7,start,0\n1.0,jam,rain\n", 6.0), *tree);
    EXPECT_NEAR(jammed.drawnAt(1.5), 0.045 + si(*plan_.channels.front().chosen->stalled), 1e-3) << "held fast it draws its stall current";
    const auto flat = supplyOf(play("0.5,start,1\n0.7,start,0\n1.0,supply,80%\n", 6.0), *tree);
    EXPECT_NEAR(flat.lowest[0].volts, 0.8 * 12.0, 0.01);
}

TEST_F(Scene, aDayOfTwoMatineesFiresTwice) {
    const auto traces = play("0.1,clock,00:00:00\n", 86400.0);
    ASSERT_EQ(traces.switchings.size(), 4U);
    EXPECT_NEAR(traces.switchings[0].time, 14.5 * 3600 + 0.1, 0.02);
    EXPECT_NEAR(traces.switchings[2].time, 19.0 * 3600 + 0.1, 0.02);
}

// From off to full in a minute: the charge is that of every tick, stepped one by one on the interpreted board.
TEST_F(Scene, aSlowFadeThatStartsFromOffIsNotSkipped) {
    auto project = project_;
    project.routine = {};
    project = project::addCue(project, "dawn");
    project.routine.cues.back().input = project.inputs.front().id;
    const auto dawn = project.routine.cues.back().id;
    project = project::addMove(project, dawn, routine::Action::Fade, project.channels.front().id);
    project.routine.cues.back().moves.back().level = of<Fraction>(1.0);
    project.routine.cues.back().moves.back().time = of<Duration>(60.0);
    const auto plan = plan::evaluate(project, parts_);
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto plants = *plan::plantsOf(project, parts_, plan);
    Options options;
    options.length = 62.0;
    options.events = *parseEvents("0.5," + project.inputs.front().id + ",1\n");
    const auto traces = simulate(*plan.program, plants, options);
    ASSERT_TRUE(traces);
    InterpretedBoard board(*plan.program, plants, "demo", "test");
    double charge = 0.0;
    for (int k = 0; k < 62000; ++k) {
        if (k == 500) board.setInput(0, true);
        board.advance(1e-3);
        charge += 1e-3 * board.observe().supply_current;
    }
    ASSERT_GT(charge, 1.0);
    const auto tree = plan::supplyTree(plan::under(project, plan::supplyOptions(project).front()), parts_, plan);
    ASSERT_TRUE(tree);
    // The supply goes by a power of the share, the board by a motor stepped in every tick.
    EXPECT_NEAR(supplyOf(*traces, *tree).charge - 0.045 * 62.0, charge, 0.1 * charge);
}

TEST_F(Scene, jumpingOverQuietTimesChangesNothing) {
    // The interpreted board steps every tick; simulate() jumps.
    const auto traces = play("2.0,start,1\n2.2,start,0\n40.0,start,1\n40.2,start,0\n", 60.0);
    InterpretedBoard board(*plan_.program, plants_, "demo", "test");
    board.advance(2.0), board.setInput(0, true);
    board.advance(0.2), board.setInput(0, false);
    board.advance(37.8), board.setInput(0, true);
    board.advance(0.2), board.setInput(0, false);
    board.advance(19.8);
    std::vector<double> stepped;
    for (const auto& edge : board.edges())
        if (edge.output == 0) stepped.push_back(edge.time);
    ASSERT_EQ(stepped.size(), traces.switchings.size());
    for (std::size_t i = 0; i < stepped.size(); ++i) EXPECT_NEAR(stepped[i], traces.switchings[i].time, 1e-9);
    EXPECT_NEAR(board.observe().poured, traces.samples.back().poured, 1e-10)
        << "below a ten-thousandth of its speed the coasting is cut off";
}

TEST_F(Scene, aPowerCutEndsTheDoseAndLosesTheClock) {
    const auto traces = play("0.1,clock,14:29:58\n0.5,start,1\n0.7,start,0\n1.5,power,\n", 8.0);
    ASSERT_EQ(traces.switchings.size(), 2U) << "the matinee at 14:30 is missed: the clock was lost";
    EXPECT_NEAR(traces.switchings[1].time, 1.5, 1.1e-3);
}

TEST_F(Scene, theCounterExampleShowsTheViolation) {
    project_ = test::edited(project_, {{"routine/cues/storm/guards/dry/throughout", "no"}});
    plan_ = plan::evaluate(project_, parts_);
    const auto proofs = routine::prove(*plan_.program);
    ASSERT_EQ(proofs.front().status, routine::ProofStatus::Violated);
    Options options;
    options.length = 2.0;
    options.as_proved = true;
    options.events = storyEvents(*plan_.program, proofs.front());
    const auto traces = simulate(*plan_.program, plants_, options);
    ASSERT_TRUE(traces);
    ASSERT_FALSE(traces->switchings.empty()) << "the pump runs in the story";
}

// By hand: two runs of three pulses a quarter of a second apart, then one that does not end; another output's edges are not counted.
TEST(OnTimes, areEachOnAndOffAndNotTheFirstAndLastEdge) {
    std::vector<plant::Edge> edges;
    for (const double from : {1.0, 1.25})
        for (int k = 0; k < 3; ++k) edges.push_back({from + 0.01 * k, 0, -1, 1}), edges.push_back({from + 0.01 * k + 0.005, 0, -1, 0});
    edges.push_back({1.6, 1, -1, 1});
    edges.push_back({2.0, 0, -1, 1});
    const auto times = plant::onTimes(edges, 0);
    ASSERT_EQ(times.size(), 3U);
    EXPECT_DOUBLE_EQ(times[0].from, 1.0);
    EXPECT_DOUBLE_EQ(*times[0].to, 1.025);
    EXPECT_EQ(times[0].pulses, 3);
    EXPECT_DOUBLE_EQ(times[1].from, 1.25);
    EXPECT_FALSE(times[2].to) << "still on";
    EXPECT_TRUE(plant::onTimes(edges, 2).empty());
    // An alarm that stays true: three seconds on, off for 20 µs, on again: two times, not one. A fade at 490 Hz that reaches full in
    // between is one.
    const auto again = plant::onTimes({{1.0, 0, -1, 1}, {4.0, 0, -1, 0}, {4.00002, 0, -1, 1}, {7.0, 0, -1, 0}}, 0);
    ASSERT_EQ(again.size(), 2U);
    EXPECT_EQ(again[0].to, 4.0);
    EXPECT_EQ(again[1].from, 4.00002);
    std::vector<plant::Edge> fade;
    for (int k = 0; k < 10; ++k) fade.push_back({1.0 + 0.002 * k, 0, -1, 1}), fade.push_back({1.0018 + 0.002 * k, 0, -1, 0});
    fade.push_back({1.02, 0, -1, 1}), fade.push_back({2.0, 0, -1, 0});
    for (int k = 0; k < 10; ++k) fade.push_back({2.0002 + 0.002 * k, 0, -1, 1}), fade.push_back({2.0018 + 0.002 * k, 0, -1, 0});
    EXPECT_EQ(plant::onTimes(fade, 0).size(), 1U);
}

TEST(Events, areRefusedByTheirLine) {
    for (const char* bad : {"x,start,1", "1,start", "1,start,2", "1,clock,25:00", "-1,start,1"})
        EXPECT_FALSE(parseEvents(std::string{"time,what,value\n"} + bad)) << bad;
    const auto error = parseEvents("0,start,1\nrubbish\n").error();
    EXPECT_EQ(error.field, "events, line 2");
}

TEST(PumpPlant, settlesAsTheMotorEquationSays) {
    plant::PumpFigures figures;
    figures.supply = 12.0;
    figures.running = 0.24;
    figures.resistance = 12.0 / 0.7;
    figures.nominal_back = 12.0 - 0.24 * figures.resistance;
    figures.spin_up = 0.06;
    figures.flow = {0.0, 1e-5};
    figures.speed_step = 1.0;
    plant::PumpPlant plant(figures);
    for (int i = 0; i < 2000; ++i) plant.step(1e-3, 1.0);
    EXPECT_NEAR(plant.speed(), 1.0, 1e-9) << "nominal volts, nominal speed";
    EXPECT_NEAR(plant.motorCurrent(), 0.24, 1e-6);
    plant::PumpPlant started(figures);
    started.step(0.06, 1.0);
    EXPECT_NEAR(started.speed(), 1.0 - std::exp(-1.0), 1e-9) << "63 % after one time constant";
    // However the time is cut, and also where it runs on or stands for long: by hand, m = ∫(1 − e^(−t/τ)) over 2 s, then e^(−t/τ).
    plant::PumpPlant even(figures), uneven(figures);
    for (int i = 0; i < 2000; ++i) even.step(1e-3, 1.0), uneven.step(0.3e-3, 1.0), uneven.step(0.7e-3, 1.0);
    for (const auto* each : {&even, &uneven}) EXPECT_NEAR(each->poured(), 1e-5 * (2.0 - 0.06), 1e-9);
    for (int i = 0; i < 90; ++i) even.step(1e-3, 0.0), uneven.step(0.3e-3, 0.0), uneven.step(0.7e-3, 0.0);
    for (const auto* each : {&even, &uneven}) EXPECT_NEAR(each->speed(), std::exp(-1.5), 1e-9);
    for (int i = 0; i < 5000; ++i) even.step(1e-3, 0.0), uneven.step(0.3e-3, 0.0), uneven.step(0.7e-3, 0.0);
    for (auto* each : {&even, &uneven}) {
        EXPECT_EQ(each->supplyCurrent(), 0.0);
        EXPECT_NEAR(each->poured(), 1e-5 * 2.0, 1e-9) << "what it gained late it gives late";
        each->jam(true);
        each->step(1e-3, 1.0);
        each->step(1e-3, 1.0);
        EXPECT_NEAR(each->motorCurrent(), 12.0 / figures.resistance, 1e-9) << "held fast, its winding alone";
        each->jam(false);
        for (int i = 0; i < 60; ++i) each->step(1e-3, 1.0);
        EXPECT_NEAR(each->speed(), 1.0 - std::exp(-1.0), 1e-9) << "and goes on from there";
    }
}

// As a person would have it: each contact is pressed once, and all its cues answer at once; nothing is started twice.
TEST(DefaultScene, pressesEachContactOnce) {
    const auto parts = test::shippedParts();
    const auto project = test::exampleProject("paper-moon-stage");
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.program);
    const auto script = everyCueOnce(*plan.program);
    ASSERT_EQ(script.size(), 4U) << "two contacts, pressed and let go";
    EXPECT_EQ(script[0].input, "start");
    EXPECT_TRUE(script[0].active);
    EXPECT_EQ(script[2].input, "scene");
    Options options;
    options.events = script;
    options.length = sceneLength(*plan.program, script);
    options.machines = plan::heldMachines(project, parts, plan);
    const auto traces = simulate(*plan.program, *plan::plantsOf(project, parts, plan), options);
    ASSERT_TRUE(traces);
    // Lamps, mist and curtain begin with the press of 'scene', after its debounce of 20 ms.
    int together = 0;
    std::vector<int> starts(plan.program->outputs.size(), 0);
    for (const auto& each : traces->switchings) {
        together += each.on && std::abs(each.time - script[2].time - 0.02) < 0.005 ? 1 : 0;
        if (each.on) ++starts[static_cast<std::size_t>(each.output)];
    }
    EXPECT_GE(together, 3);
    EXPECT_TRUE(std::all_of(starts.begin(), starts.end(), [](int n) { return n >= 1; })) << "everything moves once";
}
// What follows another comes by itself, in its turn; a contact that must be held is held; what only the clock starts is started.
TEST(DefaultScene, letsWhatFollowsComeByItself) {
    auto project = test::running(test::alone(project::ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v"), 2.0);
    const auto first = project.routine.cues.front().id;
    const auto another = [&](const char* name) -> routine::Cue& {
        project = project::addCue(project, name);
        project = project::addMove(project, project.routine.cues.back().id, routine::Action::Run, "it");
        project.routine.cues.back().moves.back().time = of<Duration>(1.0);
        return project.routine.cues.back();
    };
    another("then").after = first;
    another("hourly").every = of<Duration>(3600.0);
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program) << sentence(plan.program_error.value_or(Error{}));
    const auto script = everyCueOnce(*plan.program);
    ASSERT_EQ(script.size(), 3U);
    EXPECT_FALSE(script[0].input.empty());
    EXPECT_EQ(script[1].input, script[0].input);
    EXPECT_EQ(script[2].cue, "hourly");
    EXPECT_GE(sceneLength(*plan.program, script), 0.5 + 2.0 + 1.0) << "the one and the one behind it";
    auto held = plan;
    held.program->cues[0].inputs.clear();
    held.program->cues[0].held_input = 0;
    held.program->cues[0].held_parameter = held.program->cues[0].held_parameter >= 0 ? held.program->cues[0].held_parameter : 0;
    const double wanted = held.program->parameters[static_cast<std::size_t>(held.program->cues[0].held_parameter)].value * 1e-3;
    const auto longer = everyCueOnce(*held.program);
    ASSERT_GE(longer.size(), 2U);
    EXPECT_GT(longer[1].time - longer[0].time, wanted);
}

// A loop in the scene is closed by its machine: the turntable is held at 30 rpm by about half of its power, not left at full for want of a
// tach.
TEST(Simulation, closesItsLoops) {
    const auto project = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project;
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    Options options;
    options.length = 12.0;
    options.events.push_back({.time = 0.5, .input = "scene", .active = true});
    options.machines = plan::heldMachines(project, parts, plan);
    const auto traces = simulate(*plan.program, *plan::plantsOf(project, parts, plan), options);
    ASSERT_TRUE(traces);
    const auto driven = plan::drivenChannels(project, plan);
    std::size_t turntable = 0;
    while (driven[turntable]->id != "turntable") ++turntable;
    // By hand: at π rad/s the winding takes (kω + R·T/k′)/V of full, friction and all.
    const auto rotor = std::get<plant::Rotor>(options.machines.front().machine).figures();
    const double share = (rotor.back * 3.14159265 + rotor.friction * rotor.resistance / rotor.torque) / rotor.supply;
    EXPECT_NEAR(traces->samples.back().duty[turntable], share, 0.05);
    // A script that gives the tach itself has its way.
    options.events.push_back({.time = 1.0, .input = "spin", .rate = 0.0});
    const auto held = simulate(*plan.program, *plan::plantsOf(project, parts, plan), options);
    ASSERT_TRUE(held) << sentence(held.error());
    EXPECT_EQ(held->samples.back().duty[turntable], 1.0) << "no pulse comes: all it has";
}

// A link that fell silent stops everything, and the telemetry says so, on the desk as on the board: until a cue starts.
// A fade from nothing, where nothing else happens meanwhile: it comes on, and goes off.
TEST(Simulation, tellsAFadeFromNothing) {
    const auto project = test::edited(test::exampleProject("greenhouse-kettle"), {{"routine/cues/dawn_comes/moves/brightens/time", "4 s"},
                                                                                  {"routine/cues/dawn_comes/moves/stays/time", "5 s"},
                                                                                  {"routine/cues/dawn_comes/moves/sinks/time", "3 s"}});
    const auto plan = plan::evaluate(project, test::shippedParts());
    const auto plants = plan::plantsOf(project, test::shippedParts(), plan);
    ASSERT_TRUE(plants && plan.program);
    Event start;
    start.time = 0.5, start.cue = "dawn_comes";
    Options options;
    options.events = {start};
    options.length = 20.0;
    const auto traces = simulate(*plan.program, *plants, options);
    ASSERT_TRUE(traces);
    std::vector<std::pair<double, bool>> dawn;
    for (const auto& each : traces->switchings)
        if (each.output == 1) dawn.emplace_back(each.time, each.on);
    ASSERT_EQ(dawn.size(), 2U);
    EXPECT_TRUE(dawn[0].second);
    EXPECT_NEAR(dawn[0].first, 0.5, 4.0 / 800.0 + 0.002) << "within the time of a permille";
    EXPECT_NEAR(dawn[1].first, 12.5, 3.0 / 800.0 + 0.002);
}

TEST(Interpreted, saysThatItStoppedWhenTheLinkFellSilent) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    auto program = *plan.program;
    program.link_parameter = static_cast<int>(program.parameters.size());
    program.parameters.push_back({"link_silence", "ms", "", 100, 0, 1000, ""});
    simulation::InterpretedBoard board(program, plan::plantsOf(project, parts, plan).value(), "it", "00000000");
    const auto stopped = [&](double after) {
        board.advance(after);
        link::Decoder decoder;
        std::optional<bool> last;
        for (const auto& message : decoder.feed(board.read()))
            if (const auto* frame = std::get_if<link::Telemetry>(&message)) last = frame->stopped;
        return last;
    };
    board.write("stream 1\n");
    EXPECT_EQ(stopped(0.05), false);
    EXPECT_EQ(stopped(0.2), true) << "100 ms after it spoke";
    board.write("start 0\n");
    EXPECT_EQ(stopped(0.05), false);
}

}  // namespace
}  // namespace hinge::simulation
