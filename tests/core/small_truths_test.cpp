// Sentences, units and small figures that a reader takes at their word.
#include <cmath>
#include "actuator/pwm_current.hpp"
#include "kinds/actuator_kind.hpp"
#include "kinds/mounting.hpp"
#include "match/judge.hpp"
#include "plan/firmware_model.hpp"
#include "plan/workings.hpp"
#include "plant/pump_plant.hpp"
#include "power/rectifier.hpp"
#include "report/calendar.hpp"
#include "routine/machine.hpp"
#include "support/alone.hpp"
#include "support/cooled.hpp"

namespace hinge {
namespace {

std::string shown(const Answer& answer, const std::string& name) {
    for (const auto& result : answer.results)
        if (result.name == name) return std::to_string(std::get<double>(result.value)) + " " + result.unit;
    return "";
}

// IEC 60063: 4.7 is of E12; the unit is the one that was given, in SI.
TEST(PreferredValue, takesAUnitAndGivesItBack) {
    const auto form = plan::findWorking("preferred-value");
    ASSERT_TRUE(form);
    const auto ohms = form->answer({{"value", "4.9kohm"}, {"series", "E12"}, {"round", "nearest"}});
    ASSERT_TRUE(ohms) << sentence(ohms.error());
    EXPECT_EQ(shown(*ohms, "standard"), "4700.000000 Ω");
    const auto farads = form->answer({{"value", "90nF"}, {"series", "E6"}, {"round", "up"}});
    ASSERT_TRUE(farads) << sentence(farads.error());
    EXPECT_EQ(std::get<double>(farads->results.front().value), 100e-9);
    const auto plain = form->answer({{"value", "4.9k"}, {"series", "E12"}, {"round", "nearest"}});
    ASSERT_TRUE(plain) << sentence(plain.error());
    EXPECT_EQ(shown(*plain, "standard"), "4700.000000 ");
    const auto bad = form->answer({{"value", "4.9 parsecs"}, {"series", "E12"}, {"round", "nearest"}});
    ASSERT_FALSE(bad);
    EXPECT_EQ(bad.error().field, "value");
}

// By hand, at a frequency so high that the current hardly moves: on V − E, in the pause the mean must balance it.
TEST(PwmPause, aBridgeThatCoastsAndOneThatBrakesAreToldApart) {
    actuator::PwmCurrent in;
    in.supply = of<Voltage>(12.0);
    in.back_emf = of<Voltage>(3.0);
    in.resistance = of<Resistance>(2.0);
    in.inductance = of<Inductance>(10e-3);
    in.frequency = of<Frequency>(100e3);
    in.duty = of<Fraction>(0.7);
    in.pause = actuator::Pause::Brake;
    const auto brakes = actuator::pwmCurrent(in);
    ASSERT_TRUE(brakes);
    EXPECT_NEAR(si(brakes->result.motor_current), (0.7 * 12.0 - 3.0) / 2.0, 1e-3) << "the mean voltage of a braking bridge is duty·V";
    in.pause = actuator::Pause::Coast;
    const auto coasts = actuator::pwmCurrent(in);
    ASSERT_TRUE(coasts);
    const double mean = (0.7 * 12.0 - 0.3 * (12.0 + 1.4) - 3.0) / 2.0;
    EXPECT_NEAR(si(coasts->result.motor_current), mean, 1e-3) << "in the pause the supply stands against it";
    EXPECT_NEAR(si(coasts->result.supply_current), (0.7 - 0.3) * mean, 2e-3) << "what flows back is given back";
    // Braking below the motor's own volts the current turns round; through a diode it cannot.
    in.duty = of<Fraction>(0.1);
    in.pause = actuator::Pause::Brake;
    EXPECT_NEAR(si(actuator::pwmCurrent(in)->result.motor_current), (0.1 * 12.0 - 3.0) / 2.0, 1e-3);
    in.pause = actuator::Pause::Diode;
    EXPECT_GE(si(actuator::pwmCurrent(in)->result.motor_current), 0.0);
}

// A schedule with a season ends with it (RFC 5545, UNTIL), and begins with the next one where it is over.
TEST(Calendar, aSeasonEnds) {
    auto project = test::demoProject();
    project::Input days;
    days.id = "summer", days.name = "summer", days.kind = project::InputKind::Days;
    days.from_date = "04-01", days.to_date = "10-31";
    project.inputs.push_back(days);
    routine::Guard guard;
    guard.id = "in_summer", guard.input = "summer", guard.only = true;
    project.routine.cues.front().guards.push_back(guard);
    const auto during = report::calendarOf(project, {2026, 6, 10}, "20260610T080000Z");
    EXPECT_NE(during.find("UNTIL=20261031T235959"), std::string::npos) << during;
    EXPECT_NE(during.find("DTSTART:20260610T"), std::string::npos);
    const auto after = report::calendarOf(project, {2026, 11, 26}, "20261126T080000Z");
    EXPECT_NE(after.find("DTSTART:20270401T"), std::string::npos) << after;
    EXPECT_NE(after.find("UNTIL=20271031T235959"), std::string::npos);
    project.inputs.back().from_date = "11-15", project.inputs.back().to_date = "02-10";
    const auto winter = report::calendarOf(project, {2026, 12, 30}, "20261230T080000Z");
    EXPECT_NE(winter.find("UNTIL=20270210T235959"), std::string::npos) << "over the new year" << winter;
}

// The list of parts names no unknown volts.
TEST(PartsList, saysWhatFeedsItOrLeavesItOut) {
    const auto parts = test::shippedParts();
    for (const char* kind : {"battery", "usb-port", "power-bank", "transformer", "bench-supply"}) {
        const auto project = test::edited(test::demoProject(), {{"sources/adapter/kind", kind}});
        const auto list = plan::partsList(project, parts, plan::evaluate(project, parts));
        for (const auto& line : list) EXPECT_EQ(line.name.find('?'), std::string::npos) << kind << ": " << line.name;
    }
    const auto usb = test::edited(test::demoProject(), {{"sources/adapter/kind", "usb-port"}, {"sources/adapter/voltage", ""}});
    bool five = false;
    for (const auto& line : plan::partsList(usb, parts, plan::evaluate(usb, parts))) five = five || line.name == "USB port 5 V 500 mA";
    EXPECT_TRUE(five) << "a port gives 5 V (USB 2.0)";
}

// What is said of several channels is one line with all their names; a stop of one stays its own.
TEST(Findings, thatSayTheSameAreOneLine) {
    const auto plan = plan::evaluate(test::exampleProject("paper-moon-stage"), test::shippedParts());
    int before = 0, after = 0;
    for (const auto& finding : plan.findings) before += finding.id == "pinch-point" ? 1 : 0;
    std::string text;
    for (const auto& finding : plan::together(plan.findings, plan.channels))
        if (finding.id == "pinch-point" && finding.text.find("can pinch") != std::string::npos) ++after, text = finding.text;
    EXPECT_GE(before, 3);
    EXPECT_EQ(after, 1);
    for (const char* name : {"Curtain", "Moon arm", "Turntable"}) EXPECT_NE(text.find(name), std::string::npos) << text;
}

// A refused place says which, and between which it may lie.
TEST(Refusals, nameTheValueAndTheLimit) {
    auto project = test::exampleProject("paper-moon-stage");
    for (auto& cue : project.routine.cues)
        for (auto& move : cue.moves)
            if (move.channel == "moon" && move.angle) move.angle = of<Angle>(6.0);
    const auto plan = plan::evaluate(project, test::shippedParts());
    ASSERT_TRUE(plan.program_error);
    const auto said = sentence(*plan.program_error);
    EXPECT_EQ(said.find("''"), std::string::npos) << said;
    EXPECT_NE(said.find("344"), std::string::npos) << "6 rad are 343.8°: " << said;
}

// A time that was typed beside the dose: by hand, 9 s at the pump's own flow against 53 mL.
TEST(FixedRunTime, isHeldAgainstTheDose) {
    const auto parts = test::shippedParts();
    const auto demo = test::demoProject();
    EXPECT_EQ(test::finding(plan::evaluate(demo, parts), "dose-off"), nullptr);
    const auto typed = test::edited(demo, {{"routine/cues/storm/moves/rain_falls/time", "9 s"}});
    const auto plan = plan::evaluate(typed, parts);
    const auto* off = test::finding(plan, "dose-off");
    ASSERT_NE(off, nullptr);
    ASSERT_FALSE(off->remedies.empty());
    const auto cured = test::edited(typed, off->remedies.front().edits);
    EXPECT_EQ(test::finding(plan::evaluate(cured, parts), "dose-off"), nullptr);
}

// Cup and clock belong to the pump that they were used on; what is played pours as much as they say.
TEST(CupAndClock, sayNothingOfAnotherPump) {
    const auto parts = test::shippedParts();
    const auto project = test::edited(test::demoProject(),
                                      {{"channels/rain/calibration/cup_volume", "100 mL"}, {"channels/rain/calibration/cup_time", "10 s"}});
    const auto plan = plan::evaluate(project, parts);
    ASSERT_TRUE(plan.channels.front().chosen->run_time_measured);
    EXPECT_NEAR(si(*plan.channels.front().dose_time), 5.3, 1e-9) << "53 mL at 10 mL/s";
    match::Context other = plan.channels.front().context;
    const auto* driver = project::findDriver(parts, project.channels.front().drive.part);
    int pumps = 0;
    for (const auto& part : parts.actuators) {
        if (!std::holds_alternative<actuator::Pump>(part)) continue;
        const bool its = actuator::head(part).id == project.channels.front().actuator;
        const auto judged = match::judge(other, part, *driver, other.rails.front());
        EXPECT_EQ(judged.measured, its) << actuator::head(part).name;
        pumps += its ? 0 : 1;
    }
    EXPECT_GT(pumps, 2);
    const auto plant = plan::plantOf(parts, plan, project.channels.front());
    ASSERT_TRUE(plant);
    plant::PumpPlant machine{*plant};
    for (int k = 0; k < 4000; ++k) machine.step(1e-3, 1.0);
    EXPECT_NEAR(machine.flow(), 10e-6, 0.5e-6) << "m³/s: what the cup caught";
}

// A move in less time than its servo needs; by hand, half of the time that Match gives for the same way.
TEST(AskedTooFast, isSaidWhereTheCueAsks) {
    const auto parts = test::shippedParts();
    auto project = test::exampleProject("paper-moon-stage");
    EXPECT_EQ(test::finding(plan::evaluate(project, parts), "asked-too-fast"), nullptr);
    const auto before = plan::evaluate(project, parts);
    const double whole = plan::findChannel(before, "moon")->chosen->numbers.move_time;
    bool changed = false;
    for (auto& cue : project.routine.cues)
        for (auto& move : cue.moves)
            if (move.channel == "moon" && move.action == routine::Action::Go && !changed)
                move.time = of<Duration>(0.05 * whole), changed = true;
    ASSERT_TRUE(changed);
    const auto plan = plan::evaluate(project, parts);
    const auto* fast = test::finding(plan, "asked-too-fast");
    ASSERT_NE(fast, nullptr);
    EXPECT_EQ(test::finding(plan::evaluate(test::edited(project, fast->remedies.front().edits), parts), "asked-too-fast"), nullptr);
}

// `active_high` tells the way of a reading as it tells that of a contact: false, and it is true while low.
TEST(Polarity, ofAReadingIsNotIgnored) {
    auto project = test::demoProject();
    for (const auto kind : {project::InputKind::Level, project::InputKind::Knob, project::InputKind::Number, project::InputKind::Tach})
        for (const std::optional<bool> said : {std::optional<bool>{}, std::optional{true}, std::optional{false}}) {
            project::Input input;
            input.id = "tank", input.name = "tank", input.kind = kind, input.debounce = of<Duration>(0.001);
            input.active_high = said;
            if (project::hasPin(kind)) input.pin = kind == project::InputKind::Tach ? "D3" : "A0";
            project.inputs = {input};
            project.routine = {};
            const auto plan = plan::evaluate(project, test::shippedParts());
            ASSERT_TRUE(plan.program) << nameOf(kind);
            const routine::Machine machine{*plan.program};
            for (const int reading : {100, 900}) {
                auto state = routine::powerUp(machine.program());
                routine::Happening happening;
                const std::vector<std::int32_t> values{reading}, pulses{reading == 900 ? 1 : 0};  // counted over a second
                const std::vector<std::uint8_t> pins{0};
                happening.values = values, happening.pin_active = pins, happening.pulses = pulses;
                if (kind == project::InputKind::Number) happening.numbers = {{0, reading}};
                for (int t = 0; t < 1500; ++t) machine.tick(state, happening);
                EXPECT_EQ(state.input(0).active != 0, (reading == 900) == said.value_or(true)) << nameOf(kind) << " " << reading;
            }
        }
    EXPECT_FALSE(test::demoProject().inputs.empty());
}

// A Darlington keeps about a volt (common practice, no published source): a load made for 5 V on a 5 V rail gets four.
TEST(LostVolt, isHeldAgainstAFiveVoltLoad) {
    const auto parts = test::shippedParts();
    const driver::DriverPart *darlington = nullptr, *mosfet = nullptr;
    for (const auto& each : parts.drivers) {
        if (each.driver_class == driver::DriverClass::Darlington && darlington == nullptr) darlington = &each;
        if (each.id == "mosfet_logic_30v") mosfet = &each;
    }
    ASSERT_TRUE(darlington != nullptr && mosfet != nullptr);
    actuator::Lamp lamp;
    lamp.id = "five", lamp.name = "five", lamp.nominal_voltage = of<Voltage>(5.0), lamp.power = of<Power>(1.0);
    match::Context context;
    context.demand = project::SwitchDemand{};
    context.rails = {{"r", "5 V rail", of<Voltage>(5.0), Resistance{}}};
    context.logic = of<Voltage>(5.0), context.pin_current = of<Current>(0.02);
    const auto low = [&](const driver::DriverPart& driver) {
        const auto n = match::judge(context, actuator::Part{lamp}, driver, context.rails.front());
        for (int k = 0; k < n.hit_count; ++k)
            if (n.hits[static_cast<std::size_t>(k)].rule == match::Rule::SupplyLow) return true;
        return false;
    };
    EXPECT_TRUE(low(*darlington));
    EXPECT_FALSE(low(*mosfet));
}

// By hand and by ngspice (tests/oracle): 15 V AC, 1000 µF, 0.616 A leave 15.2 V before the next half wave.
TEST(Ripple, leavesAValleyThatThePlanAndTheSupplyBothKnow) {
    power::Rectifier in;
    in.ac_voltage = of<Voltage>(15.0);
    in.frequency = of<Frequency>(50.0);
    in.current = of<Current>(0.616);
    in.capacitance = of<Capacitance>(1000e-6);
    const auto worked = power::rectifier(in);
    ASSERT_TRUE(worked);
    EXPECT_NEAR(si(worked->result.valley), 15.2, 0.2);
    in.capacitance = of<Capacitance>(1e-6);
    EXPECT_EQ(si(power::rectifier(in)->result.valley), 0.0) << "so small a capacitor smooths nothing";
    // Movers that hang on it directly are judged at the valley.
    const auto parts = test::shippedParts();
    const auto project = test::edited(test::demoProject(), {{"sources/adapter/kind", "transformer"},
                                                            {"sources/adapter/ac_voltage", "9.5 V"},
                                                            {"sources/adapter/current", "1 A"},
                                                            {"sources/adapter/smoothing", "220 uF"},
                                                            {"sources/adapter/smoothing_rating", "25 V"}});
    const auto plan = plan::evaluate(project, parts);
    const auto* sag = test::finding(plan, "rail-sag");
    ASSERT_NE(sag, nullptr) << "12 V at the peak";
    EXPECT_NE(sag->text.find("12 V rail"), std::string::npos) << sag->text;
}

// A plate on a heat-sink: what it pumps and what it takes warm its hot side, and so much more lies across it. The same by going round until
// nothing changes any more; on the straight line between a data sheet's two ends (common practice, no published source).
TEST(ThermoElectric, pumpsLessTheWorseItsHeatSinkIs) {
    const auto parts = test::shippedParts();
    double before = 1e9;
    for (const double sink : {0.0, 0.1, 0.3, 0.5, 0.8, 1.2}) {
        auto project = test::cooled({{"channels/it/demand/hot_sink", sink > 0.0 ? fmt::format("{} K/W", sink) : ""}});
        for (auto& rail : project.rails) rail.wire_length = of<Length>(0.0);
        const auto plan = plan::evaluate(project, parts);
        ASSERT_TRUE(plan.channels.front().chosen);
        const auto& numbers = plan.channels.front().chosen->numbers;
        const double taken = numbers.part_heat;
        EXPECT_NEAR(taken, 60.0, 4.0) << "but for what wires and switch keep";
        double pumped = 40.0;
        for (int k = 0; k < 2000; ++k) {
            const double across = 20.0 + (pumped + taken) * sink;
            pumped += 0.2 * (std::max(0.0, 40.0 * (1.0 - across / 67.0)) - pumped);
        }
        EXPECT_NEAR(numbers.ability, pumped * std::min(1.0, numbers.volts / 12.0), 0.02) << sink;
        EXPECT_LE(numbers.ability, before);
        before = numbers.ability;
        // The machine that stands in for it in Tune pumps as much, but for what wires and switch keep.
        std::vector<std::string> assumed;
        const auto* part = project::findActuator(parts, "te_plate_12v_60w");
        const auto mounted =
            kinds::actuatorKind(*part).machine({project.channels.front(), *part, nullptr, *plan.channels.front().context, nullptr,
                                                std::nullopt, std::nullopt, nullptr, nullptr, project.brief.ambient, assumed});
        ASSERT_TRUE(mounted);
        const auto& box = std::get<plant::BoxPlant>(mounted->machine).figures();
        EXPECT_NEAR(std::max(0.0, -box.power * (1.0 - 20.0 / box.largest_difference)), numbers.ability, 0.05 * 40.0) << sink;
        const auto* hot = test::finding(plan, "hot-side");
        EXPECT_EQ(hot != nullptr, 298.15 + (numbers.ability + taken) * sink > 353.15) << sink;
        EXPECT_EQ(test::finding(plan, "hot-side-unknown") != nullptr, sink == 0.0);
    }
}

}  // namespace
}  // namespace hinge
