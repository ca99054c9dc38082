// A bare LED: a resistor sets its current, on a pin or behind a switch; it is seen, never heard; the wrong way round it is dark.
#include <gtest/gtest.h>
#include "catalogue/catalogue.hpp"
#include "driver/mains.hpp"
#include "plan/behaviour.hpp"
#include "plan/firmware_model.hpp"
#include "plan/wiring.hpp"
#include "proof/fault_finder.hpp"
#include "simulation/faulty_gadget.hpp"
#include "support/alone.hpp"

namespace hinge {
namespace {

using project::ChannelKind;
using Edits = std::vector<project::FactEdit>;

project::Project led(const std::string& part, const std::string& driver, const std::string& rail, Edits edits = {}) {
    edits.insert(edits.begin(),
                 {{"channels/it/rail", rail}, {"channels/it/demand/power", "10 mW"}, {"channels/it/signal/soft_start", "0 s"}});
    return test::alone(ChannelKind::Switch, part, driver, edits);
}
plan::ChannelPlan planned(const project::Project& project) {
    return plan::evaluate(project, test::shippedParts()).channels.front();
}

// By hand, Ohm's law and the E12 row of IEC 60063.
TEST(Led, itsResistorSetsTheCurrent) {
    struct Row {
        const char *part, *driver, *rail;
        double ohms, amps;
    };
    for (const auto& [part, driver, rail, ohms, amps] :
         {Row{"led_red_5mm", "straight_from_pin", "logic", 150.0, 0.020},         // (5 − 2.0)/20 mA = 150
          Row{"led_white_5mm", "straight_from_pin", "logic", 100.0, 0.018},       // (5 − 3.2)/20 mA = 90
          Row{"led_infrared_5mm", "straight_from_pin", "logic", 220.0, 0.01659},  // 50 mA are more than a pin bears: 3.65/20 mA = 182.5
          Row{"led_red_5mm", "mosfet_logic_30v", "movers", 560.0, 0.01786},       // (12 − 2.0)/20 mA = 500
          Row{"led_white_1w", "mosfet_logic_30v", "movers", 27.0, 0.3256}}) {     // (12 − 3.2)/350 mA = 25.1
        const auto it = planned(led(part, driver, rail));
        ASSERT_TRUE(it.chosen && it.chosen->led_resistor) << part << " on " << driver;
        EXPECT_EQ(si(*it.chosen->led_resistor), ohms) << part << " on " << driver;
        EXPECT_NEAR(si(*it.chosen->motor), amps, 0.005 * amps + 1e-5) << part << " on " << driver << ": less what its switch and wire keep";
        EXPECT_EQ(it.signal, plan::SignalKind::Switched);
        EXPECT_TRUE(it.not_driven.empty());
    }
}

// Match judges without words, the working says the same sum: one current for both, for every LED on every driver, proposed and fitted.
TEST(Led, theWorkingSaysWhatWasJudged) {
    const auto parts = test::shippedParts();
    int compared = 0;
    for (const auto& part : parts.actuators) {
        if (!match::isLed(part)) continue;
        for (const auto& driver : parts.drivers)
            for (const char* fitted : {"", "1 kohm"}) {
                const bool pin = driver.driver_class == driver::DriverClass::Pin;
                auto edits = Edits{};
                if (*fitted != 0) edits.push_back({"channels/it/drive/led_resistor", fitted});
                const auto it = planned(led(actuator::head(part).id, driver.id, pin ? "logic" : "movers", edits));
                if (!it.chosen || !it.chosen->led_resistor) continue;
                for (const auto& working : it.chosen->workings)
                    for (const auto& step : working.steps) {
                        if (working.title != "the LED's resistor" || step.symbol != "Il") continue;
                        ++compared;
                        EXPECT_NEAR(step.value.value_or(0.0), si(*it.chosen->motor), 1e-8)
                            << it.chosen->actuator_name << " on " << driver.name;
                    }
            }
    }
    EXPECT_GT(compared, 100);
}

TEST(Led, standsInWiresAndList) {
    const auto parts = test::shippedParts();
    for (const auto* driver : {"straight_from_pin", "mosfet_logic_30v", "npn_small"}) {
        const auto project = led("led_red_5mm", driver, std::string{driver} == "straight_from_pin" ? "logic" : "movers");
        const auto plan = plan::evaluate(project, parts);
        const std::string ohms = std::string{driver} == "straight_from_pin" ? "150 Ω" : "Ω";
        int in_wires = 0, in_list = 0;
        for (const auto& wire : plan::wiring(project, parts, plan))
            in_wires += wire.to == "it +" && wire.note.find("through") == 0 && wire.note.find(ohms) != std::string::npos ? 1 : 0;
        for (const auto& line : plan::partsList(project, parts, plan)) in_list += line.name.find("LED resistor") == 0 ? 1 : 0;
        EXPECT_EQ(in_wires, 1) << driver;
        EXPECT_EQ(in_list, 1) << driver;
    }
    // 1 W: 0.33 A through 27 Ω are 2.9 W; twice that is 10 W of the usual ratings.
    const auto hot = planned(led("led_white_1w", "mosfet_logic_30v", "movers"));
    ASSERT_TRUE(std::any_of(hot.protection.begin(), hot.protection.end(),
                            [](const auto& p) { return p.what == "LED resistor" && p.value.find("10 W") != std::string::npos; }));
}

// By hand, 3 W on 24 V: (24 − 3.4)/0.7 A is 29.4, the next 33 Ω; 0.62 A through it are 12.9 W, twice that 25.7 W: no usual resistor.
TEST(Led, aResistorThatBurnsIsNeverCalledEnough) {
    const auto it = planned(led("led_white_3w", "mosfet_logic_30v", "movers", {{"sources/adapter/voltage", "24 V"}}));
    ASSERT_TRUE(it.chosen && it.chosen->led_resistor);
    EXPECT_EQ(si(*it.chosen->led_resistor), 33.0);
    EXPECT_TRUE(std::any_of(it.protection.begin(), it.protection.end(), [](const auto& p) {
        return p.what == "LED resistor" && p.value.find("26 W or more") != std::string::npos;
    })) << (it.protection.empty() ? "" : it.protection.back().value);
}

TEST(Led, asFittedIsJudgedAndCured) {
    const auto parts = test::shippedParts();
    const auto project = led("led_red_5mm", "mosfet_logic_30v", "movers", {{"channels/it/drive/led_resistor", "220 ohm"}});
    const auto plan = plan::evaluate(project, parts);
    const auto* over = test::finding(plan, "led-overcurrent");  // 10 V over 220 Ω: 45 mA
    ASSERT_NE(over, nullptr);
    EXPECT_EQ(over->severity, Severity::Stop);
    ASSERT_FALSE(over->remedies.empty());
    EXPECT_EQ(test::finding(plan::evaluate(test::edited(project, over->remedies.front().edits), parts), "led-overcurrent"), nullptr);
    // 10 mA: dimmer, and fine.
    EXPECT_EQ(
        test::finding(plan::evaluate(test::edited(project, {{"channels/it/drive/led_resistor", "1 kohm"}}), parts), "led-overcurrent"),
        nullptr);
    const auto pin = plan::evaluate(led("led_infrared_5mm", "straight_from_pin", "logic", {{"channels/it/drive/led_resistor", "100 ohm"}}),
                                    parts);  // 36 mA from a pin
    ASSERT_NE(test::finding(pin, "pin-overcurrent"), nullptr);
    EXPECT_EQ(test::finding(pin, "pin-overcurrent")->text.find("base"), std::string::npos) << "there is no base here";
}

TEST(Led, onAPinItDrawsFromTheBoard) {
    const auto parts = test::shippedParts();
    const auto project = led("led_red_5mm", "straight_from_pin", "movers");
    const auto plan = plan::evaluate(project, parts);
    const auto* feeds = test::finding(plan, "pin-feeds");
    ASSERT_NE(feeds, nullptr);
    ASSERT_FALSE(feeds->remedies.empty());
    const auto cured = plan::evaluate(test::edited(project, feeds->remedies.front().edits), parts);
    EXPECT_EQ(test::finding(cured, "pin-feeds"), nullptr);
    EXPECT_NEAR(si(*cured.channels.front().chosen->running), 0.020, 1e-6);
    // What the board's rail carries has the LED in it.
    const auto drawn = [](const plan::Plan& p) {
        for (const auto& rail : p.rails)
            if (rail.id == "logic") return rail.most ? si(*rail.most) : 0.0;
        return 0.0;
    };
    const auto without = plan::evaluate(test::bareStage(), parts);
    EXPECT_NEAR(drawn(cured) - drawn(without), 0.020, 1e-4);
}

TEST(Led, tooFewVoltsAreSaid) {
    const auto parts = test::shippedParts();
    auto project = led("led_white_5mm", "straight_from_pin", "logic");
    project = test::edited(project, {{"board/form", "rp2040"}});
    const auto plan = plan::evaluate(project, parts);  // 3.3 V less 3.2 V
    EXPECT_NE(test::finding(plan, "led-barely"), nullptr);
    for (auto& channel : project.channels) channel.actuator = "led_white_3w";  // 3.4 V
    const auto dark = plan::evaluate(project, parts);
    EXPECT_NE(test::finding(dark, "supply-too-low"), nullptr);
    EXPECT_EQ(test::finding(dark, "figure-missing"), nullptr) << "nothing is missing: the volts are too few";
}

TEST(Led, isSeenAndNeverHeard) {
    const auto parts = test::shippedParts();
    const auto slow = plan::evaluate(
        led("led_red_5mm", "straight_from_pin", "logic", {{"channels/it/signal/duty", "50 %"}, {"channels/it/signal/frequency", "62 Hz"}}),
        parts);
    EXPECT_EQ(slow.channels.front().signal, plan::SignalKind::Pwm);
    EXPECT_NE(test::finding(slow, "flickers"), nullptr);
    const auto fast = plan::evaluate(
        led("led_red_5mm", "straight_from_pin", "logic", {{"channels/it/signal/duty", "50 %"}, {"channels/it/signal/frequency", "490 Hz"}}),
        parts);
    EXPECT_EQ(test::finding(fast, "audible-pwm"), nullptr);
}

TEST(Led, theWrongWayRoundIsFound) {
    const auto parts = test::shippedParts();
    for (const auto* driver : {"straight_from_pin", "mosfet_logic_30v"}) {
        const auto project = led("led_red_5mm", driver, std::string{driver} == "straight_from_pin" ? "logic" : "movers");
        const auto plan = plan::evaluate(project, parts);
        const auto gadget = simulation::FaultyGadget::make(project, parts, plan, {"led_reversed", "it"});
        ASSERT_TRUE(gadget);
        const proof::FaultFinder finder(project, parts, plan, "it");
        std::vector<proof::Seen> seen{{"symptom", gadget->symptom()}};
        EXPECT_EQ(seen.front().outcome, "nothing");
        for (int tests = 0; tests < 15 && !finder.settled(seen); ++tests) {
            const auto next = finder.next(seen).front();
            EXPECT_NE(next.test.id, "direct") << "straight on its rail it dies";
            seen.push_back({next.test.id, gadget->answer(next.test.id)});
        }
        EXPECT_EQ(finder.ranked(seen).front().cause.id, "led_reversed") << driver;
    }
    // A filament has no wrong way round.
    const auto filament = test::alone(ChannelKind::Switch, "filament_12v_5w", "mosfet_logic_30v", {{"channels/it/demand/load", "lamp"}});
    EXPECT_FALSE(simulation::FaultyGadget::make(filament, parts, plan::evaluate(filament, parts), {"led_reversed", "it"}));
}

TEST(Led, noneIsMadeForTheMains) {
    const auto read = catalogue::read("lamps", "id,name,class,mains,nominal_voltage [V],current [mA]\nx,x,led,yes,230,20\n", "f");
    ASSERT_TRUE(read);
    EXPECT_TRUE(read->parts.actuators.empty());
    ASSERT_EQ(read->problems.size(), 1u);
    EXPECT_EQ(read->problems.front().column, "mains");
}

// A mains LED lamp and a string keep their own judgement: no resistor is asked for.
TEST(Led, stringsAndLampsHaveTheirOwnElectronics) {
    const auto it =
        planned(test::alone(ChannelKind::Switch, "led_string_12v_6w", "mosfet_logic_30v", {{"channels/it/demand/power", "6 W"}}));
    ASSERT_TRUE(it.chosen);
    EXPECT_FALSE(it.chosen->led_resistor);
}

}  // namespace
}  // namespace hinge
