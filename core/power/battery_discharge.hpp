#pragma once
#include <string>
#include <vector>
#include "power/battery.hpp"

namespace hinge::power {

/// A current for a time.
struct Draw {
    double current = 0.0;  ///< A
    double time = 0.0;     ///< s
};

/// Volts of a resting cell against what is left in it, straight between full (1), nominal (0.5) and empty (0).
/// @param left  share of the capacity, 0 to 1
/// @source common practice, no published source
[[nodiscard]] double openCellVolts(Chemistry chemistry, double left);

/// Cells run down by a load that repeats, step by step, until they are empty or sag below what the gadget needs.
struct BatteryDischarge {
    Chemistry chemistry = Chemistry::LiIon;
    Count series = of<Count>(1.0);
    Count parallel = of<Count>(1.0);
    Charge capacity{};  ///< of one cell
    Resistance cell_resistance{};
    std::string profile;            ///< "0.05A@3500s,0.8A@100s": again and again
    std::optional<Voltage> cutoff;  ///< of the pack under load; absent: only empty cells end it
};
struct BatteryDischargeResult {
    Duration runtime{};
    Fraction left{};   ///< of the charge, when it ends
    Voltage lowest{};  ///< of the pack, under load
    Current average{};
    bool by_sag = false;  ///< ended by the cut-off, not by empty cells
};
/// Within a step of constant current the charge falls straight, so the instant at which the cut-off is met is
/// found exactly. At most a hundred years.
/// @error BadFormat   a profile that is not current@time, parted by commas
/// @error OutOfRange  a profile that takes no time or no charge
/// @source derived: V = n·OCV(left) − I·R·n/p; left falls by I·t/(C·p)
[[nodiscard]] Result<Worked<BatteryDischargeResult>> batteryDischarge(const BatteryDischarge& in);
[[nodiscard]] Result<std::vector<Draw>> parseProfile(const std::string& text);
[[nodiscard]] FormPtr batteryDischargeForm();

}  // namespace hinge::power
