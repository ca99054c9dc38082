// Every kind there is. A kind more is one line here, its file, and its rows in the tests.
#include <algorithm>
#include "kinds/actuator_kind.hpp"
#include "kinds/demand_kind.hpp"

namespace hinge::kinds {

namespace mosfet {
extern const DriverKind kind;
}
namespace npn {
extern const DriverKind kind;
}
namespace darlington {
extern const DriverKind kind;
}
namespace high_side {
extern const DriverKind kind;
}
namespace h_bridge {
extern const DriverKind kind;
}
namespace half_bridge {
extern const DriverKind kind;
}
namespace chopper {
extern const DriverKind kind;
}
namespace serial_chopper {
extern const DriverKind kind;
}
namespace pin {
extern const DriverKind kind;
}
namespace servo_expander {
extern const DriverKind kind;
}
namespace io_expander {
extern const DriverKind kind;
}
namespace relay_board {
extern const DriverKind kind;
}
namespace contactor {
extern const DriverKind kind;
}
namespace ssr_zero_crossing {
extern const DriverKind kind;
}
namespace ssr_random {
extern const DriverKind kind;
}
namespace phase_control {
extern const DriverKind kind;
}
namespace motor {
extern const ActuatorKind kind;
}
namespace stepper {
extern const ActuatorKind kind;
}
namespace servo {
extern const ActuatorKind kind;
}
namespace fan {
extern const ActuatorKind kind;
}
namespace pump {
extern const ActuatorKind kind;
}
namespace coil {
extern const ActuatorKind kind;
}
namespace heater {
extern const ActuatorKind kind;
}
namespace lamp {
extern const ActuatorKind kind;
}

namespace demands::turn {
extern const DemandKind kind;
}
namespace demands::move {
extern const DemandKind kind;
}
namespace demands::press {
extern const DemandKind kind;
}
namespace demands::pump {
extern const DemandKind kind;
}
namespace demands::blow {
extern const DemandKind kind;
}
namespace demands::switching {
extern const DemandKind kind;
}
namespace demands::heat {
extern const DemandKind kind;
}

namespace {

std::vector<const DriverKind*>& drivers() {
    static std::vector<const DriverKind*> all{&mosfet::kind,      &npn::kind,
                                              &darlington::kind,  &high_side::kind,
                                              &h_bridge::kind,    &half_bridge::kind,
                                              &chopper::kind,     &serial_chopper::kind,
                                              &pin::kind,         &servo_expander::kind,
                                              &io_expander::kind, &relay_board::kind,
                                              &contactor::kind,   &ssr_zero_crossing::kind,
                                              &ssr_random::kind,  &phase_control::kind};
    return all;
}
// In the order of actuator::Part; behind them those that are actuator::Other.
std::vector<const ActuatorKind*>& actuators() {
    static std::vector<const ActuatorKind*> all{&motor::kind, &stepper::kind, &servo::kind,  &fan::kind,
                                                &pump::kind,  &coil::kind,    &heater::kind, &lamp::kind};
    return all;
}

}  // namespace

const std::vector<const DriverKind*>& driverKinds() {
    return drivers();
}
const std::vector<const ActuatorKind*>& actuatorKinds() {
    return actuators();
}

const DriverKind& driverKind(driver::DriverClass driver_class) {
    return *drivers()[static_cast<std::size_t>(driver_class)];
}
const ActuatorKind& actuatorKind(const actuator::Part& part) {
    if (const auto* other = std::get_if<actuator::Other>(&part))
        for (const auto* kind : actuators())
            if (other->kind == kind->file) return *kind;
    return *actuators()[std::min(part.index(), actuators().size() - 1)];
}

const std::vector<const DemandKind*>& demandKinds() {
    // In the order of project::Demand.
    static const std::vector<const DemandKind*> all{&demands::pump::kind,  &demands::turn::kind, &demands::move::kind,
                                                    &demands::press::kind, &demands::blow::kind, &demands::switching::kind,
                                                    &demands::heat::kind};
    return all;
}
const DemandKind& demandKind(const project::Demand& demand) {
    return *demandKinds()[demand.index()];
}

Trial::Trial(const DriverKind& driver, const ActuatorKind& actuator) {
    drivers().push_back(&driver);
    actuators().push_back(&actuator);
}
Trial::~Trial() {
    drivers().pop_back();
    actuators().pop_back();
}

}  // namespace hinge::kinds
