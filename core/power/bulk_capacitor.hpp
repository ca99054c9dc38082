#pragma once
#include "quantity/series.hpp"
#include "working/form.hpp"

namespace hinge::power {

/// A capacitor that carries a current step until the supply follows.
struct BulkCapacitor {
    Current current_step{};
    Duration duration{};
    std::optional<Voltage> allowed_sag;  ///< one of these two
    std::optional<Capacitance> capacitance;
    Resistance esr{};
    Series series = Series::E6;
};
struct BulkCapacitorResult {
    std::optional<Capacitance> capacitance;
    std::optional<Capacitance> standard;
    std::optional<Voltage> sag;
};
/// A sag that the series resistance alone exceeds is null and breaks (`rail-sag`).
/// @source derived: ΔV = I·ESR + I·t/C
[[nodiscard]] Result<Worked<BulkCapacitorResult>> bulkCapacitor(const BulkCapacitor& in);
[[nodiscard]] FormPtr bulkCapacitorForm();

}  // namespace hinge::power
