// The same circuits in ngspice. Decks stand here, beside the numbers they are held against.
#include <fmt/format.h>
#include <cmath>
#include "actuator/dc_motor.hpp"
#include "actuator/pump.hpp"
#include "actuator/pwm_current.hpp"
#include "driver/flyback.hpp"
#include "power/bulk_capacitor.hpp"
#include "support/demo.hpp"
#include "support/oracles.hpp"

namespace hinge {
namespace {

using test::ngspice;

class Ngspice : public testing::Test {
protected:
    void SetUp() override {
        if (test::run("ngspice --version > /dev/null 2>&1").status != 0) GTEST_SKIP() << "ngspice is not installed: ./check installs it";
    }
};

// A winding switched off into an ideal clamp of 0.7 V: the time its current takes to die away.
TEST_F(Ngspice, agreesOnTheFlybackDecay) {
    driver::Flyback in;
    in.current = of<Current>(0.5);
    in.inductance = of<Inductance>(10e-3);
    in.resistance = of<Resistance>(10.0);
    in.supply = of<Voltage>(12.0);
    in.clamp_voltage = of<Voltage>(0.7);
    const auto worked = driver::flyback(in);
    ASSERT_TRUE(worked);
    const auto spice = ngspice(
        "* winding into a clamp\nL1 a b 10m IC=0.5\nR1 b c 10\nVc c 0 0.7\nVs a 0 0\n.tran 1u 4m uic\n.meas tran decay WHEN i(L1)=0 "
        "FALL=1\n.end\n");
    ASSERT_TRUE(spice.count("decay"));
    EXPECT_NEAR(si(worked->result.decay_time), spice.at("decay"), 2e-6) << "one step of the transient each way";
}

// A brushed motor as R, L and back-EMF with its inertia as a capacitor: the settled current and speed.
TEST_F(Ngspice, agreesOnTheLoadedMotor) {
    actuator::DcMotor in;
    in.voltage = of<Voltage>(9.0);
    in.nominal_voltage = of<Voltage>(12.0);
    in.no_load_speed = of<RotationSpeed>(600.0);
    in.no_load_current = of<Current>(0.1);
    in.stall_current = of<Current>(2.0);
    in.stall_torque = of<Torque>(0.036);
    in.load_torque = of<Torque>(0.012);
    const auto worked = actuator::dcMotor(in);
    ASSERT_TRUE(worked);
    // Torque is a current, speed a voltage: i_torque = Kt·(i − I0) against load and inertia.
    const double r = 12.0 / 2.0, kt = 0.036 / 1.9, ke = (12.0 - 0.1 * r) / 600.0;
    const auto spice = ngspice(
        fmt::format("* motor\nVs s 0 9\nR1 s a {}\nL1 a b 1m\nEb b x w 0 {}\nVm x 0 0\nGt 0 w cur 0 {}\nHc cur 0 Vm 1\nIf w 0 {}\nIl w 0 "
                    "0.012\nCj w 0 20u\n.tran 1m 3 uic\n.meas tran speed FIND v(w) AT=2.9\n.meas tran current FIND i(Vm) AT=2.9\n.end\n",
                    r, ke, kt, kt * 0.1));
    ASSERT_TRUE(spice.count("speed") && spice.count("current"));
    EXPECT_NEAR(si(worked->result.speed), spice.at("speed"), 1e-3 * spice.at("speed")) << "settled to a thousandth after 2.9 s";
    EXPECT_NEAR(si(worked->result.current), spice.at("current"), 1e-3 * spice.at("current"));
}

// A current step out of a capacitor with its series resistance.
TEST_F(Ngspice, agreesOnTheSagOfACapacitor) {
    power::BulkCapacitor in;
    in.current_step = of<Current>(0.8);
    in.duration = of<Duration>(5e-3);
    in.capacitance = of<Capacitance>(4700e-6);
    in.esr = of<Resistance>(0.1);
    const auto worked = power::bulkCapacitor(in);
    ASSERT_TRUE(worked);
    const auto spice = ngspice(
        "* capacitor\nC1 c 0 4700u IC=5\nR1 o c 0.1\nIload o 0 PWL(0 0 1u 0.8 5.001m 0.8)\n.tran 1u 6m uic\n.meas tran v FIND v(o) "
        "AT=5.001m\n.end\n");
    ASSERT_TRUE(spice.count("v"));
    EXPECT_NEAR(si(*worked->result.sag), 5.0 - spice.at("v"), 1e-3) << "1 mV of 931 mV: the edge of the step";
}

// The first channel's winding: MOSFET as a switched resistance at 976.6 Hz, freewheel diode, wire.
// Mean currents of supply and winding, held still (the current dies away in every pause) and with a
// longer time constant (it does not).
struct Pulsed {
    const char* name;
    double inductance, back, duty;
    bool continuous;
};
TEST_F(Ngspice, agreesOnAWindingBehindItsPulses) {
    for (const auto& c :
         {Pulsed{"held", 1.8e-3, 0.0, 0.5, false}, Pulsed{"turning", 1.8e-3, 5.0, 0.7, false}, Pulsed{"slow", 60e-3, 2.0, 0.4, true}}) {
        const double resistance = 17.28;
        // A stiff diode: 0.63 V and some 0.07 V of a junction, 0.7 V in all at these currents.
        const auto spice = ngspice(
            fmt::format("* {}\nVs s 0 12\nR1 s m {}\nL1 m n {}\nVe n d {}\nD1 d f dio\nVf f s 0.63\nS1 d 0 g 0 sw\nRd d 0 1meg\nVg g 0 "
                        "PULSE(0 5 0 1u 1u {}u 1024u)\n.model dio D(Is=1e-12 N=0.1 Rs=10m)\n.model sw SW(Ron=1m Roff=1e6 Vt=2.5 Vh=0.1)\n"
                        ".tran 2u 61.44m 0 2u\n.meas tran motor AVG i(L1) FROM=30.72m TO=61.44m\n.meas tran supply AVG i(Vs) FROM=30.72m "
                        "TO=61.44m\n.end\n",
                        c.name, resistance, c.inductance, c.back, c.duty * 1024.0 - 1.0));
        ASSERT_TRUE(spice.count("motor") && spice.count("supply")) << c.name;
        actuator::PwmCurrent in;
        in.supply = of<Voltage>(12.0);
        in.back_emf = of<Voltage>(c.back);
        in.resistance = of<Resistance>(resistance);
        in.inductance = of<Inductance>(c.inductance);
        in.frequency = of<Frequency>(1.0 / 1.024e-3);
        in.duty = of<Fraction>(c.duty);
        const auto worked = actuator::pwmCurrent(in);
        ASSERT_TRUE(worked);
        EXPECT_EQ(worked->result.continuous, c.continuous) << c.name;
        EXPECT_NEAR(si(worked->result.motor_current), spice.at("motor"), 0.005 * spice.at("motor")) << c.name << ": within half a per cent";
        EXPECT_NEAR(si(worked->result.supply_current), -spice.at("supply"), 0.005 * spice.at("motor")) << c.name;
    }
}

}  // namespace
}  // namespace hinge
