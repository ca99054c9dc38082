#include "driver/bridge_states.hpp"

namespace hinge::driver {

BridgeTable bridgeStates(DriverClass driver_class, bool direction) {
    if (driver_class == DriverClass::HalfBridge)
        return {{"IN", "enable"},
                {{{"PWM", "high"}, "drives", "the upper switch carries the current, the lower one what flows on in the pauses", false},
                 {{"low", "high"}, "brakes", "the motor is shorted through the lower switch", false},
                 {{"any", "low"}, "coasts", "both are off; the diodes carry what still flows", false},
                 {{"floats", "high"}, "brakes", "at reset, by a pull-down on IN", false}}};
    if (driver_class != DriverClass::HBridge) return {};
    if (!direction)
        return {{"speed"},
                {{{"PWM"}, "drives", "in the one way that the direction strap gives", false},
                 {{"low"}, "stops", "brakes or coasts: see the part's own table", false},
                 {{"floats"}, "stops", "at reset, by a pull-down", false}}};
    return {{"speed", "direction"},
            {{{"PWM", "low"}, "drives", "this line alone carries the PWM", false},
             {{"PWM", "high"}, "reverses", "only from rest: at speed it takes twice the stall current", false},
             {{"low", "any"}, "stops", "brakes or coasts: see the part's own table", false},
             {{"floats", "floats"}, "stops", "at reset, by a pull-down on the speed line", false}}};
}

}  // namespace hinge::driver
