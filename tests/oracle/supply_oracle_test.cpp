// The supply over time in ngspice. Each deck stands beside the numbers it is held against.
#include <fmt/format.h>
#include <cmath>
#include "plant/motor_start.hpp"
#include "plant/supply_network.hpp"
#include "power/battery_discharge.hpp"
#include "power/rectifier.hpp"
#include "support/long_wire.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using test::ngspice;

class SupplyInNgspice : public testing::Test {
protected:
    void SetUp() override {
        if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    }
};

// A motor run up from rest on 12 V behind 0.3 Ω of wire with 1000 µF beside it: the speed as the volts of a capacitor.
TEST_F(SupplyInNgspice, agreesOnTheMotorStart) {
    struct Case {
        const char* name;
        plant::MotorStart in;
    };
    const Case cases[] = {
        {"stiff",
         {.supply = 12.0,
          .resistance = 0.05,
          .capacitance = 470e-6,
          .esr = 0.08,
          .winding = 2.4,
          .inductance = 1.2e-3,
          .constant = 0.021,
          .inertia = 1.4e-5,
          .load_torque = 0.0,
          .length = 0.4}},
        {"longWire", test::longWire},
        {"loaded",
         {.supply = 6.0,
          .resistance = 0.3,
          .capacitance = 1000e-6,
          .esr = 0.1,
          .winding = 3.0,
          .inductance = 2e-3,
          .constant = 0.012,
          .inertia = 4e-6,
          .load_torque = 0.004,
          .length = 0.3}},
    };
    for (const auto& c : cases) {
        const auto ours = plant::motorStart(c.in, 30'000);
        ASSERT_TRUE(ours);
        // Below its load the rotor stands: an ideal clamp holds the speed at zero.
        const auto spice =
            ngspice(fmt::format("* motor start\n.options reltol=1e-5 abstol=1e-9\nVs s 0 {}\nRs s a {}\nRe a e {}\nCe e 0 {} IC={}\nRw a b "
                                "{}\nLw b c {} IC=0\nEb c x w 0 {}\nVm x 0 0\n"
                                "Gt 0 w cur 0 {}\nHc cur 0 Vm 1\nIl w 0 {}\nCj w 0 {} IC=0\nDc 0 w clamp\n.model clamp D(is=1e-9 "
                                "n=0.01)\n.tran 5u {} 0 5u uic\n"
                                ".meas tran low MIN v(a) from=20u to={}\n.meas tran peak MAX i(Vm)\n.meas tran speed FIND v(w) "
                                "AT={}\n.meas tran speed_late FIND v(w) AT={}\n.meas tran volts_late FIND v(a) AT={}\n.end\n",
                                c.in.supply, c.in.resistance, c.in.esr, c.in.capacitance, c.in.supply, c.in.winding, c.in.inductance,
                                c.in.constant, c.in.constant, c.in.load_torque, c.in.inertia, c.in.length, c.in.length, c.in.length * 0.1,
                                c.in.length * 0.9, c.in.length * 0.9));
        ASSERT_TRUE(spice.count("low") && spice.count("peak") && spice.count("speed") && spice.count("speed_late") &&
                    spice.count("volts_late"))
            << c.name;
        const auto at = [&](double share) { return ours->samples[static_cast<std::size_t>(share * 30'000)]; };
        EXPECT_NEAR(ours->lowest.volts, spice.at("low"), 0.005 * spice.at("low")) << c.name << ": within 0.5 %";
        EXPECT_NEAR(ours->peak.motor_current, spice.at("peak"), 0.005 * spice.at("peak")) << c.name;
        EXPECT_NEAR(at(0.1).speed, spice.at("speed"), 0.005 * spice.at("speed_late")) << c.name;
        EXPECT_NEAR(at(0.9).speed, spice.at("speed_late"), 0.005 * spice.at("speed_late")) << c.name;
        EXPECT_NEAR(at(0.9).volts, spice.at("volts_late"), 0.005 * spice.at("volts_late")) << c.name;
    }
}

// A servo's bursts on a USB port: 5 V behind 0.35 Ω of cable, 470 µF with 0.12 Ω, the board beside it.
TEST_F(SupplyInNgspice, agreesOnServoBurstsOnAUsbPort) {
    const auto net =
        plant::SupplyNetwork::make({{.set = 5.0, .resistance = 0.15}, {.feed = 0, .resistance = 0.20, .bulk = 470e-6, .esr = 0.12}});
    ASSERT_TRUE(net);
    // At rest 45 mA; from 0.1 s on a move of 0.2 s: 0.35 A and at first 0.5 A more that die away in 15 ms; again at 0.4 s.
    const std::vector<plant::LoadShape> rest{{1, 0.045, 0.0, 1.0}};
    const auto move = [](double extra) { return std::vector<plant::LoadShape>{{1, 0.045, 0.0, 1.0}, {1, 0.35, extra, 0.015}}; };
    auto state = net->settled(rest);
    std::vector<plant::Lowest> lowest;
    double at_150ms = 0.0;
    ASSERT_TRUE(net->advance(state, rest, 0.1));
    ASSERT_TRUE(net->advance(state, move(0.5), 0.05, &lowest));
    at_150ms = net->at(state, move(0.5 * std::exp(-0.05 / 0.015))).volts[1];
    ASSERT_TRUE(net->advance(state, move(0.5 * std::exp(-0.05 / 0.015)), 0.15, &lowest));
    ASSERT_TRUE(net->advance(state, rest, 0.1));
    const double before_second = net->at(state, rest).volts[1];
    const auto spice = ngspice(
        "* servo bursts\n.options reltol=1e-6\nVs s 0 5\nRp s p 0.15\nRc p a 0.20\nRe a e 0.12\nCe e 0 470u IC=4.98425\nBi a 0 "
        "I=0.045+u(time-0.1)*u(0.3-time)*(0.35+0.5*exp(-(time-0.1)/0.015))\n"
        ".tran 20u 0.41 0 20u uic\n.meas tran low MIN v(a) from=0.05\n.meas tran v150 FIND v(a) AT=0.15\n.meas tran v395 FIND v(a) "
        "AT=0.395\n.end\n");
    ASSERT_TRUE(spice.count("low") && spice.count("v150") && spice.count("v395"));
    EXPECT_NEAR(lowest[1].volts, spice.at("low"), 1e-3) << "1 mV: the edge takes a step of 20 µs there";
    EXPECT_NEAR(at_150ms, spice.at("v150"), 2e-4);
    EXPECT_NEAR(before_second, spice.at("v395"), 2e-4);
}

// A bridge rectifier with smoothing: the ripple by hand is on the safe side of what the circuit has.
TEST_F(SupplyInNgspice, theRippleOfARectifierIsNeverLessThanTheCircuits) {
    for (const double microfarads : {2200.0, 4700.0, 10000.0}) {
        power::Rectifier in;
        in.ac_voltage = of<Voltage>(15.0);
        in.frequency = of<Frequency>(50.0);
        in.current = of<Current>(0.8);
        in.capacitance = of<Capacitance>(microfarads * 1e-6);
        const auto worked = power::rectifier(in);
        ASSERT_TRUE(worked);
        const auto spice =
            ngspice(fmt::format("* bridge\n.options reltol=1e-4\nVs a b SIN(0 21.2132 50)\nRs a aa 0.02\nD1 aa p d\nD2 b p d\nD3 0 aa "
                                "d\nD4 0 b d\n.model d D(is=1e-9 n=1.33 rs=0.005)\nC1 p 0 {}u IC=19\nRl b 0 1meg\nIl p 0 0.8\n"
                                ".tran 50u 0.5 0.3 50u uic\n.meas tran top MAX v(p)\n.meas tran bottom MIN v(p)\n.end\n",
                                microfarads));
        ASSERT_TRUE(spice.count("top") && spice.count("bottom"));
        const double ripple = spice.at("top") - spice.at("bottom");
        EXPECT_GE(si(worked->result.ripple), ripple * 0.99) << microfarads << ": I/(2·f·C) lets it fall for the whole half wave";
        EXPECT_LT(si(worked->result.ripple), ripple * 1.5) << microfarads << ": and is not far off";
        EXPECT_NEAR(si(worked->result.peak_voltage), spice.at("top"), 0.05 * spice.at("top")) << "0.7 V a diode against an exponential one";
        EXPECT_NEAR(si(worked->result.valley), spice.at("bottom"), 0.03 * spice.at("bottom")) << "and where the next half wave meets it";
    }
}

// The valley as the supply's own network has it, for small smoothing and large: a resistance and the capacitor stand for the bridge.
TEST_F(SupplyInNgspice, theValleyOfASmallCapacitorIsMet) {
    struct Case {
        double microfarads, amps;
    };
    for (const auto& c : {Case{1000, 0.616}, Case{470, 0.3}, Case{2200, 1.5}}) {
        power::Rectifier in;
        in.ac_voltage = of<Voltage>(15.0);
        in.frequency = of<Frequency>(50.0);
        in.current = of<Current>(c.amps);
        in.capacitance = of<Capacitance>(c.microfarads * 1e-6);
        const auto worked = power::rectifier(in);
        ASSERT_TRUE(worked);
        const auto spice =
            ngspice(fmt::format("* bridge\n.options reltol=1e-4\nVs a b SIN(0 21.2132 50)\nRs a aa 0.02\nD1 aa p d\nD2 b p d\nD3 0 aa "
                                "d\nD4 0 b d\n.model d D(is=1e-9 n=1.33 rs=0.005)\nC1 p 0 {}u IC=19\nRl b 0 1meg\nIl p 0 {}\n"
                                ".tran 50u 0.5 0.3 50u uic\n.meas tran bottom MIN v(p)\n.end\n",
                                c.microfarads, c.amps));
        ASSERT_TRUE(spice.count("bottom"));
        EXPECT_NEAR(si(worked->result.valley), spice.at("bottom"), 0.03 * spice.at("bottom")) << c.microfarads << " µF";
        const double keeps = (si(worked->result.peak_voltage) - si(worked->result.valley)) / c.amps;
        const auto net = plant::SupplyNetwork::make(
            {{.set = si(worked->result.peak_voltage), .resistance = keeps, .bulk = c.microfarads * 1e-6, .esr = 0.05}});
        ASSERT_TRUE(net);
        const std::vector<plant::LoadShape> load{{0, c.amps, 0.0, 1.0}};
        EXPECT_NEAR(net->at(net->settled(load), load).volts[0], spice.at("bottom"), 0.03 * spice.at("bottom"));
    }
}

// Four NiMH cells sag under a motor: pack behind its resistance, capacitor beside the load.
TEST_F(SupplyInNgspice, agreesOnTheSagOfABattery) {
    const double volts = 4 * power::openCellVolts(power::Chemistry::NiMh, 0.3), ohms = 4 * 0.045;
    const auto net = plant::SupplyNetwork::make({{.set = volts, .resistance = ohms, .bulk = 1000e-6, .esr = 0.06}});
    ASSERT_TRUE(net);
    auto state = net->settled({});
    std::vector<plant::Lowest> lowest;
    const std::vector<plant::LoadShape> load{{0, 0.6, 1.8, 0.08}};
    ASSERT_TRUE(net->advance(state, load, 0.03, &lowest));
    std::vector<plant::LoadShape> later = load;
    later[0].extra *= std::exp(-0.03 / 0.08);
    const double then = net->at(state, later).volts[0];
    const auto spice =
        ngspice(fmt::format("* battery\n.options reltol=1e-6\nVs s 0 {0}\nRs s a {1}\nRe a e 0.06\nCe e 0 1000u IC={0}\nBi a 0 "
                            "I=u(time-0.001)*(0.6+1.8*exp(-(time-0.001)/0.08))\n.tran 2u 0.032 0 2u uic\n.meas tran low MIN v(a)\n.meas "
                            "tran then FIND v(a) AT=0.031\n.end\n",
                            volts, ohms));
    ASSERT_TRUE(spice.count("low") && spice.count("then"));
    EXPECT_NEAR(lowest[0].volts, spice.at("low"), 1e-3);
    EXPECT_NEAR(then, spice.at("then"), 5e-4);
}

}  // namespace
}  // namespace hinge
