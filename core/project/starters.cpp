#include "project/starters.hpp"
#include <algorithm>
#include <array>
#include "project/facts.hpp"
#include "project/routine_edits.hpp"

namespace hinge::project {
namespace {

constexpr std::array list{
    Starter{"pump", "A pump that gives a dose", "20 ml at a press: hose pump, MOSFET"},
    Starter{"arm", "An arm that goes there and back", "60° and back at a press: servo"},
    Starter{"fan", "A fan that runs for a while", "air through a box at a press: 4-wire fan"},
};

using Edits = std::vector<FactEdit>;

Edits pumps() {
    return {{"sources/adapter/voltage", "12 V"},
            {"rails/movers/fuse", "0.4 A"},
            {"sources/adapter/current", "1.5 A"},
            {"channels/pump/demand/volume", "20 ml"},
            {"channels/pump/demand/run_time_limit", "60 s"},
            {"channels/pump/demand/doses_per_day", "2"},
            {"channels/pump/demand/lift", "0.3 m"},
            {"channels/pump/demand/tube_length", "1 m"},
            {"channels/pump/demand/tube_diameter", "6 mm"},
            {"channels/pump/actuator", "peristaltic_12v"},
            {"channels/pump/drive/part", "mosfet_logic_30v"},
            {"channels/pump/drive/gate_resistor", "330"},
            {"channels/pump/drive/flyback_diode", "yes"},
            {"channels/pump/signal/soft_start", "0.1 s"},
            {"channels/pump/pin", "D5"}};
}
Edits turns() {
    return {{"sources/adapter/voltage", "5 V"},
            {"rails/movers/fuse", "0.4 A"},
            {"sources/adapter/current", "3 A"},
            {"rails/logic/conversion", "direct"},
            {"rails/logic/voltage", ""},
            {"channels/arm/demand/way", "lever"},
            {"channels/arm/demand/mass", "30 g"},
            {"channels/arm/demand/arm", "60 mm"},
            {"channels/arm/demand/angle", "60 deg"},
            {"channels/arm/demand/time", "1 s"},
            {"channels/arm/actuator", "servo_micro_digital"},
            {"channels/arm/drive/part", "straight_from_pin"},
            {"channels/arm/calibration/pulse_min", "1.2 ms"},
            {"channels/arm/calibration/pulse_max", "1.8 ms"},
            {"brief/purpose", "Its two pulses are a cautious guess: find its own in Tune, Calibrate, before you trust the angle."},
            {"channels/arm/pin", "D9"}};
}
Edits blows() {
    return {{"sources/adapter/voltage", "12 V"},
            {"rails/movers/fuse", "1 A"},
            {"sources/adapter/current", "1 A"},
            {"channels/fan/demand/way", "hood"},
            {"channels/fan/demand/area", "60 cm^2"},
            {"channels/fan/demand/face_velocity", "1 m/s"},
            {"channels/fan/demand/pressure", "6 Pa"},
            {"channels/fan/demand/noise_limit", "35"},
            {"channels/fan/actuator", "fan_80_pwm_70"},
            {"channels/fan/drive/part", "straight_from_pin"},
            {"channels/fan/pin", "D9"}};
}

}  // namespace

std::span<const Starter> starters() {
    return list;
}

Project started(std::string_view id) {
    const auto begun = [](ChannelKind kind, const char* name, const Edits& edits) {
        auto project = addRunningChannel(newProject(), kind, name);
        project.brief.name = name;
        project.channels.front().rail = "movers";
        return with(project, edits).value_or(std::move(project));
    };
    if (id == "pump") return begun(ChannelKind::Pump, "Pump", pumps());
    if (id == "arm") return begun(ChannelKind::Turn, "Arm", turns());
    if (id == "fan") return begun(ChannelKind::Blow, "Fan", blows());
    return newProject();
}

}  // namespace hinge::project
