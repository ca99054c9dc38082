#include <algorithm>
#include <map>
#include "driver/bridge_states.hpp"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "plan/pin_plan.hpp"
#include "plan/wiring.hpp"
#include "project/routine_edits.hpp"
#include "support/alone.hpp"
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
    const auto whole = kinds::driverKind(DriverClass::HBridge).states({}, true),
               half = kinds::driverKind(DriverClass::HalfBridge).states({}, false);
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
    // By hand: one servo; lamps on a relay; start, tank and scene. Not the steps, not the 4-wire fan, not what is turned round.
    EXPECT_EQ(takes["servo expander with 6 outputs"], (std::vector<std::string>{"Moon arm"}));
    const auto& pwm = takes["PWM expander with 16 outputs"];
    ASSERT_FALSE(pwm.empty());
    EXPECT_EQ(pwm.front(), "Moon arm") << "50 Hz is the servo's; the pump's 976 Hz and the turntable's cannot share it";
    EXPECT_EQ(std::count(pwm.begin(), pwm.end(), "Rain"), 0);
    const auto& io = takes["I/O expander with 16 outputs"];
    for (const char* name : {"House lamps", "start", "scene"}) EXPECT_EQ(std::count(io.begin(), io.end(), name), 1) << name;
    EXPECT_EQ(std::count(io.begin(), io.end(), "Curtain"), 0) << "steps come too fast for it";
    EXPECT_FALSE(takes.contains("ADC with 4 outputs")) << "nothing is read as a level";
    // What is offered is driven: each, put there as it says, is a gadget without a new stop.
    const auto stops = [](const Plan& each) {
        return std::count_if(each.findings.begin(), each.findings.end(), [](const auto& f) { return f.severity == Severity::Stop; });
    };
    for (const auto& choice : withExpanders(document->project, plan)) {
        const auto edits = editsFor(choice, parts);
        ASSERT_FALSE(edits.empty()) << choice.name;
        const auto moved = project::with(document->project, edits);
        ASSERT_TRUE(moved) << choice.name;
        const auto then = evaluate(*moved, parts);
        EXPECT_LE(stops(then), stops(plan)) << choice.name;
        EXPECT_TRUE(sketchOf(*moved, then)) << choice.name;
    }
}
// On every board, its own bus where it has one: what is proposed leaves no new stop.
TEST(Expanders, areProposedAsTheBoardCanSpeakToThem) {
    const auto parts = test::shippedParts();
    const auto stops = [](const Plan& each) {
        return std::count_if(each.findings.begin(), each.findings.end(), [](const auto& f) { return f.severity == Severity::Stop; });
    };
    int proposed = 0;
    for (const char* form : {"sbc-header", "esp32", "rp2040", "atmega32u4-16mhz"}) {
        // A Linux header takes no stage: an arm and a button there, on the very pins of its bus.
        const bool header = std::string_view{form} == "sbc-header";
        const auto project = header ? test::edited(test::alone(project::ChannelKind::Turn, "servo_micro_digital", "straight_from_pin"),
                                                   {{"board/form", form}, {"channels/it/pin", "GPIO2"}, {"inputs/start/pin", "GPIO3"}})
                                    : test::moved(test::exampleProject("paper-moon-stage"), form);
        const auto plan = evaluate(project, parts);
        for (const auto& choice : withExpanders(project, plan)) {
            const auto edits = editsFor(choice, parts);
            if (edits.empty()) continue;
            const auto there = project::with(project, edits);
            ASSERT_TRUE(there) << form << ' ' << choice.name;
            EXPECT_LE(stops(evaluate(*there, parts)), stops(plan)) << form << ' ' << choice.name;
            EXPECT_FALSE(header && choice.map->bus == driver::RegisterBus::Serial);
            ++proposed;
        }
    }
    EXPECT_GE(proposed, 11) << "of each board three, of the header two";
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
