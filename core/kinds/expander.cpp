#include "kinds/expander.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <charconv>

namespace hinge::kinds {

std::string expanderName(const driver::RegisterMap& map, int board) {
    const auto what = driver::gives(map);
    const char* name = what == driver::ExpanderGives::Levels     ? "I/O expander"
                       : what == driver::ExpanderGives::Readings ? "ADC"
                       : map.bus == driver::RegisterBus::Serial  ? "servo expander"
                                                                 : "PWM expander";
    return board > 1 ? fmt::format("{} {}", name, board) : name;
}

std::string expanderBox(const driver::RegisterMap& map, int board) {
    return (map.bus == driver::RegisterBus::Serial ? "serial " : "I²C ") + expanderName(map, board);
}

const std::vector<std::string>& expanderBoxes() {
    static const auto all = [] {
        std::vector<std::string> boxes;
        for (const auto& map : driver::registerMaps())
            if (driver::gives(map) != driver::ExpanderGives::Nothing)
                for (int board = most_alike; board > 0; --board) boxes.push_back(expanderBox(map, board));
        return boxes;
    }();
    return all;
}

int expanderAddress(const driver::RegisterMap& map, int board) {
    return static_cast<int>(map.figure("address")) + board - 1;
}

bool takesOthers(const driver::RegisterMap& map) {
    return map.bus == driver::RegisterBus::TwoWire && driver::gives(map) != driver::ExpanderGives::Nothing;
}

const driver::DriverPart* boardWith(const std::vector<driver::DriverPart>& drivers, const driver::RegisterMap& map) {
    const auto found = std::find_if(drivers.begin(), drivers.end(), [&](const driver::DriverPart& each) {
        return driverKind(each).own_outputs && registersOf(each) == &map;
    });
    return found != drivers.end() ? &*found : nullptr;
}

std::vector<Wire> expanderWires(const ExpanderWiring& in) {
    const std::string it = expanderBox(in.map, in.board) + " ";
    const bool serial = in.map.bus == driver::RegisterBus::Serial;
    std::vector<Wire> wires;
    std::string note = serial ? "one way: it never answers" : "its module brings the pull-up";
    if (in.board > 1) note += fmt::format("; its address bridges stand at 0x{:02X}", expanderAddress(in.map, in.board));
    for (const auto& [end, pin] : in.lines) wires.push_back({pin, it + end, note});
    wires.push_back(
        {in.logic, it + "logic supply",
         driver::gives(in.map) == driver::ExpanderGives::Levels ? "its reset line too, where its module leaves that open" : ""});
    wires.push_back({it + "ground", "ground", ""});
    if (!in.rail.empty()) wires.push_back({in.rail, it + "servo supply", "not the logic's"});
    return wires;
}

int ownOutput(std::string_view name) {
    int output = -1;
    if (name.size() < 2 || name.front() != 'X') return -1;
    const auto read = std::from_chars(name.data() + 1, name.data() + name.size(), output);
    return read.ec == std::errc{} && read.ptr == name.data() + name.size() && output >= 0 ? output : -1;
}

}  // namespace hinge::kinds
