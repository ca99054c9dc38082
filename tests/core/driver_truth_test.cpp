// Resistors that are there, heat that a sink takes, light that is seen: what is fitted is judged, not what would have been proposed.
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>
#include "driver/bjt_switch.hpp"
#include "driver/current_sense.hpp"
#include "driver/mains.hpp"
#include "match/judge.hpp"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "proof/bring_up.hpp"
#include "proof/test_sketch.hpp"
#include "quantity/text.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

using project::ChannelKind;
const Finding* found(const std::vector<Finding>& findings, const std::string& id) {
    for (const auto& finding : findings)
        if (finding.id == id) return &finding;
    return nullptr;
}

// By hand: 4.2 V over 3.9 kΩ are 1.08 mA; times a gain of 100 that is 108 mA for sure. 4.7 kΩ: 89 mA.
TEST(BaseResistor, asFittedIsJudged) {
    driver::BjtSwitch in;
    in.current = of<Current>(0.1);
    in.gain_min = of<Ratio>(100.0);
    in.drive_voltage = of<Voltage>(5.0);
    in.supply = of<Voltage>(12.0);
    EXPECT_EQ(driver::bjtSwitch(in)->verdict, Verdict::Holds);
    in.fitted = of<Resistance>(3900.0);
    const auto tight = driver::bjtSwitch(in);
    ASSERT_TRUE(tight);
    EXPECT_EQ(si(tight->result.base_resistor), 3900.0);
    EXPECT_NEAR(si(tight->result.pin_current), 4.2 / 3900.0, 1e-12);
    EXPECT_EQ(found(tight->findings, "base-starved")->severity, Severity::Warn);
    in.fitted = of<Resistance>(4700.0);
    EXPECT_EQ(found(driver::bjtSwitch(in)->findings, "base-starved")->severity, Severity::Stop);
    in.fitted = of<Resistance>(150.0);  // 28 mA from a pin of 20
    EXPECT_EQ(found(driver::bjtSwitch(in)->findings, "pin-overcurrent")->severity, Severity::Stop);
}
TEST(BaseResistor, inAProjectStandsInListWiresAndFindings) {
    const auto parts = test::shippedParts();
    auto project = test::alone(ChannelKind::Blow, "fan_40_2wire_7", "npn_500ma");
    std::string fan, transistor;
    for (const auto& part : parts.actuators)
        if (const auto* each = std::get_if<actuator::Fan>(&part); each != nullptr && each->wires == actuator::FanWires::Two && fan.empty())
            fan = actuator::head(part).id;
    for (const auto& part : parts.drivers)
        if (part.driver_class == driver::DriverClass::Npn && transistor.empty()) transistor = part.id;
    ASSERT_FALSE(fan.empty() || transistor.empty());
    project.channels.front().actuator = fan;
    project.channels.front().drive.part = transistor;
    const auto proposed = plan::evaluate(project, parts);
    EXPECT_EQ(test::finding(proposed, "base-starved"), nullptr);
    project = test::edited(project, {{"channels/it/drive/base_resistor", "100 kohm"}});
    const auto plan = plan::evaluate(project, parts);
    const auto* starved = test::finding(plan, "base-starved");
    ASSERT_NE(starved, nullptr);
    EXPECT_EQ(starved->severity, Severity::Stop) << "by hand: 42 µA, times any gain of a small transistor, is no fan";
    ASSERT_FALSE(starved->remedies.empty());
    const auto& protection = plan::findChannel(plan, "it")->protection;
    EXPECT_TRUE(std::any_of(protection.begin(), protection.end(), [](const auto& p) {
        return p.what == "base resistor" && p.value.find("100") != std::string::npos;
    })) << "what is there stands in the list";
    const auto cured = plan::evaluate(test::edited(project, starved->remedies.front().edits), parts);
    EXPECT_EQ(test::finding(cured, "base-starved"), nullptr);
}
// By hand: 10 V over 220 Ω are 45 mA and 0.45 W.
TEST(LedResistor, asFittedIsJudgedByCurrentAndHeat) {
    driver::LedResistor in{of<Voltage>(12.0), of<Voltage>(2.0), of<Current>(0.02)};
    in.rating = of<Power>(0.25);
    const auto proposed = driver::ledResistor(in);
    ASSERT_TRUE(proposed);
    EXPECT_EQ(si(proposed->result.standard), 560.0) << "500 Ω, next higher of E12";
    EXPECT_NEAR(si(proposed->result.real_current), 10.0 / 560.0, 1e-12);
    EXPECT_EQ(found(proposed->findings, "resistor-hot")->severity, Severity::Warn) << "0.18 W are more than half of a quarter";
    in.fitted = of<Resistance>(220.0);
    const auto there = driver::ledResistor(in);
    EXPECT_NEAR(si(there->result.power), 100.0 / 220.0, 1e-12);
    EXPECT_EQ(found(there->findings, "led-overcurrent")->severity, Severity::Stop);
    EXPECT_EQ(found(there->findings, "resistor-hot")->severity, Severity::Stop);
}
// By hand: 3 V across 0.5 Ω are 18 W in a fault; 0.5 W at work.
TEST(SenseResistor, itsHeatInAFaultIsJudged) {
    driver::CurrentSense in;
    in.resistance = of<Resistance>(0.5);
    in.current = of<Current>(1.0);
    in.worst_voltage = of<Voltage>(3.0);
    in.rating = of<Power>(2.0);
    const auto worked = driver::currentSense(in);
    ASSERT_TRUE(worked && worked->result.worst_power);
    EXPECT_NEAR(si(worked->result.power), 0.5, 1e-12);
    EXPECT_NEAR(si(*worked->result.worst_power), 18.0, 1e-12);
    EXPECT_EQ(found(worked->findings, "resistor-hot")->severity, Severity::Stop);
    in.worst_voltage = of<Voltage>(0.9);
    EXPECT_EQ(found(driver::currentSense(in)->findings, "resistor-hot"), nullptr) << "1.6 W of 2";
}

// A heat-sink is a fact: it stands in the list, cools what is judged, and is what a hot driver is offered.
TEST(HeatSink, coolsADriverThatWouldBeHot) {
    const auto parts = test::shippedParts();
    int tried = 0, cured = 0;
    for (const auto& part : parts.actuators) {
        if (!std::holds_alternative<actuator::Motor>(part)) continue;
        for (const auto& driver : parts.drivers) {
            if (driver.driver_class != driver::DriverClass::Mosfet && driver.driver_class != driver::DriverClass::Darlington) continue;
            auto one = test::alone(ChannelKind::Turn, actuator::head(part).id, driver.id,
                                   {{"channels/it/demand/way", "disc"},
                                    {"channels/it/demand/mass", "1 kg"},
                                    {"channels/it/demand/diameter", "0.2 m"},
                                    {"channels/it/demand/friction", "0.01 N.m"},
                                    {"channels/it/demand/speed", "10 rpm"},
                                    {"channels/it/demand/time", "2 s"},
                                    {"channels/it/demand/both_ways", "no"}});
            const auto plan = plan::evaluate(one, parts);
            const auto* hot = test::finding(plan, "driver-hot");
            if (hot == nullptr || hot->severity != Severity::Stop) continue;
            ++tried;
            const auto before = plan::findChannel(plan, "it")->chosen->numbers.junction;
            for (const auto& remedy : hot->remedies) {
                if (remedy.edits.front().path != "channels/it/drive/heat_sink") continue;
                const auto cool = plan::evaluate(test::edited(one, remedy.edits), parts);
                const auto* chosen = &*plan::findChannel(cool, "it")->chosen;
                const auto* still = test::finding(cool, "driver-hot");
                EXPECT_TRUE(still == nullptr || still->severity != Severity::Stop) << driver.id;
                EXPECT_LT(chosen->numbers.junction, before);
                // By hand: ambient + heat·(sink + 2 K/W from junction through grease).
                const double sink = std::atof(remedy.edits.front().value.c_str());
                EXPECT_NEAR(chosen->numbers.junction, si(one.brief.ambient) + chosen->numbers.heat * (sink + 2.0), 0.5);
                ++cured;
            }
        }
    }
    EXPECT_GT(tried, 0);
    EXPECT_GT(cured, 0);
}

// A lamp makes no sound; it flickers.
TEST(Lamps, areSeenToFlickerAndNeverHeard) {
    const auto parts = test::shippedParts();
    const auto lamp = [&](const char* hertz) {
        return plan::evaluate(
            test::alone(
                ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v",
                {{"channels/it/demand/power", "5 W"}, {"channels/it/signal/duty", "40 %"}, {"channels/it/signal/frequency", hertz}}),
            parts);
    };
    const auto slow = lamp("61 Hz"), quick = lamp("980 Hz");
    ASSERT_EQ(plan::findChannel(slow, "it")->signal, plan::SignalKind::Pwm);
    EXPECT_NE(test::finding(slow, "flickers"), nullptr);
    EXPECT_EQ(test::finding(quick, "flickers"), nullptr);
    EXPECT_EQ(test::finding(slow, "audible-pwm"), nullptr);
    EXPECT_EQ(test::finding(quick, "audible-pwm"), nullptr);
}

// A valve that turns a quarter of a turn turns 90°: also in the sketch that tests it alone, and back again.
TEST(QuarterTurn, isNinetyDegreesWithoutASecondFact) {
    const auto parts = test::shippedParts();
    std::string servo;
    for (const auto& part : parts.actuators)
        if (const auto* each = std::get_if<actuator::Servo>(&part);
            each != nullptr && each->servo_class == actuator::ServoClass::Positional && each->range && si(*each->range) > 1.6)
            servo = actuator::head(part).id;
    ASSERT_FALSE(servo.empty());
    const auto project = test::alone(ChannelKind::Turn, servo, "straight_from_pin",
                                     {{"channels/it/demand/way", "valve"},
                                      {"channels/it/demand/turns", "0.25"},
                                      {"channels/it/demand/pull", "2 N"},
                                      {"channels/it/demand/pull_arm", "0.05 m"},
                                      {"channels/it/demand/time", "1 s"},
                                      {"channels/it/calibration/pulse_min", "0.6 ms"},
                                      {"channels/it/calibration/pulse_max", "2.4 ms"}});
    const auto plan = plan::evaluate(project, parts);
    const auto& planned = *plan::findChannel(plan, "it");
    ASSERT_TRUE(planned.context->ask.angle);
    EXPECT_NEAR(si(*planned.context->ask.angle), std::acos(-1.0) / 2.0, 1e-12);
    const auto test = proof::testSketch(project, parts, "it");
    ASSERT_TRUE(test) << sentence(test.error());
    const auto program = plan::evaluate(test->project, parts).program;
    ASSERT_TRUE(program);
    const auto& output = program->outputs.front();
    int starts = 0, ends = 0;
    for (const auto& cue : program->cues)
        for (const auto& each : cue.instructions)
            if (each.operation == routine::Operation::Go) {
                const auto place = program->parameters[static_cast<std::size_t>(each.target)].value;
                starts += place == output.start ? 1 : 0;
                ends += place == output.furthest ? 1 : 0;
            }
    EXPECT_GE(ends, 1);
    EXPECT_GE(starts, 1) << "'back' goes back";
}

// One chopper, one reference voltage: parts list, hold point and working.
TEST(Chopper, hasOneReferenceVoltageInTheWholePacket) {
    const auto project = test::exampleProject("paper-moon-stage");
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    int choppers = 0;
    for (const auto& channel : project.channels) {
        const auto* part = project::findDriver(parts, channel.drive.part);
        if (part == nullptr || part->driver_class != driver::DriverClass::Chopper) continue;
        ++choppers;
        const auto& planned = *plan::findChannel(plan, channel.id);
        const auto reference = driver::chopperReference(*part, of<Current>(planned.chosen->numbers.drive_current));
        ASSERT_TRUE(reference);
        const auto text = display(reference->result.reference_voltage);
        int listed = 0;
        for (const auto& p : planned.protection)
            if (p.what == "reference voltage") {
                ++listed;
                EXPECT_EQ(p.value, text);
            }
        EXPECT_EQ(listed, 1);
        int held = 0;
        for (const auto& step : proof::bringUp(project, parts, plan))
            if (step.id == channel.id + ".reference") {
                ++held;
                EXPECT_NEAR(*step.expected, si(reference->result.reference_voltage), 1e-12);
            }
        EXPECT_EQ(held, 1);
    }
    EXPECT_GT(choppers, 0);
}

// A servo whose ends are what is to be found has a test sketch of its own: from the middle outwards, a tenth of a millisecond at a time.
TEST(UnknownEnds, aServosTestGoesFromTheMiddleOutwards) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    project = test::edited(project, {{"channels/moon/calibration/pulse_min", ""}, {"channels/moon/calibration/pulse_max", ""}});
    ASSERT_FALSE(plan::findChannel(plan::evaluate(project, parts), "moon")->motion.pulse_from) << "its ends are not known";
    const auto test = proof::testSketch(project, parts, "moon");
    ASSERT_TRUE(test) << sentence(test.error());
    ASSERT_EQ(test->words.front().word, "middle");
    const auto program = plan::evaluate(test->project, parts).program;
    ASSERT_TRUE(program);
    std::map<std::string, int> places;
    for (const auto& cue : program->cues)
        for (const auto& each : cue.instructions)
            if (each.operation == routine::Operation::Go) {
                places[cue.id] = program->parameters[static_cast<std::size_t>(each.target)].value;
                EXPECT_EQ(program->parameters[static_cast<std::size_t>(each.parameter)].value, 2000) << "slowly";
            }
    // By hand, in half microseconds: 1.5 ms are 3000, a tenth of a millisecond 200.
    EXPECT_NEAR(places["test_middle"], 3000, 2);
    for (int n = 1; n <= 4; ++n) {
        EXPECT_NEAR(places["test_out" + std::to_string(n)], 3000 + 200 * n, 2);
        EXPECT_NEAR(places["test_in" + std::to_string(n)], 3000 - 200 * n, 2);
    }
    EXPECT_FALSE(project::findChannel(project, "moon")->calibration.pulse_min) << "the project itself says nothing that was not found";
}

// The third 4-wire fan on a small board: timer 1 makes 25 kHz on D9 and D10 and on nothing else.
TEST(ThirdFan, isToldWhichPinIsFreeWhenWhatMoves) {
    const auto parts = test::shippedParts();
    auto project = test::bareStage();
    for (const auto* name : {"one", "two"}) {
        project = project::addRunningChannel(project, ChannelKind::Blow, name);
        auto& channel = project.channels.back();
        channel.actuator = "fan_80_pwm_70";
        channel.drive.part = "straight_from_pin";
        channel.rail = "movers";
    }
    // A lamp that is only switched sits where only the second fan's signal can be made.
    project = project::addRunningChannel(project, ChannelKind::Switch, "lamp");
    project.channels.back().actuator = "led_string_12v_6w";
    project.channels.back().drive.part = "mosfet_logic_30v";
    project.channels.back().rail = "movers";
    project.channels.back().pin = "D10";
    const auto plan = plan::evaluate(project, parts);
    const auto* shorted = test::finding(plan, "pins-short");
    if (shorted == nullptr) {
        // Another timer took it: then both fans have a pin.
        EXPECT_NE(test::finding(plan, "pins-open"), nullptr);
        GTEST_SKIP() << "this board has a third pin for it";
    }
    EXPECT_NE(shorted->text.find("lamp"), std::string::npos) << shorted->text;
    EXPECT_NE(shorted->text.find("D10 is free"), std::string::npos) << shorted->text;
    ASSERT_FALSE(shorted->remedies.empty());
    const auto cured = plan::evaluate(test::edited(project, shorted->remedies.front().edits), parts);
    EXPECT_EQ(test::finding(cured, "pins-short"), nullptr);
    EXPECT_EQ(test::finding(cured, "pins-open"), nullptr);
}

// Through the air a word keeps out who guesses, not who listens; without one anybody near may start it.
TEST(Radio, saysWhatAnybodyNearCanDo) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    EXPECT_EQ(test::finding(plan::evaluate(project, parts), "link-open"), nullptr) << "a cable";
    project.board.radio = true;
    const auto open = plan::evaluate(project, parts);
    ASSERT_NE(test::finding(open, "link-open"), nullptr);
    EXPECT_EQ(test::finding(open, "word-overheard"), nullptr) << "no word starts anything";
    project = project::addInput(project, project::InputKind::Word, "curtain call");
    for (auto& cue : project.routine.cues) cue.input = project.inputs.back().id;
    const auto guarded = plan::evaluate(project, parts);
    EXPECT_EQ(test::finding(guarded, "link-open"), nullptr);
    ASSERT_NE(test::finding(guarded, "word-overheard"), nullptr);
}

// A follower of a number that the link sends is off when it has fallen silent: the packet says so.
TEST(LinkLost, ofWhatFollowsANumberIsOff) {
    const auto parts = test::shippedParts();
    auto project = test::alone(ChannelKind::Blow, "", "mosfet_logic_30v");
    for (const auto& part : parts.actuators)
        if (const auto* fan = std::get_if<actuator::Fan>(&part); fan != nullptr && fan->wires == actuator::FanWires::Two && !fan->mains)
            project.channels.front().actuator = actuator::head(part).id;
    project = project::addInput(project, project::InputKind::Number, "from the desk");
    routine::Follower follower{"follows", "it", project.inputs.back().id};
    follower.proportional = true;
    project.routine.followers.push_back(follower);
    const auto plan = plan::evaluate(project, parts);
    const auto rows = plan::fiveStates(project, plan);
    ASSERT_EQ(rows.size(), 1U);
    EXPECT_EQ(rows.front().link_lost, "off, after 5 s");
}

// A stepper whose way is what is to be found: by hand a tenth of a turn of 200 steps at its micro-steps, in four seconds.
TEST(UnknownEnds, aSteppersTestTurnsATenthOfATurn) {
    const auto parts = test::shippedParts();
    const auto project = test::edited(test::exampleProject("paper-moon-stage"), {{"channels/curtain/demand/travel", ""}});
    ASSERT_FALSE(plan::findChannel(plan::evaluate(project, parts), "curtain")->motion.steps);
    const auto test = proof::testSketch(project, parts, "curtain");
    ASSERT_TRUE(test) << sentence(test.error());
    const auto program = plan::evaluate(test->project, parts).program;
    ASSERT_TRUE(program);
    const auto& curtain = *project::findChannel(project, "curtain");
    bool there = false;
    for (const auto& cue : program->cues)
        for (const auto& each : cue.instructions)
            if (each.operation == routine::Operation::Go && cue.id == "test_there") {
                there = true;
                const auto output = static_cast<std::size_t>(each.output);
                EXPECT_EQ(std::abs(program->parameters[static_cast<std::size_t>(each.target)].value - program->outputs[output].start),
                          std::lround(20.0 * si(curtain.signal.microsteps)));
                EXPECT_EQ(program->parameters[static_cast<std::size_t>(each.parameter)].value, 4000);
            }
    EXPECT_TRUE(there);
}

// A stepper whose start some cue looks for, but not at power-up: what then moves nothing is said where it is chosen.
TEST(UnknownEnds, aStepperThatIsNotYetPlacedIsSaid) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    project.routine = {};
    project = *project::insertPattern(project, "home", "curtain");
    for (auto& input : project.inputs)
        if (input.pin.empty() && project::hasPin(input.kind)) input.pin = "D12";
    const auto noHoming = [&](const project::Project& of_project) -> std::optional<plan::PlanFinding> {
        for (const auto& finding : plan::evaluate(of_project, parts).findings)
            if (finding.id == "no-homing" && finding.channel == "curtain") return finding;
        return std::nullopt;
    };
    EXPECT_FALSE(noHoming(project)) << "it looks when the power comes";
    for (auto& cue : project.routine.cues) cue.at_power_up = false;
    const auto said = noHoming(project);
    ASSERT_TRUE(said);
    EXPECT_NE(said->text.find("gives up"), std::string::npos) << said->text;
    ASSERT_FALSE(said->remedies.empty());
    EXPECT_FALSE(noHoming(test::edited(project, said->remedies.front().edits)));
}

// Where no pin was typed nothing sits on the console's line: what is said is that a pin is missing.
TEST(ConsolePins, whatHasNoPinYetSharesNothing) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    for (auto& channel : project.channels) channel.pin.clear();
    for (auto& input : project.inputs) input.pin.clear();
    const auto plan = plan::evaluate(project, parts);
    EXPECT_EQ(test::finding(plan, "serial-shared"), nullptr);
    for (const auto& channel : project.channels)
        EXPECT_TRUE(std::any_of(plan.missing.begin(), plan.missing.end(), [&](const auto& missing) {
            return missing.path == "channels/" + channel.id + "/pin";
        })) << channel.id;
    // The pins that are then proposed leave the console alone.
    project.channels.front().pin = "D0";
    EXPECT_NE(test::finding(plan::evaluate(project, parts), "serial-shared"), nullptr);
}

// A knob on the console's line moves to a pin that reads levels; a tach to one with an interrupt.
TEST(ConsolePins, theirRemedyMovesAnInputToWhereItCanBeRead) {
    const auto parts = test::shippedParts();
    for (const auto kind : {project::InputKind::Knob, project::InputKind::Tach, project::InputKind::Button}) {
        auto project = test::exampleProject("paper-moon-stage");
        project = project::addInput(project, kind, "extra");
        project.inputs.back().pin = "D1";
        const auto plan = plan::evaluate(project, parts);
        const auto* shared = test::finding(plan, "serial-shared");
        ASSERT_NE(shared, nullptr) << nameOf(kind);
        if (shared->remedies.empty()) continue;  // no such pin is left
        const auto cured = plan::evaluate(test::edited(project, shared->remedies.front().edits), parts);
        EXPECT_EQ(test::finding(cured, "serial-shared"), nullptr) << nameOf(kind);
        for (const auto* id : {"pin-cannot", "no-interrupt", "pin-taken"})
            EXPECT_TRUE(test::finding(plan, id) != nullptr || test::finding(cured, id) == nullptr) << nameOf(kind) << ": " << id;
    }
}

}  // namespace
}  // namespace hinge
