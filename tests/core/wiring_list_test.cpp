#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>
#include <cstdio>
#include <set>
#include "driver/bridge_states.hpp"
#include "plan/driven.hpp"
#include "plan/firmware_model.hpp"
#include "plan/input_wiring.hpp"
#include "plan/wiring.hpp"
#include "proof/bring_up.hpp"
#include "support/alone.hpp"
#include "support/matrix.hpp"
#include "support/wires.hpp"

namespace hinge {
namespace {

using project::ChannelKind;
using test::alone;
using test::has;

TEST(Wiring, aHalfBridgeHasTheLinesOfItsOwnTable) {
    const auto parts = test::shippedParts();
    const auto project = alone(ChannelKind::Blow, "fan_40_12v", "half_bridge_4a");
    const auto wires = plan::wiring(project, parts, plan::evaluate(project, parts));
    for (const auto& line : kinds::driverKind(driver::DriverClass::HalfBridge).states({}, false).lines)
        EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [&](const auto& wire) { return wire.to == "it half-bridge " + line; })) << line;
    EXPECT_FALSE(std::any_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.from.find("OUT 2") != std::string::npos; }));
    EXPECT_TRUE(has(wires, "it half-bridge output", "it +") && has(wires, "it −", "ground"));
}
TEST(Wiring, whatTheFaultFinderChecksStandsInTheList) {
    const auto parts = test::shippedParts();
    const auto stage = test::exampleProject("paper-moon-stage");
    const auto wires = plan::wiring(stage, parts, plan::evaluate(stage, parts));
    EXPECT_TRUE(has(wires, "Curtain carrier not-sleep", "Curtain carrier not-reset")) << "its enable, sleep and reset straps";
    EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [](const auto& w) { return w.to.find("Turntable bridge enable") == 0; }));
}
TEST(Wiring, aPhaseControlHasItsZeroCrossLine) {
    const auto parts = test::shippedParts();
    const auto project =
        alone(ChannelKind::Switch, "own_load", "phase_4a", {{"channels/it/demand/feeding", "mains"}, {"channels/it/demand/power", "60 W"}});
    const auto wires = plan::wiring(project, parts, plan::evaluate(project, parts));
    EXPECT_TRUE(std::any_of(wires.begin(), wires.end(), [](const auto& wire) { return wire.from == "it zero-cross output"; }));
    const auto pinned = test::edited(project, {{"board/crossing_pin", "D3"}});
    EXPECT_TRUE(has(plan::wiring(pinned, parts, plan::evaluate(pinned, parts)), "it zero-cross output", "board D3"));
    // A second board's output stays free; and where none tells them a coupler does.
    auto two = test::edited(pinned, {{"channels/it/demand/dimmed", "yes"}});
    two.channels.push_back(two.channels.front());
    two.channels.back().id = "second", two.channels.back().name = "second", two.channels.back().pin = "D5";
    const auto once = plan::wiring(two, parts, plan::evaluate(two, parts));
    EXPECT_EQ(std::count_if(once.begin(), once.end(), [](const auto& wire) { return wire.to == "board D3"; }), 1);
    const auto relay = test::edited(pinned, {{"channels/it/demand/dimmed", "yes"}, {"channels/it/drive/part", "ssr_random_2a"}});
    const auto plan = plan::evaluate(relay, parts);
    EXPECT_TRUE(has(plan::wiring(relay, parts, plan), "board D3", "mains crossings, coupler, collector"));
    const auto led = test::edited(
        relay,
        {{"channels/it/actuator", "led_lamp_230v_7w"}, {"channels/it/demand/load", "capacitive"}, {"channels/it/demand/power", "7 W"}});
    EXPECT_NE(test::finding(plan::evaluate(led, parts), "dimmed-lamp"), nullptr) << "whatever fires it";
    const auto list = plan::partsList(relay, parts, plan);
    EXPECT_TRUE(std::any_of(list.begin(), list.end(), [](const auto& line) { return line.name.find("zero-cross coupler") == 0; }));
}

// Every kind of input has the wires, parts and pin mode of what it is.
struct Circuit {
    project::InputKind kind;
    std::vector<project::FactEdit> edits;
    std::vector<std::pair<const char*, const char*>> wires;
    bool pulled_up;
};
TEST(Wiring, ofEveryKindOfInput) {
    using project::InputKind;
    const auto parts = test::shippedParts();
    const std::string x = "inputs/x/";
    const std::vector<Circuit> table{
        {InputKind::Button, {}, {{"board A0", "x contact"}, {"x contact, other side", "ground"}}, true},
        {InputKind::EndSwitch, {}, {{"board A0", "x contact"}, {"x contact, other side", "ground"}}, true},
        {InputKind::Tach, {{x + "pin", "D2"}}, {{"board D2", "x open collector"}, {"x ground", "ground"}}, true},
        {InputKind::Sensor, {}, {{"board 5 V", "x +"}, {"x −", "ground"}, {"x output", "board A0"}}, false},
        {InputKind::Sensor, {{x + "rail", "logic"}, {x + "wired", "open-collector"}}, {{"board A0", "x open collector"}}, true},
        {InputKind::Knob, {}, {{"board 5 V", "x upper end"}, {"x lower end", "ground"}, {"x wiper", "board A0"}}, false},
        {InputKind::Level,
         {{x + "rail", "movers"}},
         {{"12 V rail", "x divider, upper end"}, {"x divider, middle", "board A0"}, {"x divider, lower end", "ground"}},
         false},
        {InputKind::Level, {{x + "measures", "temperature"}}, {{"board 5 V", "x thermistor"}, {"board A0", "ground"}}, false},
        {InputKind::Level, {{x + "measures", "current"}}, {{"x transformer", "board A0"}, {"x transformer, other end", "x middle"}}, false},
        {InputKind::Sensor, {{x + "wired", "zero-cross"}}, {{"board A0", "x coupler, collector"}, {"x coupler, emitter", "ground"}}, true}};
    for (const auto& row : table) {
        const auto project = test::withInput(row.kind, row.edits);
        const auto& input = project.inputs.back();
        const auto plan = plan::evaluate(project, parts);
        const auto wires = plan::wiring(project, parts, plan);
        for (const auto& [from, to] : row.wires) EXPECT_TRUE(has(wires, from, to)) << labelOf(row.kind) << ": " << from << " to " << to;
        EXPECT_EQ(project::pullsUp(input), row.pulled_up) << labelOf(row.kind);
        EXPECT_FALSE(plan::inputParts(project, input).empty());
    }
}
// What lies in a wire is a value, and its note says the same: for all that the sketch can drive, and every kind of input.
TEST(Wiring, whatLiesInAWireIsWhatItsNoteSays) {
    const auto parts = test::shippedParts();
    int resistors = 0, diodes = 0;
    const auto look = [&](const project::Project& project) {
        for (const auto& wire : plan::wiring(project, parts, plan::evaluate(project, parts))) {
            const bool says = wire.note.starts_with("through ") || wire.note.starts_with("pull-down ");
            EXPECT_EQ(says, wire.through.has_value()) << wire.from << " to " << wire.to << ": " << wire.note;
            if (says && wire.through) {
                const auto ohms = wire.note.substr(wire.note.find(' ') + 1);
                EXPECT_TRUE(ohms.starts_with(displayPlain(*wire.through))) << wire.note;
                ++resistors;
            }
            EXPECT_EQ(wire.note.starts_with("flyback diode"), wire.diode) << wire.note;
            diodes += wire.diode ? 1 : 0;
        }
    };
    for (const auto& row : test::matrix(parts, {"atmega328p-16mhz"})) {
        look(row.project);
        look(test::edited(row.project, {{"channels/it/drive/flyback_diode", "yes"}}));
    }
    for (const auto& kind : Names<project::InputKind>::all)
        for (const auto& wired : Names<project::Wired>::all) look(test::withInput(kind.value, {{"inputs/x/wired", wired.id}}));
    EXPECT_GT(resistors, 100);
    EXPECT_GT(diodes, 10);
}
// 12 V onto a 5 V converter: U·Rb/(Rt + Rb) by Ohm's law, the upper resistor the next of E12 (IEC 60063).
TEST(Wiring, aDividerIsSizedForTheRailItReads) {
    auto project = alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v");
    project = project::addInput(project, project::InputKind::Level, "x");
    project.inputs.back().pin = "A0";
    project.inputs.back().rail = "movers";
    const auto circuit = plan::circuitOf(project, project.inputs.back());
    // 10 kΩ·(12/4.5 − 1) = 16.67 kΩ, next of E12: 18 kΩ.
    EXPECT_NEAR(si(circuit.top), 18e3, 1.0);
    ASSERT_TRUE(circuit.most);
    EXPECT_NEAR(si(*circuit.most), 12.0 * 10.0 / 28.0, 1e-9);
}
TEST(Wiring, aSensorThatBringsMoreThanThePinBearsIsAStopWithACure) {
    const auto parts = test::shippedParts();
    auto project = alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v");
    project = project::addInput(project, project::InputKind::Level, "x");
    project = test::edited(
        project,
        {{"inputs/x/pin", "A0"}, {"inputs/x/wired", "powered-sensor"}, {"inputs/x/rail", "movers"}, {"inputs/x/output_volts", "10 V"}});
    const auto plan = plan::evaluate(project, parts);
    const auto* stop = test::finding(plan, "level-mismatch");
    ASSERT_NE(stop, nullptr);
    EXPECT_EQ(stop->severity, Severity::Stop);
    ASSERT_FALSE(stop->remedies.empty());
    for (const auto& remedy : stop->remedies)
        EXPECT_EQ(test::finding(plan::evaluate(test::edited(project, remedy.edits), parts), "level-mismatch"), nullptr);
    project = test::edited(project, {{"inputs/x/output_volts", "4.5 V"}});
    EXPECT_EQ(test::finding(plan::evaluate(project, parts), "level-mismatch"), nullptr) << "just bears it";
}

// Lithium cells are 4.2 V full (common practice): three in series bring 12.6 V to what reads them.
TEST(Wiring, aRailOfCellsIsReadAtItsFullest) {
    auto project = alone(ChannelKind::Pump, "centrifugal_12v_small", "mosfet_logic_30v");
    project.sources.front().kind = power::SourceKind::Battery;
    project.sources.front().chemistry = power::Chemistry::LiIon;
    project.sources.front().series = of<Count>(3.0);
    project = project::addInput(project, project::InputKind::Level, "x");
    project.inputs.back().pin = "A0";
    project.inputs.back().rail = "movers";
    const auto circuit = plan::circuitOf(project, project.inputs.back());
    ASSERT_TRUE(circuit.fed && circuit.most);
    EXPECT_NEAR(si(*circuit.fed), 12.6, 1e-9);
    EXPECT_LE(si(*circuit.most), 5.0);
    // Hold point of that rail: from empty, 3.0 V a cell, to full.
    const auto parts = test::shippedParts();
    const auto steps = proof::bringUp(project, parts, plan::evaluate(project, parts));
    const auto rail = std::find_if(steps.begin(), steps.end(), [](const auto& step) { return step.id == "rail.movers"; });
    ASSERT_NE(rail, steps.end());
    for (const auto& [reading, verdict] : std::vector<std::pair<const char*, Verdict>>{
             {"12.6 V", Verdict::Holds}, {"9.0 V", Verdict::Holds}, {"8.8 V", Verdict::Breaks}, {"13.2 V", Verdict::Breaks}})
        EXPECT_EQ(proof::judge(*rail, reading).value(), verdict) << reading;
}

// Supply pins: VSYS 1.8 to 5.5 V (RP2040 board's data sheet), the 5 V pins of the others have regulators behind them; an ATmega328P
// itself takes up to 5.5 V (its data sheet, 29.1). All from memory.

}  // namespace
}  // namespace hinge
