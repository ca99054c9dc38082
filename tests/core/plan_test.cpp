#include "driver/bridge_states.hpp"
// Each rule has one project that trips it, one that just does not, and a remedy that cures it.
#include <algorithm>
#include <map>
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "project/routine_edits.hpp"
#include "support/demo.hpp"

namespace hinge::plan {
namespace {

using project::FactEdit;
using Edits = std::vector<FactEdit>;

Plan planOf(const project::Project& project) {
    const auto parts = test::shippedParts();
    Plan plan = evaluate(project, parts);
    if (plan.program) plan = evaluate(project, parts, {routine::prove(*plan.program), std::nullopt, false});
    return plan;
}

struct Rule {
    const char* id;
    Edits trips;
    Edits holds;  // just does not
    bool has_remedy;
    const char* why;
};
const Rule rules[] = {
    {"gate-not-enhanced",
     {{"channels/rain/drive/part", "mosfet_ordinary_55v"}},
     {{"channels/rain/drive/part", "mosfet_logic_55v"}},
     true,
     "guaranteed at 10 V only; the other at 5 V"},
    {"no-flyback-path", {{"channels/rain/drive/flyback_diode", "no"}}, {}, true, "an inductive load needs a path"},
    {"pin-overcurrent",
     {{"channels/rain/drive/gate_resistor", "249"}},
     {{"channels/rain/drive/gate_resistor", "250"}},
     true,
     "5 V/250 Ω is the pin's 20 mA"},
    {"gate-divided",
     {{"channels/rain/drive/pulldown_side", "gate"}, {"channels/rain/drive/gate_resistor", "1.2k"}},
     {{"channels/rain/drive/pulldown_side", "gate"}, {"channels/rain/drive/gate_resistor", "1.1k"}},
     true,
     "below 0.9 of the drive"},
    {"dose-over-time",
     {{"channels/rain/demand/volume", "80 mL"}},
     {{"channels/rain/demand/volume", "60 mL"}},
     true,
     "4 s at 1.06 L/min are 71 mL"},
    {"pump-cannot-lift", {{"channels/rain/demand/lift", "1.5 m"}}, {{"channels/rain/demand/lift", "0.5 m"}}, true, "the pump lifts 1.2 m"},
    {"supply-over", {{"sources/adapter/voltage", "13.3 V"}}, {{"sources/adapter/voltage", "13.1 V"}}, true, "1.1 times 12 V is 13.2 V"},
    {"relay-no-pwm",
     {{"channels/rain/drive/part", "relay_board_5v"}},
     {{"channels/rain/drive/part", "relay_board_5v"}, {"channels/rain/signal/soft_start", "0 s"}},
     true,
     "contacts cannot follow pulses"},
    {"fuse-missing", {{"rails/movers/fuse", ""}}, {}, true, "a jam needs a fuse"},
    {"fuse-small", {{"rails/movers/fuse", "0.31 A"}}, {{"rails/movers/fuse", "0.32 A"}}, true, "239 mA/0.75 is 319 mA"},
    {"fuse-large",
     {{"rails/movers/fuse", "1 A"}},
     {{"rails/movers/fuse", "0.46 A"}},
     true,
     "a jam draws 695 mA; 1.5·0.46 A are 690 mA (IEC 60127-2, from memory)"},
    {"wire-drop", {{"rails/movers/wire_length", "15 m"}}, {{"rails/movers/wire_length", "10 m"}}, true, "3 % of 12 V at the start current"},
    {"regulator-hot", {{"rails/logic/theta_ja", "330 K/W"}}, {{"rails/logic/theta_ja", "310 K/W"}}, true, "0.315 W: 100 K at 317 K/W"},
    {"regulator-dropout", {{"sources/adapter/voltage", "6 V"}}, {{"sources/adapter/voltage", "6.2 V"}}, false, "5 V and 1.1 V of drop-out"},
    {"rail-over", {{"rails/logic/voltage", "5.6 V"}}, {{"rails/logic/voltage", "5.5 V"}}, true, "the board takes 5 V and a tenth"},
    {"out-of-guaranteed-range",
     {{"rails/logic/voltage", "3.7 V"}},
     {{"rails/logic/voltage", "3.8 V"}},
     false,
     "3.78 V at 16 MHz, data sheet speed grades"},
    {"source-over", {{"sources/adapter/current", "0.5 A"}}, {{"sources/adapter/current", "0.7 A"}}, true, "506 mA against 0.8 of it"},
    {"usb-budget", {{"sources/adapter/kind", "usb-port"}}, {}, true, "USB 2.0: 500 mA"},
    {"rail-loop", {{"rails/movers/from", "movers"}}, {}, false, "a rail that feeds itself"},
    {"pin-cannot",
     {{"channels/rain/pin", "D4"}},
     {{"channels/rain/pin", "D4"}, {"channels/rain/signal/soft_start", "0 s"}},
     true,
     "D4 has no PWM"},
    {"pin-taken", {{"channels/rain/pin", "D2"}}, {}, true, "start sits there"},
    {"serial-shared", {{"inputs/start/pin", "D0"}}, {{"inputs/start/pin", "D8"}}, true, "the serial line"},
    {"timer-clash",
     {{"channels/rain/signal/frequency", "2 kHz"}},
     {{"channels/rain/signal/frequency", "980 Hz"}},
     true,
     "timer 0 keeps the clock at 976.6 Hz"},
    {"audible-pwm", {{"channels/rain/signal/duty", "80 %"}}, {}, true, "977 Hz can be heard"},
    {"interlock-violable", {{"routine/cues/storm/guards/dry/throughout", "no"}}, {}, true, "the guard looks only at the start"},
    {"flow-off-model",
     {{"channels/rain/calibration/cup_volume", "100 mL"}, {"channels/rain/calibration/cup_time", "8 s"}},
     {{"channels/rain/calibration/cup_volume", "100 mL"}, {"channels/rain/calibration/cup_time", "6 s"}},
     false,
     "0.75 against 1.06 L/min"},
    {"part-missing", {{"channels/rain/actuator", "ghost"}}, {}, false, "not in the catalogue"},
    {"sample-first", {}, {{"channels/rain/actuator", "centrifugal_12v_medium"}}, false, "not marked as tested"},
    {"clock-lost", {}, {{"routine/cues/storm/times", ""}}, true, "a clock that a power cut loses"},
    {"restart-unattended", {}, {{"routine/cues/storm/times", ""}}, false, "starts by itself"},
    {"mover-on-logic-rail", {{"channels/rain/rail", "logic"}}, {}, false, "a pump on the board's own rail"},
    {"no-safe-state", {{"channels/rain/safe", "on"}}, {}, true, "a pump that is on where it should be safe"},
    {"fires-twice", {{"routine/cues/storm/late", "600 s"}}, {}, false, "a missed time that is made up for may come twice"},
    {"only-way-out",
     {{"brief/purpose", "Opens the back door for the cat"}},
     {{"channels/rain/name", "Back door"}},
     false,
     "a door is never the only way out; what a channel is called says nothing"},
};

class Rules : public testing::TestWithParam<Rule> {};

TEST_P(Rules, tripHoldAndAreCured) {
    const Rule& rule = GetParam();
    const auto demo = test::demoProject();
    const auto tripped = test::edited(demo, rule.trips);
    const auto plan = planOf(tripped);
    const auto* found = test::finding(plan, rule.id);
    ASSERT_NE(found, nullptr) << rule.why;
    EXPECT_FALSE(found->text.empty());
    const bool always = rule.trips.empty();
    EXPECT_EQ(test::finding(planOf(always               ? test::edited(demo, rule.holds)
                                   : rule.holds.empty() ? demo
                                                        : test::edited(demo, rule.holds)),
                            rule.id),
              nullptr)
        << "just does not trip: " << rule.why;
    EXPECT_EQ(!found->remedies.empty(), rule.has_remedy) << rule.why;
    for (const auto& remedy : found->remedies) {
        const auto cured = project::with(tripped, remedy.edits);
        ASSERT_TRUE(cured) << remedy.label << ": " << sentence(cured.error());
        const auto after = planOf(*cured);
        EXPECT_EQ(test::finding(after, rule.id), nullptr) << "'" << remedy.label << "' must cure it";
    }
}
INSTANTIATE_TEST_SUITE_P(Table, Rules, testing::ValuesIn(rules), [](const auto& row) {
    std::string name = row.param.id;
    std::replace(name.begin(), name.end(), '-', '_');
    return name;
});

TEST(Plan, theDemoHoldsOnItsAdapter) {
    const auto plan = planOf(test::demoProject());
    EXPECT_EQ(plan.headline.breaks, 0);
    EXPECT_EQ(plan.headline.tight, 0);
}

TEST(Plan, isPure) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto a = evaluate(project, parts), b = evaluate(project, parts);
    ASSERT_EQ(a.findings.size(), b.findings.size());
    for (std::size_t i = 0; i < a.findings.size(); ++i) EXPECT_EQ(a.findings[i].text, b.findings[i].text);
    EXPECT_EQ(a.program, b.program);
}

TEST(Plan, aMainsHeaterOnAZeroCrossingRelayGetsTheCyclesThatHoldItsTemperature) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/proofing-box");
    ASSERT_TRUE(document);
    const auto plan = evaluate(document->project, test::shippedParts());
    const auto* heater = findChannel(plan, "heater");
    ASSERT_TRUE(heater != nullptr && heater->mains);
    EXPECT_NEAR(si(heater->mains->share), 0.9 * 8.0 / 40.0, 1e-12) << "by hand: 0.9 W/K over 8 K of a 40 W mat";
    EXPECT_EQ(std::count(heater->mains->pattern.begin(), heater->mains->pattern.end(), '1'), 9) << "18 % of 50 cycles";
    auto dimmed = test::edited(document->project, {{"channels/heater/drive/part", "phase_4a"}, {"channels/heater/signal/duty", "0.5"}});
    const auto plan_dimmed = evaluate(dimmed, test::shippedParts());
    const auto* fired = findChannel(plan_dimmed, "heater");
    ASSERT_TRUE(fired != nullptr && fired->mains && fired->mains->delay);
    EXPECT_NEAR(si(*fired->mains->delay), 5e-3, 1e-9) << "common practice, no published source: half power is 90°, 5 ms at 50 Hz";
}
TEST(Plan, aBridgesTableNamesEveryLineOfEveryState) {
    using driver::DriverClass;
    const auto whole = kinds::driverKind(DriverClass::HBridge).states(true),
               half = kinds::driverKind(DriverClass::HalfBridge).states(false);
    for (const auto* table : {&whole, &half})
        for (const auto& state : table->states) EXPECT_EQ(state.levels.size(), table->lines.size());
    EXPECT_EQ(half.lines, (std::vector<std::string>{"IN", "enable"})) << "the lines that the wiring list wires";
    EXPECT_FALSE(kinds::driverKind(DriverClass::Mosfet).states);
}
TEST(Plan, aFollowersChannelHasItsRoutine) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/proofing-box");
    ASSERT_TRUE(document);
    const auto plan = evaluate(document->project, test::shippedParts());
    const auto& cell = findChannel(plan, "heater")->cells[static_cast<std::size_t>(Stage::Routine)];
    EXPECT_EQ(cell.figure, "while not warm enough");
    EXPECT_EQ(cell.small, "never with lid open");
}
TEST(Expanders, takeTheLinesThatTheyCanServe) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage");
    ASSERT_TRUE(document);
    const auto parts = test::shippedParts();
    const auto plan = evaluate(document->project, parts);
    std::map<std::string, std::vector<std::string>> takes;
    for (const auto& choice : withExpanders(document->project, plan)) takes[std::string{choice.name}] = choice.takes;
    // By hand: one servo; lamps on a relay; start, tank and scene; the curtain's and turntable's still lines. Not the steps, not the 4-wire
    // fan.
    EXPECT_EQ(takes["12-channel serial servo controller"], (std::vector<std::string>{"Moon arm"}));
    const auto& pwm = takes["16-channel PWM expander"];
    ASSERT_FALSE(pwm.empty());
    EXPECT_EQ(pwm.front(), "Moon arm") << "50 Hz is the servo's; the pump's 976 Hz and the turntable's cannot share it";
    EXPECT_EQ(std::count(pwm.begin(), pwm.end(), "Rain (PWM)"), 0);
    const auto& io = takes["16-line I/O expander"];
    for (const char* name : {"House lamps", "start", "scene", "Curtain (direction)"})
        EXPECT_EQ(std::count(io.begin(), io.end(), name), 1) << name;
    EXPECT_EQ(std::count(io.begin(), io.end(), "Curtain"), 0) << "steps come too fast for it";
    EXPECT_FALSE(takes.contains("4-channel 16-bit ADC")) << "nothing is read as a level";
}
TEST(Expanders, areNamedWhereThePinsRunOut) {
    auto document = store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage");
    ASSERT_TRUE(document);
    auto project = document->project;
    for (int k = 0; k < 12; ++k) {
        project = project::duplicateChannel(project, "lamps");
        project.channels.back().pin.clear();
    }
    const auto plan = evaluate(project, test::shippedParts());
    const auto* found = test::finding(plan, "pins-short");
    ASSERT_NE(found, nullptr);
    EXPECT_NE(found->text.find("expander"), std::string::npos) << found->text;
}
TEST(Plan, everyCellSaysWhy) {
    for (const auto& channel : planOf(test::demoProject()).channels)
        for (const auto& cell : channel.cells) EXPECT_FALSE(cell.why.empty());
}

TEST(Plan, anEmptyGadgetIsNotKnownAndDoesNotCrash) {
    const auto plan = planOf(project::newProject());
    EXPECT_EQ(plan.verdict, Verdict::Unknown);
    EXPECT_TRUE(plan.channels.empty());
}

TEST(Plan, aNewChannelSaysWhatIsMissingAndHow) {
    const auto project = project::addRunningChannel(project::newProject(), project::ChannelKind::Pump, "Rain");
    const auto plan = planOf(project);
    ASSERT_EQ(plan.channels.size(), 1U);
    EXPECT_EQ(worst(plan.channels.front()), Verdict::Unknown);
    EXPECT_GE(plan.missing.size(), 8U);
    for (const auto& missing : plan.missing) EXPECT_FALSE(missing.how.empty()) << missing.label;
    const auto sketch = sketchOf(project, plan);
    ASSERT_FALSE(sketch) << "nothing is chosen that could be driven";
    EXPECT_EQ(sketch.error().code, ErrorCode::NotDriven);
    EXPECT_EQ(test::finding(plan, "routine-broken"), nullptr) << "missing is not broken";
    EXPECT_EQ(test::finding(plan, "not-driven"), nullptr) << "nor is what nobody has chosen yet";
}

TEST(Plan, anUnknownFigureOfAPartIsUnknownAndNeverAGuess) {
    const auto plan = planOf(test::edited(test::demoProject(), {{"channels/rain/actuator", "centrifugal_12v_bare"}}));
    const auto& cells = plan.channels.front().cells;
    EXPECT_EQ(cells[static_cast<std::size_t>(Stage::Match)].verdict, Verdict::Unknown);
    EXPECT_EQ(cells[static_cast<std::size_t>(Stage::Feed)].verdict, Verdict::Unknown);
    EXPECT_FALSE(plan.headline.worst_current);
}

TEST(Wiring, hasAWireForEveryPinAndTheDiodeByItsNet) {
    const auto project = test::demoProject();
    const auto parts = test::shippedParts();
    const auto wires = wiring(project, parts, evaluate(project, parts));
    const auto has = [&](const std::string& from, const std::string& note) {
        return std::any_of(wires.begin(), wires.end(),
                           [&](const Wire& w) { return w.from == from && w.note.find(note) != std::string::npos; });
    };
    EXPECT_TRUE(has("board D5", "330"));
    EXPECT_TRUE(has("board D2", "pull-up"));
    EXPECT_TRUE(has("board D7", "pull-up"));
    EXPECT_TRUE(has("tank empty contact, other side", ""));
    EXPECT_TRUE(has("Rain \xE2\x88\x92", "stripe to 12 V rail"));
    EXPECT_TRUE(has("every source's minus", "common ground"));
}

// Rules of the routine that need more than a changed figure.
TEST(RoutineRules, wordsThatAnybodyWouldTryAreNamedAndReplaced) {
    for (const char* word : {"open", "Rain", "letmein", "short", "opensesame"}) {
        auto project = project::addInput(test::demoProject(), project::InputKind::Word, "opens");
        project = test::edited(project, {{"inputs/opens/word", word}});
        const auto plan = planOf(project);
        const auto* found = test::finding(plan, "command-guessable");
        ASSERT_NE(found, nullptr) << word;
        const auto cured = project::with(project, found->remedies.front().edits);
        ASSERT_TRUE(cured);
        EXPECT_EQ(test::finding(planOf(*cured), "command-guessable"), nullptr) << word;
    }
    EXPECT_EQ(test::finding(planOf(project::addInput(test::demoProject(), project::InputKind::Word, "opens")), "command-guessable"),
              nullptr)
        << "the word that is offered is none of them";
}
TEST(RoutineRules, whatGoesRoundOrStaysOnIsSaid) {
    auto project = project::addCue(test::demoProject(), "for ever");
    const auto id = project.routine.cues.back().id;
    project = project::addMove(project, id, routine::Action::On, "rain");
    EXPECT_EQ(test::finding(planOf(test::demoProject()), "endless-wait"), nullptr);
    ASSERT_NE(test::finding(planOf(project), "overlapping-cues"), nullptr) << "two cues move the rain now";
    EXPECT_EQ(test::finding(planOf(project), "endless-wait"), nullptr) << "the storm's own end turns it off";
    const auto alone = planOf(project::removeCue(project, "storm"));
    const auto* found = test::finding(alone, "endless-wait");
    ASSERT_NE(found, nullptr) << "nothing turns it off but stop";
    EXPECT_EQ(found->severity, Severity::Warn);
    project = project::addMove(project, id, routine::Action::Wait, "");
    project = project::addMove(project, id, routine::Action::Again, "");
    project.routine.cues.back().moves.back().times = of<Count>(0.0);
    bool round = false;
    for (const auto& each : planOf(project).findings)
        round = round || (each.id == "endless-wait" && each.text.find("goes round for ever") != std::string::npos);
    EXPECT_TRUE(round);
}
TEST(RoutineRules, aTachNeedsAnInterruptAndAClockItsTwoPins) {
    auto project = project::addInput(test::demoProject(), project::InputKind::Tach, "tach");
    EXPECT_NE(test::finding(planOf(test::edited(project, {{"inputs/tach/pin", "D8"}})), "no-interrupt"), nullptr);
    EXPECT_EQ(test::finding(planOf(test::edited(project, {{"inputs/tach/pin", "D3"}})), "no-interrupt"), nullptr);
    project = project::addInput(test::demoProject(), project::InputKind::Knob, "knob");
    project = test::edited(project, {{"inputs/knob/pin", "A4"}, {"board/clock", "clock_bcd"}});
    EXPECT_NE(test::finding(planOf(project), "pin-cannot"), nullptr) << "A4 is the bus's data line";
    EXPECT_EQ(test::finding(planOf(test::edited(project, {{"inputs/knob/pin", "A0"}})), "pin-cannot"), nullptr);
}
TEST(RoutineRules, everyOutputHasItsFiveStates) {
    const auto project = test::edited(test::demoProject(), {{"channels/rain/remembers", "yes"}, {"routine/link_silence", "3 s"}});
    const auto rows = fiveStates(project, planOf(project));
    ASSERT_EQ(rows.size(), 1U);
    EXPECT_EQ(rows.front().power_up, "off");
    EXPECT_EQ(rows.front().link_lost, "off, after 3 s");
    EXPECT_EQ(rows.front().power_back, "as before");
}

}  // namespace
}  // namespace hinge::plan
