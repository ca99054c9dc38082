#include "plan/workings.hpp"
#include "actuator/coil_drive.hpp"
#include "actuator/dc_motor.hpp"
#include "actuator/fan_point.hpp"
#include "actuator/mains_fan.hpp"
#include "actuator/pump.hpp"
#include "actuator/pump_point.hpp"
#include "actuator/pwm_current.hpp"
#include "actuator/rc_servo.hpp"
#include "actuator/stepper_torque.hpp"
#include "control/tuning_rules.hpp"
#include "demand/air_and_heat.hpp"
#include "demand/dose.hpp"
#include "demand/lever_load.hpp"
#include "demand/mechanical_fit.hpp"
#include "demand/pull_torque.hpp"
#include "demand/pump_head.hpp"
#include "demand/straight_motion.hpp"
#include "demand/turning.hpp"
#include "driver/bjt_switch.hpp"
#include "driver/contact_rating.hpp"
#include "driver/current_sense.hpp"
#include "driver/flyback.hpp"
#include "driver/gate_network.hpp"
#include "driver/mains.hpp"
#include "driver/mosfet_switch.hpp"
#include "journal/bag.hpp"
#include "journal/cured.hpp"
#include "journal/worth_it.hpp"
#include "power/battery.hpp"
#include "power/battery_discharge.hpp"
#include "power/box_heat.hpp"
#include "power/bulk_capacitor.hpp"
#include "power/fuse.hpp"
#include "power/rectifier.hpp"
#include "power/regulators.hpp"
#include "power/thermal.hpp"
#include "power/wire.hpp"
#include "timing/adc_reading.hpp"
#include "timing/dead_time.hpp"
#include "timing/fan_signal.hpp"
#include "timing/horn_mount.hpp"
#include "timing/pwm_timer.hpp"
#include "timing/servo_pulse.hpp"
#include "timing/step_ramp.hpp"
#include "timing/steps.hpp"
#include "timing/time_of_day.hpp"
#include "timing/uart_baud.hpp"

namespace hinge::plan {

// A list of all of them: a line each.
const std::vector<FormPtr>& allWorkings() {
    static const std::vector<FormPtr> list{demand::pullTorqueForm(),      demand::leverLoadForm(),     demand::linearLoadForm(),
                                           demand::screwDriveForm(),      demand::beltDriveForm(),     demand::wheelDriveForm(),
                                           demand::steerInPlaceForm(),    demand::crankTurnsForm(),    demand::doseForm(),
                                           demand::pumpHeadForm(),        demand::airflowNeedForm(),   demand::heatNeedForm(),
                                           demand::swingForm(),           actuator::dcMotorForm(),     actuator::stepperTorqueForm(),
                                           actuator::rcServoForm(),       actuator::fanPointForm(),    actuator::mainsFanForm(),
                                           actuator::pumpPointForm(),     actuator::pumpSpeedForm(),   driver::contactRatingForm(),
                                           actuator::coilDriveForm(),     driver::mosfetSwitchForm(),  driver::gateNetworkForm(),
                                           driver::bjtSwitchForm(),       driver::flybackForm(),       driver::currentSenseForm(),
                                           driver::stepperCurrentForm(),  driver::hBridgeLossForm(),   driver::zeroCrossForm(),
                                           driver::phaseAngleForm(),      driver::wholeCyclesForm(),   driver::ledResistorForm(),
                                           power::linearRegulatorForm(),  power::buckConverterForm(),  power::batteryRuntimeForm(),
                                           power::batteryDischargeForm(), power::thermalDutyForm(),    power::thermalMeasuredForm(),
                                           power::meterBurdenForm(),      power::bulkCapacitorForm(),  power::rectifierForm(),
                                           power::wireDropForm(),         power::fuseForm(),           power::reverseProtectionForm(),
                                           power::voltageDividerForm(),   timing::pwmTimerForm(),      timing::deadTimeForm(),
                                           timing::fanDutyForm(),         timing::tachForm(),          timing::servoPulseForm(),
                                           timing::servoTogetherForm(),   timing::stepTimingForm(),    timing::stepProfileForm(),
                                           timing::partialRunForm(),      timing::wheelStepForm(),     timing::adcReadingForm(),
                                           timing::uartBaudForm(),        timing::timeOfDayForm(),     timing::stepIntervalsForm(),
                                           timing::microstepTorqueForm(), timing::sCurveForm(),        timing::stepResonanceForm(),
                                           timing::homingForm(),          timing::creepForm(),         timing::hornMountForm(),
                                           timing::interruptLoadForm(),   actuator::softStartForm(),   actuator::pwmCurrentForm(),
                                           control::pidRuleForm(),        control::relayTuneForm(),    control::balanceLoopForm(),
                                           control::loopPeriodForm(),     demand::beltLengthForm(),    demand::screwLengthForm(),
                                           demand::printedArmForm(),      power::boxTemperatureForm(), journal::bagShareForm(),
                                           journal::worthItForm(),        journal::curedForm(),        journal::preferredValueForm()};
    return list;
}

FormPtr findWorking(std::string_view name) {
    for (const auto& form : allWorkings())
        if (form->name == name) return form;
    return nullptr;
}

}  // namespace hinge::plan
