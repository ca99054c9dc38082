// The readings that the bring-up plan expects of the demo, against ngspice on the same circuits.
#include <fmt/format.h>
#include "plan/feed.hpp"
#include "plan/firmware_model.hpp"
#include "proof/bring_up.hpp"
#include "store/document.hpp"
#include "support/demo.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using test::ngspice;

class BringUpInNgspice : public testing::Test {
protected:
    void SetUp() override {
        if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    }
    void take(project::Project project) {
        project_ = std::move(project);
        plan_ = plan::evaluate(project_, parts_);
        steps_ = proof::bringUp(project_, parts_, plan_);
    }
    const proof::Step& step(const std::string& id) {
        static const proof::Step none;
        for (const auto& each : steps_)
            if (each.id == id) return each;
        ADD_FAILURE() << id;
        return none;
    }
    void expectWithin(const std::string& id, double seen) {
        const auto& s = step(id);
        ASSERT_TRUE(s.expected && s.least && s.most) << id;
        EXPECT_GE(seen, *s.least) << id;
        EXPECT_LE(seen, *s.most) << id;
    }
    static project::Project stage() { return store::load(HINGE_SOURCE_DIR "/demos/paper-moon-stage")->project; }
    project::Project project_;
    project::Parts parts_ = test::shippedParts();
    plan::Plan plan_;
    std::vector<proof::Step> steps_;
};

// The pump's gate network, the pull-down on either side of its resistor, the meter's 10 MΩ beside: at rest and while on.
TEST_F(BringUpInNgspice, agreesOnTheGateAtRestAndOn) {
    for (const bool at_gate : {false, true}) {
        take(test::edited(stage(), {{"channels/rain/drive/pulldown_side", at_gate ? "gate" : "pin"}}));
        const auto& drive = project_.channels.front().drive;
        ASSERT_EQ(project_.channels.front().id, "rain");
        for (const double pin : {0.0, 5.0}) {
            // While the pin is low it sinks through its own 25 Ω; a gate is 1 GΩ for a meter.
            const auto spice =
                ngspice(fmt::format("* gate\nVp p0 0 {}\nRo p0 pin 25\nRg pin gate {}\nRp {} 0 {}\nRi gate 0 1G\nRm gate 0 10Meg\n.tran 1m "
                                    "5m\n.meas tran gate FIND v(gate) AT=4m\n.end\n",
                                    pin, si(drive.gate_resistor), at_gate ? "gate" : "pin", si(drive.pulldown)));
            ASSERT_TRUE(spice.count("gate"));
            expectWithin(pin > 0.0 ? "rain.gate_on" : "rain.gate_off", spice.at("gate"));
            // And not by the width of the range: the figure itself within 1 %.
            if (pin > 0.0) EXPECT_NEAR(*step("rain.gate_on").expected, spice.at("gate"), 0.01 * spice.at("gate")) << at_gate;
        }
    }
}

// The whole tree with nothing on it and with everything on: the adapter, each wire, the linear regulator (as much in as out), the
// buck (its power in is its power out by its efficiency), each channel's running current as a sink.
TEST_F(BringUpInNgspice, agreesOnTheSupplyAloneAndWithEverythingOn) {
    take(stage());
    for (const bool on : {false, true}) {
        std::string deck = "* supply\nVs s 0 12\nVa s src 0\n";
        for (const auto& rail : plan_.rails) {
            const auto* decided = project::findRail(project_, rail.id);
            double load = on && rail.running ? si(*rail.running) : 0.0;
            // What hangs on a rail is its channels and the board; rails that hang on it are drawn below, through their converter.
            if (decided->conversion == power::Conversion::Direct) {
                double own = 0.0;
                for (const auto& channel : project_.channels)
                    if (channel.rail == rail.id) own += si(*plan::findChannel(plan_, channel.id)->chosen->running);
                deck += fmt::format("Rw{0} src {0} {1}\nI{0} {0} 0 {2}\n", rail.id, std::max(1e-3, si(rail.wire)), on ? own : 0.0);
            } else if (decided->conversion == power::Conversion::Linear) {
                deck += fmt::format("E{0} {0}x 0 VALUE={{{1}}}\nRw{0} {0}x {0} {2}\nI{0} {0} 0 {3}\nG{0} src 0 VALUE={{{3}}}\n", rail.id,
                                    si(*rail.voltage), std::max(1e-3, si(rail.wire)), on ? load : 0.0);
            } else {
                deck += fmt::format(
                    "E{0} {0}x 0 VALUE={{{1}}}\nRw{0} {0}x {0} {2}\nI{0} {0} 0 {3}\nG{0} src 0 VALUE={{{1}*{3}/({4}*v(src))}}\n", rail.id,
                    si(*rail.voltage), std::max(1e-3, si(rail.wire)), on ? load : 0.0, si(decided->efficiency));
            }
        }
        deck += ".tran 1m 5m\n.meas tran amps FIND i(Va) AT=4m\n";
        for (const auto& rail : plan_.rails) deck += fmt::format(".meas tran {0} FIND v({0}) AT=4m\n", rail.id);
        const auto spice = ngspice(deck + ".end\n");
        ASSERT_TRUE(spice.count("amps"));
        if (on) {
            expectWithin("together", spice.at("amps"));
            EXPECT_NEAR(*step("together").expected, spice.at("amps"), 0.05 * spice.at("amps"))
                << "the figure itself; wires lower the buck's input by a percent or two";
        } else {
            for (const auto& rail : plan_.rails) expectWithin("rail." + rail.id, spice.at(rail.id));
        }
    }
}

// The motor held at its terminals: V over R by the ohmmeter's own volts.
TEST_F(BringUpInNgspice, agreesOnAWindingByTheOhmmeter) {
    take(stage());
    for (const auto& [id, part] : {std::pair{"turntable", "small_12v_g100"}}) {
        const auto* motor = std::get_if<actuator::Motor>(project::findActuator(parts_, part));
        ASSERT_NE(motor, nullptr);
        // By its stall: 12 V drive the stall current through it; an ohmmeter drives 1 mA, with 0.3 Ω of leads.
        const auto spice =
            ngspice(fmt::format("* ohmmeter\nI1 0 a 1m\nRl a b 0.3\nRw b 0 {}\n.tran 1m 5m\n.meas tran volts FIND v(a) AT=4m\n.end\n",
                                si(motor->nominal_voltage) / si(*motor->stall_current)));
        ASSERT_TRUE(spice.count("volts"));
        expectWithin(std::string{id} + ".winding", spice.at("volts") / 1e-3);
    }
}

// The bridge with nothing on it, at full and at half share: two switches of half its resistance each way, 10 kHz, a meter of 10 MΩ behind 1
// s of averaging (here: the mean over whole periods).
TEST_F(BringUpInNgspice, agreesOnABridgeWithNothingOnIt) {
    for (const double duty : {1.0, 0.5}) {
        take(test::edited(stage(), {{"channels/turntable/signal/duty", fmt::format("{}", duty)}}));
        const auto* bridge = project::findDriver(parts_, "bridge_3a");
        ASSERT_TRUE(bridge != nullptr && bridge->on_resistance);
        const auto spice =
            ngspice(fmt::format("* bridge\nVs s 0 12\nVg g 0 PULSE(0 5 0 10n 10n {} 100u)\nS1 s a g 0 on\nVh h 0 5\nS2 a 0 h g on\nRl b 0 "
                                "{}\n.model on sw(vt=2.5 vh=0.1 ron={} roff=1e9)\nRm a b 10Meg\nEd d 0 a b 1\nRd d 0 1k\n.tran 0.2u "
                                "5m\n.meas tran volts AVG v(d) FROM=1m TO=5m\n.end\n",
                                duty >= 1.0 ? 1.0 : duty * 1e-4, si(*bridge->on_resistance) / 2, si(*bridge->on_resistance) / 2));
        ASSERT_TRUE(spice.count("volts"));
        expectWithin("turntable.bridge", spice.at("volts"));
        EXPECT_NEAR(*step("turntable.bridge").expected, spice.at("volts"), 0.01 * spice.at("volts")) << duty;
    }
}

// The motor running free: its own resistance, its back-EMF at its speed without load as the data sheet gives both.
TEST_F(BringUpInNgspice, agreesOnAMotorRunningFree) {
    take(stage());
    const auto* motor = std::get_if<actuator::Motor>(project::findActuator(parts_, "small_12v_g100"));
    ASSERT_TRUE(motor != nullptr && motor->stall_current && motor->no_load_current);
    const double ohms = si(motor->nominal_voltage) / si(*motor->stall_current),
                 emf = si(motor->nominal_voltage) - si(*motor->no_load_current) * ohms;
    const auto spice =
        ngspice(fmt::format("* free\nVs s 0 {}\nRb s a 0.15\nRw a b {}\nVe b 0 {}\n.tran 1m 5m\n.meas tran amps FIND i(Ve) AT=4m\n.end\n",
                            si(motor->nominal_voltage), ohms, emf));
    ASSERT_TRUE(spice.count("amps"));
    expectWithin("turntable.uncoupled", spice.at("amps"));
}

// By hand: the chopper's peak current through its sense resistor, times the gain of its data sheet.
TEST_F(BringUpInNgspice, expectsTheReferenceThatTheDataSheetFormulaGives) {
    take(stage());
    const auto* chopper = project::findDriver(parts_, "chopper_1a_fine");
    ASSERT_TRUE(chopper != nullptr && chopper->sense_resistor && chopper->reference_gain);
    const double peak = plan::findChannel(plan_, "curtain")->chosen->numbers.drive_current;
    EXPECT_NEAR(*step("curtain.reference").expected, peak * si(*chopper->sense_resistor) * si(*chopper->reference_gain), 1e-9)
        << "makers' data sheets of step/dir choppers: Vref = I·gain·Rs (from memory)";
}

}  // namespace
}  // namespace hinge
