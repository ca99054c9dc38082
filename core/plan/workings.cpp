#include "plan/workings.hpp"
#include "actuator/coil_drive.hpp"
#include "actuator/dc_motor.hpp"
#include "actuator/pump.hpp"
#include "actuator/pwm_current.hpp"
#include "actuator/pump_point.hpp"
#include "demand/dose.hpp"
#include "demand/pull_torque.hpp"
#include "demand/pump_head.hpp"
#include "driver/bjt_switch.hpp"
#include "driver/contact_rating.hpp"
#include "driver/flyback.hpp"
#include "driver/gate_network.hpp"
#include "driver/mosfet_switch.hpp"
#include "journal/worth_it.hpp"
#include "power/bulk_capacitor.hpp"
#include "power/fuse.hpp"
#include "power/regulators.hpp"
#include "power/wire.hpp"
#include "timing/adc_reading.hpp"
#include "timing/pwm_timer.hpp"
#include "timing/time_of_day.hpp"

namespace hinge::plan {

const std::vector<FormPtr>& allWorkings() {
    static const std::vector<FormPtr> list{
        demand::pullTorqueForm(), demand::doseForm(), demand::pumpHeadForm(),
        actuator::dcMotorForm(), actuator::pumpPointForm(), actuator::pumpSpeedForm(), actuator::coilDriveForm(), driver::contactRatingForm(),
        driver::mosfetSwitchForm(), driver::gateNetworkForm(), driver::bjtSwitchForm(), driver::flybackForm(),
        power::linearRegulatorForm(), power::buckConverterForm(), power::bulkCapacitorForm(), power::wireDropForm(), power::fuseForm(),
        timing::pwmTimerForm(), actuator::softStartForm(), actuator::pwmCurrentForm(), timing::adcReadingForm(), timing::timeOfDayForm(),
        journal::worthItForm(), journal::preferredValueForm()};
    return list;
}

FormPtr findWorking(std::string_view name) {
    for (const auto& form : allWorkings())
        if (form->name == name) return form;
    return nullptr;
}

}  // namespace hinge::plan
