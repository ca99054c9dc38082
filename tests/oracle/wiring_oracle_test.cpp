// The wiring list itself, turned into an ngspice deck: what the load and the pins then have is what 'off', 'half' and 'full' mean.
// Only what the list says is wired; the parts are the models of their classes that the maker's own deck has: level-1 MOSFET and
// Gummel-Poon transistor (ngspice manual, chapters 8 and 11), modules as switches at half the board's volts.
#include <fmt/format.h>
#include <map>
#include <regex>
#include <tuple>
#include "plan/deck.hpp"
#include "plan/input_wiring.hpp"
#include "plan/wiring.hpp"
#include "support/alone.hpp"
#include "support/matrix.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using project::ChannelKind;
using test::alone;
using Edits = std::vector<project::FactEdit>;

/// The list's nodes and wires as the maker's deck has them, and what is measured at them.
class Deck : public plan::WireDeck {
public:
    Deck(const std::vector<plan::Wire>& wires, double logic) : WireDeck(wires), logic_{logic} {}
    /// The model of the driver's class.
    void addDriver(const driver::DriverPart& driver) {
        std::vector<std::string> lines;
        kinds::driverKind(driver).deck({driver, "it ", "it", logic_, [this](const std::string& end) { return node(end); },
                                        [this](const std::string& end) { return has(end); }, lines});
        for (const auto& each : lines) line(each);
    }
    /// Means over ten periods under a transient.
    std::map<std::string, double> solve(const std::vector<std::string>& at, bool pulses) {
        std::string deck = "* from the wiring list\n.options rshunt=1e9\n" + body() + ".model d d is=1e-12 rs=0.05\n" +
                           fmt::format(".model s sw vt={} vh=0.1 ron=0.05 roff=1e8\n", logic_ / 2.0);
        deck += pulses ? ".tran 2u 10m 0 2u\n" : ".tran 10u 1m 0 10u\n";
        std::map<std::string, std::string> back;
        int k = 0;
        for (const auto& name : at) {
            deck += fmt::format(".meas tran m{} AVG v({}) from={} to={}\n", k, node(name), pulses ? "5m" : "0.5m", pulses ? "10m" : "1m");
            back[fmt::format("m{}", k++)] = name;
        }
        std::map<std::string, double> out;
        for (const auto& [key, value] : test::ngspice(deck + ".end\n"))
            if (back.contains(key)) out[back[key]] = value;
        return out;
    }

private:
    double logic_;
};

enum class At { Reset, Off, Half, Full };
struct Driven {
    const char* name;
    ChannelKind kind;
    const char *actuator, *driver;
    Edits edits;
    double off, half, full;  // volts of the load, or of the PWM wire
    double slack;
};
void PrintTo(const Driven& c, std::ostream* out) {
    *out << c.name;
}

class WiringOracle : public testing::TestWithParam<Driven> {
protected:
    void SetUp() override {
        if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    }
};
TEST_P(WiringOracle, theLoadHasWhatOffHalfAndFullMean) {
    const auto& c = GetParam();
    const auto project = alone(c.kind, c.actuator, c.driver, c.edits);
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto& planned = plan.channels.front();
    const auto wires = plan::wiring(project, parts, plan);
    const bool fan_wire = planned.inverted;
    for (const At at : {At::Reset, At::Off, At::Half, At::Full}) {
        Deck deck(wires, 5.0);
        deck.line(fmt::format("Vlogic {} 0 5", deck.node("board 5 V")));
        deck.line(fmt::format("Vrail {} 0 12", deck.node("12 V rail")));
        const std::string pin = deck.node("board D9");
        // As the sketch drives it: its polarity is the plan's.
        const bool low_is_on = planned.inverted;
        if (at == At::Off) deck.line(fmt::format("Vpin {} 0 {}", pin, low_is_on ? 5 : 0));
        if (at == At::Full) deck.line(fmt::format("Vpin {} 0 {}", pin, low_is_on ? 0 : 5));
        if (at == At::Half) deck.line(fmt::format("Vpin {} 0 PULSE(0 5 0 10n 10n 0.5m 1m)", pin));
        deck.addDriver(*project::findDriver(parts, c.driver));
        const bool bridge = deck.has("it wire 1");
        // A load of 24 Ω, half an ampere from 12 V; 170 Ω behind a base resistor that the plan has sized for its fan's 70 mA.
        if (fan_wire)
            deck.line(fmt::format("Rload {} {} 100\nVfan fan5 0 5\nRup fan5 {} 1.2k", deck.node("it +"), deck.node("it −"),
                                  deck.node("it PWM wire")));
        else if (bridge) deck.line(fmt::format("Rload {} {} 24", deck.node("it wire 1"), deck.node("it wire 2")));
        else
            deck.line(fmt::format("Rload {} {} {}", deck.node("it +"), deck.node("it −"),
                                  deck.has("it transistor base") || deck.has("it Darlington base") ? 170 : 24));
        const auto volts = deck.solve(fan_wire ? std::vector<std::string>{"it PWM wire"}
                                      : bridge ? std::vector<std::string>{"it wire 1", "it wire 2"}
                                               : std::vector<std::string>{"it +", "it −"},
                                      at == At::Half);
        double seen = 0.0;
        if (fan_wire) seen = volts.at("it PWM wire");
        else if (bridge) seen = volts.at("it wire 1") - volts.at("it wire 2");
        else seen = volts.at("it +") - volts.at("it −");
        const double wanted = at == At::Half ? c.half : at == At::Full ? c.full : c.off;
        EXPECT_NEAR(seen, wanted, c.slack) << (at == At::Reset ? "reset" : at == At::Off ? "off" : at == At::Half ? "half" : "full");
    }
}
// The deck that the maker gets: fully on, the load has what 'full' means.
TEST_P(WiringOracle, theMakersDeckSaysTheSame) {
    auto c = GetParam();
    const auto project = alone(c.kind, c.actuator, c.driver, {{"channels/it/signal/duty", "100 %"}});
    const auto parts = test::shippedParts();
    const auto plan = plan::evaluate(project, parts);
    const auto deck = plan::spiceDeck(project, parts, plan);
    ASSERT_TRUE(deck) << sentence(deck.error());
    const auto volts = test::ngspice(*deck);
    const bool fan_wire = plan.channels.front().inverted;
    const std::string asked = fan_wire ? "mean_v_it_pwm_wire" : "mean_v_it";
    ASSERT_TRUE(volts.contains(asked)) << *deck;
    EXPECT_NEAR(volts.at(asked), c.full, c.slack + 0.1) << "a tenth of a volt on the way from the adapter";
    EXPECT_NEAR(volts.at("least_v_5_v_rail"), 5.0, 0.05);
}
// Both ways: the list wires the pin that says which way, and the load's volts turn with it.
TEST(WiringOracleBothWays, aBridgeTurnsItsLoadRound) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    const auto project = alone(ChannelKind::Turn, "small_12v_g100", "bridge_3a",
                               {{"channels/it/demand/way", "disc"},
                                {"channels/it/demand/speed", "30 rpm"},
                                {"channels/it/demand/friction", "0.02 N m"},
                                {"channels/it/direction_pin", "D4"}});
    const auto plan = plan::evaluate(project, parts);
    const auto wires = plan::wiring(project, parts, plan);
    for (const bool backwards : {false, true})
        for (const At at : {At::Reset, At::Off, At::Half, At::Full}) {
            Deck deck(wires, 5.0);
            deck.line(fmt::format("Vlogic {} 0 5", deck.node("board 5 V")));
            deck.line(fmt::format("Vrail {} 0 12", deck.node("12 V rail")));
            if (at != At::Reset) deck.line(fmt::format("Vway {} 0 {}", deck.node("board D4"), backwards ? 5 : 0));
            if (at == At::Off) deck.line(fmt::format("Vpin {} 0 0", deck.node("board D9")));
            if (at == At::Full) deck.line(fmt::format("Vpin {} 0 5", deck.node("board D9")));
            if (at == At::Half) deck.line(fmt::format("Vpin {} 0 PULSE(0 5 0 10n 10n 0.5m 1m)", deck.node("board D9")));
            deck.addDriver(*project::findDriver(parts, "bridge_3a"));
            ASSERT_TRUE(deck.has("it wire 1"));
            deck.line(fmt::format("Rload {} {} 24", deck.node("it wire 1"), deck.node("it wire 2")));
            const auto volts = deck.solve({"it wire 1", "it wire 2"}, at == At::Half);
            const double share = at == At::Full ? 1.0 : at == At::Half ? 0.5 : 0.0;
            // 12 V by 24 of 24.3 Ω: the bridge of 300 mΩ keeps the rest.
            EXPECT_NEAR(volts.at("it wire 1") - volts.at("it wire 2"), (backwards ? -11.85 : 11.85) * share, 0.15)
                << (backwards ? "backwards " : "forwards ") << share;
        }
}
const Edits fast{{"channels/it/signal/duty", "50 %"}};
INSTANTIATE_TEST_SUITE_P(Classes, WiringOracle,
                         testing::Values(
                             // Off 0 V, full the rail less what the class drops at half an ampere, half half of that.
                             Driven{"mosfet", ChannelKind::Blow, "fan_40_12v", "mosfet_logic_30v", fast, 0.0, 6.0, 12.0, 0.15},
                             Driven{"npn", ChannelKind::Blow, "fan_40_12v", "npn_small", fast, 0.0, 6.0, 12.0, 0.4},
                             Driven{"darlington", ChannelKind::Blow, "fan_40_12v", "darlington_60v", fast, 0.0, 5.5, 11.1, 0.35},
                             Driven{"highSide", ChannelKind::Blow, "fan_40_12v", "high_side_30v_4a", fast, 0.0, 6.0, 12.0, 0.15},
                             Driven{"halfBridge", ChannelKind::Blow, "fan_40_12v", "half_bridge_4a", fast, 0.0, 6.0, 12.0, 0.15},
                             Driven{"hBridge", ChannelKind::Blow, "fan_40_12v", "bridge_3a", fast, 0.0, 5.93, 11.85, 0.15},
                             Driven{"relay", ChannelKind::Switch, "led_string_12v_6w", "relay_board_5v", {}, 0.0, 6.0, 12.0, 0.15},
                             // The fan's own pull-up, 5 V through 1.2 kΩ; low is under 0.8 V (4-wire fan specification, from memory).
                             Driven{
                                 "fanOnAnOpenCollector", ChannelKind::Blow, "fan_80_pwm_70", "straight_from_pin", {}, 0.1, 2.5, 5.0, 0.25}),
                         [](const testing::TestParamInfo<Driven>& info) { return std::string{info.param.name}; });

// What the pin of an input has at its two ends, and what the board then reads.
struct Read {
    project::InputKind kind;
    Edits edits;
    const char *at_rest, *moved;  // elements on the list's ends; {NAME} is its node
    double low, high;             // volts at the pin
    double slack;
};
TEST(WiringOracleOfInputs, thePinHasWhatThatKindOfInputMeans) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    using project::InputKind;
    const auto parts = test::shippedParts();
    const std::string x = "inputs/x/";
    const std::vector<Read> table{
        // The pin's own pull-up is 20 to 50 kΩ (ATmega328P data sheet, table 29-1, from memory): low is under 0.3·Vcc, high over 0.6·Vcc.
        {InputKind::Button, {}, "Rc {x contact} {x contact, other side} 1", "Rc {x contact} {x contact, other side} 100meg", 0.0, 5.0, 0.1},
        {InputKind::Sensor,
         {{x + "wired", "open-collector"}},
         "Sx {x open collector} {x ground} on 0 s\nVon on 0 5",
         "Sx {x open collector} {x ground} on 0 s\nVon on 0 0",
         0.0,
         5.0,
         0.1},
        {InputKind::Sensor, {}, "Rs {x output} {x −} 10", "Rs {x output} {x +} 10", 0.0, 5.0, 0.1},
        {InputKind::Knob,
         {},
         "Ra {x upper end} {x wiper} 10k\nRb {x wiper} {x lower end} 1",
         "Ra {x upper end} {x wiper} 1\nRb {x wiper} {x lower end} 10k",
         0.0,
         5.0,
         0.02},
        // By Ohm's law: 12 V·10/(18 + 10) = 4.286 V from the list's own two resistors; 0 V when the rail is off.
        {InputKind::Level, {{x + "rail", "movers"}}, "Vr {12 V rail} 0 0", "Vr {12 V rail} 0 12", 0.0, 12.0 * 10.0 / 28.0, 0.02},
        // 10 kΩ at 25 °C against 10 kΩ is half; 1.25 kΩ at 85 °C or so 5·10/11.25.
        {InputKind::Level,
         {{x + "measures", "temperature"}},
         "Rt {x thermistor} {x thermistor, other end} 10k",
         "Rt {x thermistor} {x thermistor, other end} 1.25k",
         2.5,
         5.0 * 10.0 / 11.25,
         0.02},
        // The middle of the board's volts; 30 mA of the transformer through its burden of 33 Ω are 0.99 V more.
        {InputKind::Level,
         {{x + "wired", "current-transformer"}},
         "It {x transformer, other end} {x transformer} 0",
         "It {x transformer, other end} {x transformer} 30m",
         2.5,
         2.5 + 0.99,
         0.03}};
    for (const auto& row : table) {
        const auto project = test::withInput(row.kind, row.edits);
        const auto& input = project.inputs.back();
        const auto wires = plan::inputWires(project, input);
        const auto circuit = plan::circuitOf(project, input);
        for (const bool moved : {false, true}) {
            Deck deck(wires, 5.0);
            deck.line(fmt::format("Vlogic {} 0 5", deck.node("board 5 V")));
            const std::string pin = deck.node("board A0");
            // The pin mode that the sketch sets.
            if (project::pullsUp(input)) deck.line(fmt::format("Rpull {} {} 35k", pin, deck.node("board 5 V")));
            if (circuit.wired == project::Wired::Divider)
                deck.line(fmt::format("Rt {} {} {}\nRb {} {} {}", deck.node("x divider, upper end"), deck.node("x divider, middle"),
                                      si(circuit.top), deck.node("x divider, middle"), deck.node("x divider, lower end"),
                                      si(circuit.bottom)));
            std::string elements = moved ? row.moved : row.at_rest;
            for (auto open = elements.find('{'); open != std::string::npos; open = elements.find('{')) {
                const auto close = elements.find('}', open);
                elements = elements.substr(0, open) + deck.node(elements.substr(open + 1, close - open - 1)) + elements.substr(close + 1);
            }
            deck.line(elements);
            EXPECT_NEAR(deck.solve({"board A0"}, false).at("board A0"), moved ? row.high : row.low, row.slack)
                << labelOf(row.kind) << ", " << labelOf(circuit.wired) << (moved ? ", moved" : ", at rest");
        }
    }
}

// A bare LED, 2.0 V at 20 mA (a diode of that point): what flows through the list's own resistor is what 'off', 'half' and 'full' mean.
TEST(WiringOracleOfLeds, theListsResistorLetsTheRightCurrentThrough) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    for (const auto& [driver, rail, before] : {std::tuple{"straight_from_pin", "logic", "board D9"},
                                               {"mosfet_logic_30v", "movers", "12 V rail"},
                                               {"npn_small", "movers", "12 V rail"},
                                               {"high_side_30v_4a", "movers", "it high-side module OUT"},
                                               {"bridge_3a", "movers", "it bridge OUT 1"},
                                               {"relay_board_5v", "movers", "12 V rail"}}) {
        const auto project =
            alone(ChannelKind::Switch, "led_red_5mm", driver, {{"channels/it/rail", rail}, {"channels/it/demand/power", "20 mW"}});
        const auto plan = plan::evaluate(project, parts);
        const auto& chosen = plan.channels.front().chosen;
        ASSERT_TRUE(chosen && chosen->led_resistor) << driver;
        for (const auto& at : {At::Reset, At::Off, At::Half, At::Full}) {
            Deck deck(plan::wiring(project, parts, plan), 5.0);
            deck.line(fmt::format("Vlogic {} 0 5\nVrail {} 0 12", deck.node("board 5 V"), deck.node("12 V rail")));
            const std::string pin = deck.node("board D9");
            if (at == At::Off || at == At::Full) deck.line(fmt::format("Vpin {} 0 {}", pin, at == At::Full ? 5 : 0));
            if (at == At::Half) deck.line(fmt::format("Vpin {} 0 PULSE(0 5 0 10n 10n 0.5m 1m)", pin));
            deck.addDriver(*project::findDriver(parts, driver));
            const bool bridge = deck.has("it wire 1");
            const std::string plus = bridge ? "it wire 1" : "it +";
            deck.line(
                fmt::format("Dled {} {} led\n.model led d is=4.2e-21 n=1.8", deck.node(plus), deck.node(bridge ? "it wire 2" : "it −")));
            const auto volts = deck.solve({before, plus}, at == At::Half);
            const double amps = (volts.at(before) - volts.at(plus)) / si(*chosen->led_resistor);
            const double full = si(*chosen->motor), wanted = at == At::Full ? full : at == At::Half ? 0.5 * full : 0.0;
            EXPECT_NEAR(amps, wanted, 0.08 * full) << driver << ", " << static_cast<int>(at);
            EXPECT_LE(amps, 0.0205) << driver << ": never over what it bears";
        }
    }
}

// Modules of which only one side can stand in a deck: what goes into them.
TEST(WiringOracleOfModules, aSolidStateRelaysInputIsOffUntilItsPinIsHigh) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    for (const auto* relay : {"ssr_zero_2a", "ssr_random_2a"}) {
        const auto project =
            alone(ChannelKind::Switch, "", relay, {{"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}});
        const auto wires = plan::wiring(project, parts, plan::evaluate(project, parts));
        for (const auto& [pin, low, high] : {std::tuple{"", 0.0, 0.8}, {"0", 0.0, 0.1}, {"5", 3.0, 5.0}}) {
            Deck deck(wires, 5.0);
            if (*pin != 0) deck.line(fmt::format("Vpin {} 0 {}", deck.node("board D9"), pin));
            // A light emitter of 1.2 V behind the module's own resistor.
            deck.line(fmt::format("Rin {} led 330\nVl led led2 1.2\nDl led2 {} d", deck.node("it solid-state relay IN +"),
                                  deck.node("it solid-state relay IN −")));
            const double volts = deck.solve({"it solid-state relay IN +"}, false).at("it solid-state relay IN +");
            EXPECT_GE(volts, low - 1e-6) << relay << ", pin at '" << pin << "'";
            EXPECT_LE(volts, high + 1e-6) << relay << ", pin at '" << pin << "'";
        }
    }
}
// A step/dir carrier: its outputs are on while ENABLE is low and it is not asleep (its own pull-ups are 100 kΩ); a pin that floats leaves
// it off.
TEST(WiringOracleOfModules, aChoppersWindingHasNothingUntilItIsEnabled) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    std::string stepper;
    for (const auto& part : parts.actuators)
        if (std::holds_alternative<actuator::Stepper>(part) && stepper.empty()) stepper = actuator::head(part).id;
    for (const auto* carrier : {"chopper_2a", "chopper_serial_quiet"}) {
        const auto project =
            alone(ChannelKind::Turn, stepper, carrier, {{"channels/it/direction_pin", "D8"}, {"channels/it/enable_pin", "D7"}});
        const auto wires = plan::wiring(project, parts, plan::evaluate(project, parts));
        for (const auto& [enable, winding] : {std::pair{"", 0.0}, {"5", 0.0}, {"0", 12.0}}) {
            Deck deck(wires, 5.0);
            deck.line(fmt::format("Vlogic {} 0 5\nVrail {} 0 12", deck.node("board 5 V"), deck.node("12 V rail")));
            if (*enable != 0) deck.line(fmt::format("Ven {} 0 {}", deck.node("board D7"), enable));
            const auto n = [&](const char* name) { return deck.node(std::string{"it carrier "} + name); };
            // Many carriers pull ENABLE down by themselves, weakly.
            deck.line(fmt::format("Rsl {} {} 100k\nRrs {} {} 100k\nRen {} 0 100k", n("not-sleep"), n("logic supply"), n("not-reset"),
                                  n("logic supply"), n("ENABLE")));
            deck.line(fmt::format("Bon on 0 V=(5-V({}))*(V({})>2.5 ? 1 : 0)\nS1 {} {} on 0 s", n("ENABLE"), n("not-sleep"),
                                  n("motor supply"), n("coil A")));
            deck.line(fmt::format("Rload {} 0 24", deck.node("it winding A")));
            EXPECT_NEAR(deck.solve({"it winding A"}, false).at("it winding A"), winding, 0.15)
                << carrier << ", enable at '" << enable << "'";
        }
    }
}
// A servo behind an expander has its rail's volts whatever the pins do: the expander's pulses are what moves it.
TEST(WiringOracleOfModules, anExpandersServosHaveTheirRail) {
    if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    const auto parts = test::shippedParts();
    for (const auto* expander : {"servo_expander_i2c", "servo_expander_serial"}) {
        const auto project = alone(ChannelKind::Turn, "", expander);
        const auto wires = plan::wiring(project, parts, plan::evaluate(project, parts));
        Deck deck(wires, 5.0);
        const std::string supply =
            std::string{expander} == "servo_expander_i2c" ? "I²C PWM expander servo supply" : "serial servo expander servo supply";
        deck.line(fmt::format("Vrail {} 0 12\nRload {} 0 100", deck.node("12 V rail"), deck.node(supply)));
        EXPECT_NEAR(deck.solve({supply}, false).at(supply), 12.0, 0.05) << expander;
    }
}

}  // namespace
}  // namespace hinge
