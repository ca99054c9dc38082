#include "actuator/dc_motor.hpp"
#include <fmt/format.h>

namespace hinge::actuator {

Result<Worked<DcMotorResult>> dcMotor(const DcMotor& in) {
    if (si(in.stall_current) <= si(in.no_load_current))
        return fail(ErrorCode::OutOfRange, "stall_current", displayPlain(in.stall_current),
                    "above no_load_current, " + displayPlain(in.no_load_current));
    const double resistance = si(in.nominal_voltage) / si(in.stall_current);
    const double kt = si(in.stall_torque) / (si(in.stall_current) - si(in.no_load_current));
    const double ke = (si(in.nominal_voltage) - si(in.no_load_current) * resistance) / si(in.no_load_speed);
    const double gear = si(in.gear_ratio) * si(in.gear_efficiency);
    const double motor_torque = si(in.load_torque) / gear;
    Worked<DcMotorResult> out;
    auto& r = out.result;
    r.resistance = of<Resistance>(resistance);
    r.torque_constant = of<TorquePerCurrent>(kt);
    r.stall_current = of<Current>(si(in.voltage) / resistance);
    r.stall_torque = of<Torque>(std::max(0.0, kt * (si(in.voltage) / resistance - si(in.no_load_current)) * gear));
    double current = si(in.no_load_current) + motor_torque / kt;
    double speed = (si(in.voltage) - current * resistance) / ke / si(in.gear_ratio);
    const bool turns = speed > 0.0;
    if (!turns) {
        current = si(in.voltage) / resistance;
        speed = 0.0;
        out.findings.push_back({"too-weak", Severity::Stop,
                                fmt::format("The motor stalls: the load asks {}, it can give {} at this voltage.", display(in.load_torque),
                                            display(r.stall_torque))});
    }
    r.current = of<Current>(current);
    r.speed = of<RotationSpeed>(speed);
    r.mechanical_power = of<Power>(turns ? si(in.load_torque) * speed : 0.0);
    r.electrical_power = of<Power>(si(in.voltage) * current);
    r.efficiency = of<Fraction>(turns ? si(r.mechanical_power) / si(r.electrical_power) : 0.0);
    const std::string source = "dc-motor-linear";
    addStep(out.steps, "R", "winding resistance", "{Vn}/{Is}", {{"Vn", in.nominal_voltage}, {"Is", in.stall_current}}, r.resistance,
            source);
    addStep(out.steps, "Kt", "torque per ampere", "{Ts}/({Is} − {I0})",
            {{"Ts", in.stall_torque}, {"Is", in.stall_current}, {"I0", in.no_load_current}}, r.torque_constant, source);
    if (turns) {
        addStep(out.steps, "I", "current", "{I0} + {T}/({n}·{η})/{Kt}",
                {{"I0", in.no_load_current}, {"T", in.load_torque}, {"n", in.gear_ratio}, {"η", in.gear_efficiency}, {"Kt", kt}}, r.current,
                source);
        addStep(out.steps, "ω", "speed of the output", "({V} − {I}·{R})/{Ke}/{n}",
                {{"V", in.voltage}, {"I", current}, {"R", resistance}, {"Ke", ke}, {"n", in.gear_ratio}}, r.speed, source);
    } else {
        addStep(out.steps, "I", "current, standing still", "{V}/{R}", {{"V", in.voltage}, {"R", resistance}}, r.current, source);
    }
    addStep(out.steps, "Ts", "stall torque at this voltage", "{Kt}·({V}/{R} − {I0})·{n}·{η}",
            {{"Kt", kt}, {"V", in.voltage}, {"R", resistance}, {"I0", in.no_load_current}, {"n", in.gear_ratio}, {"η", in.gear_efficiency}},
            r.stall_torque, source);
    out.verdict = verdictOf(out.findings);
    return out;
}

FormPtr dcMotorForm() {
    using I = DcMotor;
    using R = DcMotorResult;
    auto form = std::make_shared<FormOf<I, R>>("dc-motor", "match", "speed and current of a brushed DC motor under load", "dc-motor-linear",
                                               &dcMotor);
    form->rule("R = Vn/Is; Kt = Ts/(Is − I0); Ke = (Vn − I0·R)/ω0; I = I0 + T/Kt; ω = (V − I·R)/Ke/ratio")
        .in("voltage", &I::voltage, nullptr, "across the motor")
        .in("nominal_voltage", &I::nominal_voltage, nullptr, "at which the data sheet's figures hold")
        .in("no_load_speed", &I::no_load_speed, nullptr, "of the bare motor")
        .in("no_load_current", &I::no_load_current, nullptr, "of the bare motor")
        .zeroOk()
        .in("stall_current", &I::stall_current, nullptr, "of the bare motor")
        .in("stall_torque", &I::stall_torque, nullptr, "of the bare motor")
        .in("load_torque", &I::load_torque, "0", "at the output shaft, without margin")
        .in("gear_ratio", &I::gear_ratio, "1", "above 1 slows")
        .in("gear_efficiency", &I::gear_efficiency, "1", "of the gearing")
        .out("current", &R::current, "drawn")
        .out("speed", &R::speed, "of the output shaft")
        .out("mechanical_power", &R::mechanical_power, "at the output shaft")
        .out("electrical_power", &R::electrical_power, "drawn")
        .out("efficiency", &R::efficiency, "mechanical/electrical")
        .out("stall_current", &R::stall_current, "at this voltage")
        .out("stall_torque", &R::stall_torque, "at the output shaft, at this voltage")
        .out("resistance", &R::resistance, "of the winding")
        .out("torque_constant", &R::torque_constant, "torque per ampere");
    return form;
}

}  // namespace hinge::actuator
