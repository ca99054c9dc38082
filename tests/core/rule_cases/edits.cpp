// Edits that more than one case is made from.
#include "core/rule_cases/case.hpp"

namespace hinge::plan::ruled {

Edits led(const char* part, const char* resistor) {
    return {{"channels/lamps/demand/power", ""},
            {"channels/lamps/actuator", part},
            {"channels/lamps/drive/part", "straight_from_pin"},
            {"channels/lamps/rail", "logic"},
            {"channels/lamps/drive/led_resistor", resistor}};
}

Edits lit(const char* part, const char* volts) {
    return {{"channels/lamps/demand/power", ""},
            {"channels/lamps/actuator", part},
            {"channels/lamps/drive/part", "mosfet_logic_30v"},
            {"channels/lamps/rail", "servo"},
            {"rails/servo/voltage", volts}};
}

Edits bank(const char* least) {
    return {{"sources/adapter/kind", "power-bank"},
            {"sources/adapter/voltage", "5 V"},
            {"sources/adapter/least_load", least},
            {"rails/logic/conversion", "direct"},
            {"channels/rain/actuator", "centrifugal_5v_mini"},
            {"channels/rain/demand/lift", "0.2 m"},
            {"channels/rain/demand/volume", "20 mL"}};
}

void strong(Gadget& gadget) {
    for (auto& source : gadget.project.sources) source.current = of<Current>(8.0);
    gadget.project.routine.loops.clear();
}

}  // namespace hinge::plan::ruled
