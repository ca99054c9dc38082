#include "kinds/columns.hpp"

namespace hinge::kinds {

const std::vector<Column>& driverColumns() {
    static const auto columns = ColumnsOf<driver::DriverPart>{}
                                    .column("class", &driver::DriverPart::driver_class, true)
                                    .column("voltage_min", &driver::DriverPart::voltage_min)
                                    .column("voltage_max", &driver::DriverPart::voltage_max)
                                    .column("current_max", &driver::DriverPart::current_max)
                                    .column("logic_min", &driver::DriverPart::logic_min)
                                    .column("threshold_max", &driver::DriverPart::threshold_max)
                                    .column("on_resistance", &driver::DriverPart::on_resistance)
                                    .column("on_resistance_gate_voltage", &driver::DriverPart::on_resistance_gate_voltage)
                                    .column("gate_charge", &driver::DriverPart::gate_charge)
                                    .column("gain_min", &driver::DriverPart::gain_min)
                                    .column("base_voltage", &driver::DriverPart::base_voltage)
                                    .column("saturation_voltage", &driver::DriverPart::saturation_voltage)
                                    .column("coil_voltage", &driver::DriverPart::coil_voltage)
                                    .column("coil_resistance", &driver::DriverPart::coil_resistance)
                                    .column("contact_current", &driver::DriverPart::contact_current)
                                    .column("leakage", &driver::DriverPart::leakage)
                                    .column("current_min", &driver::DriverPart::current_min)
                                    .column("mains", &driver::DriverPart::mains)
                                    .column("sense_resistor", &driver::DriverPart::sense_resistor)
                                    .column("reference_gain", &driver::DriverPart::reference_gain)
                                    .column("microsteps_max", &driver::DriverPart::microsteps_max)
                                    .column("current_output", &driver::DriverPart::current_output)
                                    .column("theta_ja", &driver::DriverPart::theta_ja)
                                    .column("inputs", &driver::DriverPart::inputs)
                                    .column("registers", &driver::DriverPart::registers)
                                    .column("dead_time", &driver::DriverPart::dead_time)
                                    .list();
    return columns;
}

Impossible impossible(const driver::DriverPart& d) {
    if (d.gain_min && si(*d.gain_min) <= 0.0) return std::pair{"gain_min", "above 0"};
    if (d.voltage_max && d.voltage_min && si(*d.voltage_max) <= si(*d.voltage_min)) return std::pair{"voltage_max", "above voltage_min"};
    if (d.inputs == driver::BridgeInputs::EachSwitch && (!d.dead_time || si(*d.dead_time) <= 0.0))
        return std::pair{"dead_time", "above 0 where each switch has an input of its own"};
    return std::nullopt;
}

}  // namespace hinge::kinds
