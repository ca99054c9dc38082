#include "actuator/part.hpp"

namespace hinge::actuator {

const char* className(const Part& part) {
    struct Say {
        const char* operator()(const Motor& m) const {
            return si(m.gear_ratio) > 1.0 ? (m.worm ? "worm gearmotor" : "gearmotor") : "DC motor";
        }
        const char* operator()(const Stepper& s) const { return si(s.gear_ratio) > 1.0 ? "geared stepper" : "stepper"; }
        const char* operator()(const Servo& s) const { return labelOf(s.servo_class); }
        const char* operator()(const Fan& f) const { return labelOf(f.wires); }
        const char* operator()(const Pump& p) const {
            switch (p.pump_class) {
                case PumpClass::Centrifugal: return "centrifugal pump";
                case PumpClass::Diaphragm: return "diaphragm pump";
                case PumpClass::Peristaltic: return "peristaltic pump";
            }
            return "pump";
        }
        const char* operator()(const Coil& c) const { return labelOf(c.coil_class); }
        const char* operator()(const Heater& h) const { return labelOf(h.heater_class); }
        const char* operator()(const Lamp& l) const { return labelOf(l.lamp_class); }
    };
    return std::visit(Say{}, part);
}

}  // namespace hinge::actuator
