// Every working of the first channel against something outside itself. The source stands in each row.
#include <gtest/gtest.h>
#include <cmath>
#include "core/working_cases.hpp"

namespace hinge::workings {
namespace {

using test::Case;
using test::expectRefusal;
using test::result;
using test::split;

const Case cases[] = {
    {"PullTorque", "pull-torque", "pull=1.4kgf;arm=80mm", "torque", 1.4 * 9.80665 * 0.08, 1e-12, Verdict::Holds,
     "hand-worked: F·r with g of CGPM 1901"},
    {"PullTorqueMargin", "pull-torque", "pull=10N;arm=0.2", "needed_torque", 4.0, 1e-12, Verdict::Holds, "hand-worked: twice 2 N·m"},
    {"Dose", "dose", "volume=500mL;flow=1L/min", "run_time", 30.0, 1e-12, Verdict::Holds,
     "hand-worked: half a litre at one litre a minute"},
    {"DoseTooSlow", "dose", "volume=1.5L;flow=0.5L/min;run_time_limit=30s", "run_time", 180.0, 1e-12, Verdict::Breaks,
     "hand-worked: three minutes for what should take thirty seconds"},
    {"DoseAtItsLimit", "dose", "volume=1L;flow=1L/min;run_time_limit=60s", "run_time", 60.0, 1e-12, Verdict::Holds,
     "contract: equal to a limit is within it"},
    // Hagen-Poiseuille: hf = 128·µ·L·Q/(π·ρ·g·D⁴)
    {"PumpHeadLaminar", "pump-head", "static_head=0;flow=0.1L/min;tube_length=2;tube_diameter=6mm", "friction_head",
     128 * 1.002e-3 * 2 * (1e-4 / 60) / (3.14159265358979 * 998.2 * 9.80665 * std::pow(0.006, 4)), 1e-9, Verdict::Holds,
     "Hagen-Poiseuille closed form"},
    // Moody's chart, from memory: smooth pipe at Re 1e5 has f = 0.0180; SciPy brentq on Colebrook-White gives 0.017995
    {"PumpHeadTurbulent", "pump-head", "static_head=1;flow=0.00788389658;tube_length=10;tube_diameter=0.1;roughness=0", "friction_factor",
     0.0180, 0.005, Verdict::Holds, "Moody 1944, smooth pipe at Re 1e5: 0.018 (from memory), to the chart's reading"},
    {"PumpHeadNegativeLift", "pump-head", "static_head=-0.5;flow=0.1L/min;tube_length=0;tube_diameter=6mm", "total_head", -0.5, 1e-12,
     Verdict::Holds, "exact: no tube, no friction"},
    {"DcMotorNoLoad", "dc-motor",
     "voltage=12;nominal_voltage=12;no_load_speed=100rpm;no_load_current=0.1;stall_current=2.1;stall_torque=0.5", "speed",
     100 * 0.104719755119660, 1e-9, Verdict::Holds, "definition: at no load the data sheet's no-load speed"},
    {"DcMotorHalfStall", "dc-motor",
     "voltage=12;nominal_voltage=12;no_load_speed=100rpm;no_load_current=0;stall_current=2;stall_torque=0.5;load_torque=0.25", "speed",
     50 * 0.104719755119660, 1e-9, Verdict::Holds, "linear motor: half of stall torque at half of no-load speed"},
    {"DcMotorStalls", "dc-motor",
     "voltage=6;nominal_voltage=12;no_load_speed=100rpm;no_load_current=0;stall_current=2;stall_torque=0.5;load_torque=0.3", "current", 1.0,
     1e-12, Verdict::Breaks, "Ohm: V/R at standstill"},
    {"DcMotorGeared", "dc-motor",
     "voltage=12;nominal_voltage=12;no_load_speed=6000rpm;no_load_current=0;stall_current=2;stall_torque=10mNm;load_torque=0.25;gear_ratio="
     "50",
     "speed", 60 * 0.104719755119660, 1e-9, Verdict::Holds, "linear motor: 5 of 10 mN·m is half speed, 3000 rpm/50"},
    // 3 − 1e5·Q = 1 + 1e9·Q²: Q = (−1e5 + √(1e10 + 8e9))/2e9
    {"PumpPoint", "pump-point", "curve=0:3,0.00003:0;static_head=1;system_k=1e9", "flow", (-1e5 + std::sqrt(1e10 + 8e9)) / 2e9, 1e-12,
     Verdict::Holds, "quadratic formula by hand"},
    {"PumpPointAffinity", "pump-point", "curve=0:4,0.00004:0;static_head=0;system_k=0;speed_fraction=0.5", "flow", 0.00002, 1e-12,
     Verdict::Holds, "affinity laws: half the speed, half the free flow"},
    {"PumpCannotLift", "pump-point", "curve=0:1,0.00002:0;static_head=1;system_k=0", "flow", 0.0, 1e-12, Verdict::Breaks,
     "contract: head at or below the lift"},
    {"MosfetCool", "mosfet-switch",
     "drive_voltage=5;threshold_max=2;on_resistance=10m ohm;on_resistance_gate_voltage=4.5;current=2;supply=12", "dissipation", 0.0, 0.0,
     Verdict::Holds, ""},
    {"MosfetLoss", "mosfet-switch", "drive_voltage=5;threshold_max=2;on_resistance=0.02;on_resistance_gate_voltage=4.5;current=5;supply=12",
     "junction_temperature", 298.15 + 25 * 0.02 * 1.5 * 62, 1e-12, Verdict::Holds, "hand-worked: I²·R·1.5 times 62 K/W"},
    {"MosfetNotLogicLevel", "mosfet-switch",
     "drive_voltage=5;threshold_max=4;on_resistance=0.02;on_resistance_gate_voltage=10;current=1;supply=12", "conduction_loss", 0.03, 1e-12,
     Verdict::Breaks, "data sheet practice: on-resistance guaranteed at 10 V only"},
    {"MosfetSwitching", "mosfet-switch",
     "drive_voltage=5;threshold_max=2;on_resistance=0.02;on_resistance_gate_voltage=4.5;current=2;supply=12;frequency=20kHz;gate_charge="
     "30nC;gate_resistor=100",
     "switching_loss", 12 * 2 * (30e-9 * 100 / 3) * 20e3, 1e-12, Verdict::Holds, "hand-worked: V·I·t·f with t = Qg·Rg/(Vd − Vp)"},
    {"GateNetwork", "gate-network", "drive_voltage=5;gate_resistor=220;pulldown=10k;pulldown_side=pin", "peak_pin_current", 5.0 / 220,
     1e-12, Verdict::Breaks, "Ohm: 22.7 mA from a 20 mA pin"},
    {"GateDivided", "gate-network", "drive_voltage=5;gate_resistor=2.2k;pulldown=10k;pulldown_side=gate", "gate_voltage", 5.0 * 10 / 12.2,
     1e-12, Verdict::Tight, "voltage divider by hand"},
    {"BjtSwitch", "bjt-switch", "current=0.1;gain_min=100;drive_voltage=5;supply=12", "base_resistor", 2000, 1e-12, Verdict::Holds,
     "hand-worked: 4.2 V/2 mA = 2.1 kΩ, next lower E24 2.0 kΩ (IEC 60063)"},
    {"FlybackNoResistance", "flyback", "current=0.4;inductance=2mH;resistance=0;supply=12", "decay_time", 2e-3 * 0.4 / 0.7, 1e-12,
     Verdict::Holds, "closed form: L·I/V"},
    {"Flyback", "flyback", "current=0.5;inductance=10mH;resistance=10;supply=12;clamp_voltage=0.7", "decay_time",
     1e-3 * std::log(1 + 5 / 0.7), 1e-12, Verdict::Holds, "closed form of L·di/dt + R·i + Vc = 0"},
    {"FlybackEnergy", "flyback", "current=2;inductance=0.5;resistance=1;supply=12", "energy", 1.0, 1e-12, Verdict::Holds, "½·L·I²"},
    {"ContactMotor", "contact-rating", "load=motor;current=1;contact_current=10", "inrush_current", 6.0, 1e-12, Verdict::Holds,
     "common practice, no published source: six times"},
    {"ContactLampWelds", "contact-rating", "load=lamp;current=1.2;contact_current=10", "load_fraction", 1.2, 1e-12, Verdict::Breaks,
     "common practice, no published source: ten times"},
    {"LinearRegulator", "linear-regulator", "v_in=12;v_out=5;current=0.2", "dissipation", 1.4, 1e-12, Verdict::Holds,
     "hand-worked: 7 V·0.2 A"},
    {"LinearRegulatorCooks", "linear-regulator", "v_in=12;v_out=5;current=0.5", "junction_temperature", 298.15 + 3.5 * 65, 1e-12,
     Verdict::Breaks, "hand-worked: 3.5 W·65 K/W"},
    {"BuckConverter", "buck-converter", "v_in=12;v_out=5;current=1;efficiency=0.9", "input_current", 5.0 / (12 * 0.9), 1e-12,
     Verdict::Holds, "energy balance"},
    {"WireAwg10", "wire-drop", "awg=10;length=1;current=1", "diameter", 2.588e-3, 2e-4, Verdict::Holds,
     "ASTM B258 table: AWG 10 is 2.588 mm (from memory), to its last digit"},
    {"WireAwg24Ohms", "wire-drop", "awg=24;length=500;current=1", "resistance", 84.2, 2e-3, Verdict::Holds,
     "handbook wire table: AWG 24 has 84.2 Ω/km at 20 °C (from memory)"},
    {"WireAwg0000", "wire-drop", "awg=0000;length=1;current=1", "diameter", 11.684e-3, 1e-4, Verdict::Holds, "ASTM B258: 0.4600 in"},
    {"WireTooThin", "wire-drop", "area=0.14mm2;length=3;current=2;supply=5", "drop", 2 * 1.7241e-8 * 6 / 0.14e-6, 1e-9, Verdict::Breaks,
     "IEC 60028 resistivity by hand"},
    {"Fuse", "fuse", "running_current=0.41", "standard", 0.63, 1e-12, Verdict::Holds, "IEC 60127 list: next above 0.547 A"},
    {"FuseEqual", "fuse", "running_current=0.75", "standard", 1.0, 1e-12, Verdict::Holds, "IEC 60127 list, equal counts"},
    {"BulkCapacitor", "bulk-capacitor", "current_step=1;duration=10ms;allowed_sag=0.5;esr=0.1", "capacitance", 0.025, 1e-12, Verdict::Holds,
     "charge balance by hand: 10 mC in 0.4 V"},
    {"BulkCapacitorStandard", "bulk-capacitor", "current_step=1;duration=10ms;allowed_sag=0.5;esr=0.1", "standard", 0.033, 1e-12,
     Verdict::Holds, "IEC 60063 E6 above 25 mF"},
    {"CoilDrive", "coil-drive", "coil_voltage=5;coil_resistance=70;supply=5", "current", 5.0 / 70, 1e-12, Verdict::Holds, "Ohm"},
    {"CoilHot", "coil-drive", "coil_voltage=5;coil_resistance=70;supply=5;coil_temperature=80degC", "current",
     5.0 / (70 * (1 + 0.00393 * 60)), 1e-12, Verdict::Tight, "IEC 60028: copper's temperature coefficient"},
    {"CoilWontPull", "coil-drive", "coil_voltage=12;coil_resistance=320;supply=8", "operate_margin", 8.0 / 12 / 0.75, 1e-12,
     Verdict::Breaks, "definition by hand"},
    {"PwmFan", "pwm-timer", "mcu=atmega328p;frequency=25kHz;timer=1;mode=phase-correct", "top", 320, 1e-12, Verdict::Holds,
     "ATmega328P data sheet: 16 MHz/(2·1·320)"},
    {"PwmFanFast", "pwm-timer", "mcu=atmega328p;frequency=25kHz;timer=1;mode=fast", "top", 639, 1e-12, Verdict::Holds,
     "ATmega328P data sheet: 16 MHz/(1·640)"},
    {"PwmTimer0", "pwm-timer", "mcu=atmega328p;frequency=976.5625;timer=0;mode=fast", "prescaler", 64, 1e-12, Verdict::Holds,
     "ATmega328P data sheet: 16 MHz/(64·256)"},
    {"PwmEsp32Bits", "pwm-timer", "mcu=esp32;frequency=5kHz", "resolution_bits", 13, 1e-12, Verdict::Holds,
     "ESP32 reference manual, LED PWM (from memory): 80 MHz/(div·2^13) with div = 500/256 is 5 kHz; 14 bits would want a divider below 1"},
    {"PwmEsp32Exact", "pwm-timer", "mcu=esp32;frequency=5kHz", "actual_frequency", 5000, 1e-12, Verdict::Holds,
     "80 MHz·256/500/8192, by hand"},
    {"PwmEsp32Fast", "pwm-timer", "mcu=esp32;frequency=1MHz", "resolution_bits", 6, 1e-12, Verdict::Holds,
     "80/64 = 1.25 = 320/256, by hand"},
    {"PwmRp2040Fraction", "pwm-timer", "mcu=rp2040;frequency=1220.703125", "prescaler", 1.5625, 1e-12, Verdict::Holds,
     "RP2040 data sheet (from memory): 125 MHz/(1 + 9/16)/65536, exact and with the largest TOP, by hand"},
    {"PwmRp2040", "pwm-timer", "mcu=rp2040;frequency=1kHz", "frequency_error", 0.0, 0.0, Verdict::Holds,
     "RP2040 data sheet: 125 MHz divides to 1 kHz exactly"},
    {"AdcHalf", "adc-reading", "reference=5;bits=10;voltage=2.5", "counts", 512, 1e-12, Verdict::Holds,
     "ATmega328P data sheet: V·1024/Vref"},
    {"AdcBack", "adc-reading", "reference=5;bits=10;counts=511", "voltage", 511 * 5.0 / 1024, 1e-12, Verdict::Holds,
     "ATmega328P data sheet"},
    {"AdcOver", "adc-reading", "reference=3.3;bits=12;voltage=5", "counts", 4095, 1e-12, Verdict::Breaks, "clamped at full scale"},
    {"TimeOfDay", "time-of-day", "times=06:40,18:30;now=06:40;duration=60s", "next", 42600, 1e-12, Verdict::Holds,
     "by hand: 11 h 50 min to 18:30"},
    {"TimeOfDayOverMidnight", "time-of-day", "times=23:59:30;now=00:00:10;duration=60s", "on_now", 1, 1e-12, Verdict::Holds,
     "by hand: 40 s after its start"},
    {"CuredTime", "cured", "old_interval=20min;run_time=59min", "needed_time", 1200.0 * 2.995732273553991, 1e-9, Verdict::Tight,
     "by hand: −ln 0.05 = 2.9957"},
    {"CuredReached", "cured", "old_interval=20min;run_time=2h;confidence=0.9", "confidence_reached", 1.0 - 0.0024787521766663585, 1e-12,
     Verdict::Holds, "by hand: 1 − e^(−6)"},
    {"CuredNotRun", "cured", "old_interval=20min;run_time=0", "confidence_reached", 0.0, 1e-12, Verdict::Tight,
     "nothing has been seen yet"},
    {"WorthIt", "worth-it", "parts_cost=40;hours=10;hour_value=12;minutes_saved_per_use=15;uses_per_week=4", "payback_weeks", 160.0 / 12.0,
     1e-12, Verdict::Holds, "by hand: 160 over 12 a week"},
    {"Preferred", "preferred-value", "value=4500;series=E12;round=nearest", "standard", 4700, 1e-12, Verdict::Holds, "IEC 60063 E12"},
    {"PreferredE192", "preferred-value", "value=9.195;series=E192;round=nearest", "standard", 9.20, 1e-12, Verdict::Holds,
     "IEC 60063 prints 9.20 in E192"},
    // 0.9·12 = I·R + Ke·n at n = 1 when the supply is nominal
    {"PumpSpeedNominal", "pump-speed", "supply=12;nominal_voltage=12;running_current=0.4;stall_current=1.3", "speed_fraction", 1.0, 1e-12,
     Verdict::Holds, "definition: nominal volts, nominal speed"},
    {"SoftStartStraight", "soft-start", "supply=12;running_current=0.4;stall_current=1.3", "peak_current", 1.3, 1e-12, Verdict::Holds,
     "closed form's limit: no ramp, the stall current"},
    {"SoftStartLong", "soft-start", "supply=12;running_current=0.4;stall_current=1.3;spin_up_time=10ms;ramp=5s", "peak_current",
     0.4 + 0.9 * 0.002, 1e-9, Verdict::Holds, "closed form's limit: τ/T of the difference"},
};

class Workings : public testing::TestWithParam<Case> {};

TEST_P(Workings, agreesWithItsOracle) {
    test::expectCase(GetParam());
}
INSTANTIATE_TEST_SUITE_P(Contract, Workings, testing::ValuesIn(cases), [](const auto& row) { return std::string{row.param.name}; });

using test::Refusal;
const Refusal refusals[] = {
    {"pull-torque", "pull=1.4kg;arm=0.1", "pull"},
    {"pull-torque", "pull=1;arm=0.1;pull=2", "pull"},
    {"pull-torque", "pull=1", "arm"},
    {"pull-torque", "pull=1;arm=0", "arm"},
    {"pull-torque", "pull=1;arm=1;factor=0.5", "factor"},
    {"pull-torque", "pull=1;arm=1;colour=red", "colour"},
    {"pull-torque", "pull=0x10;arm=1", "pull"},
    {"pull-torque", "pull=nan;arm=1", "pull"},
    {"pull-torque", "pull=1,4;arm=1", "pull"},
    {"pull-torque", "pull=1e999;arm=1", "pull"},
    {"dc-motor", "voltage=12;nominal_voltage=12;no_load_speed=100Hz;no_load_current=0.1;stall_current=2;stall_torque=1", "no_load_speed"},
    {"dc-motor", "voltage=12;nominal_voltage=12;no_load_speed=100rpm;no_load_current=0.1;stall_current=2;stall_torque=1J", "stall_torque"},
    {"dc-motor", "voltage=12;nominal_voltage=12;no_load_speed=100rpm;no_load_current=2;stall_current=2;stall_torque=1", "stall_current"},
    {"linear-regulator", "v_in=12;v_out=5;current=0.1;ambient=25", "ambient"},
    {"pump-head", "static_head=1;flow=1L/min;tube_length=1;tube_diameter=6mm;roughness=0.5mm", "roughness"},
    {"pump-point", "curve=0:3,0.00002:4;static_head=1;system_k=0", "curve"},
    {"pump-point", "curve=0:3;static_head=1;system_k=0", "curve"},
    {"pump-point", "curve=0:3,0.00002:0,;static_head=1;system_k=0", "curve"},
    {"adc-reading", "reference=5;bits=10;counts=1024", "counts"},
    {"adc-reading", "reference=5;bits=10.5;counts=1", "bits"},
    {"adc-reading", "reference=5;bits=10;counts=1;voltage=2", "voltage / counts"},
    {"wire-drop", "awg=57;length=1;current=1", "awg"},
    {"wire-drop", "length=1;current=1", "awg / area"},
    {"time-of-day", "times=25:00;now=10:00;duration=1", "times"},
    {"pwm-timer", "mcu=atmega328p;frequency=20MHz", "frequency"},
    {"bjt-switch", "current=0.1;gain_min=100;drive_voltage=0.8;supply=12", "drive_voltage"},
};
TEST(BadRequests, nameTheInput) {
    for (const auto& r : refusals) expectRefusal(r);
}

// Affinity: at any speed the free flow scales with it; more lift never gives more flow.
TEST(PumpPoint, moreLiftNeverGivesMoreFlow) {
    const auto form = plan::findWorking("pump-point");
    double before = 1.0;
    for (int i = 0; i < 40; ++i) {
        const auto answer =
            form->answer({{"curve", "0:3,0.00001:2.5,0.00003:0"}, {"static_head", std::to_string(i * 0.1)}, {"system_k", "1e9"}});
        ASSERT_TRUE(answer);
        const double flow = result(*answer, "flow").value();
        EXPECT_LE(flow, before);
        before = flow;
    }
}

// The kind decides, not the dimension: a unit of one kind is refused by every kind that does not list it.
TEST(Units, everyUnitOfEveryKindOnEveryOther) {
    for (int a = 0; a < kindCount; ++a)
        for (const auto& unit : unitsOf(static_cast<Kind>(a)))
            for (int b = 0; b < kindCount; ++b) {
                const auto& accepted = unitsOf(static_cast<Kind>(b));
                const bool listed = std::find(accepted.begin(), accepted.end(), unit) != accepted.end();
                EXPECT_EQ(unitScale(static_cast<Kind>(b), unit).has_value(), listed) << unit;
            }
    EXPECT_FALSE(unitScale(Kind::RotationSpeed, "Hz"));
    EXPECT_FALSE(unitScale(Kind::Frequency, "rpm"));
    EXPECT_FALSE(unitScale(Kind::Torque, "J"));
    EXPECT_FALSE(unitScale(Kind::Angle, "%"));
    EXPECT_NEAR(unitScale(Kind::Torque, "kgf cm")->factor, 0.0980665, 1e-15);           // exact by definition
    EXPECT_NEAR(unitScale(Kind::VolumeFlow, "cfm")->factor, 0.0283168466 / 60, 1e-12);  // NIST SP 811, from memory
}

TEST(Numbers, roundTripTheirExactText) {
    for (const double value : {0.45, 5.3e-5, 1.0 / 3.0, 6.02e23, 1e-300}) EXPECT_EQ(parseNumber(exactNumber(value)).value(), value);
    EXPECT_DOUBLE_EQ(parseQuantity(Kind::Resistance, "4.7k").value(), 4700.0);
    EXPECT_DOUBLE_EQ(parseQuantity(Kind::Capacitance, "220 µF").value(), 220e-6);
    EXPECT_DOUBLE_EQ(parseQuantity(Kind::Length, "3m").value(), 3.0);
    EXPECT_EQ(parse<Temperature>(exactText(Kind::Temperature, 298.15)).value(), Temperature::celsius(25.0));
}

}  // namespace
}  // namespace hinge::workings
