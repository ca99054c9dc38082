#pragma once
#include "working/form.hpp"

namespace hinge::timing {

/// An analogue-to-digital converter's reading, either way.
struct AdcReading {
    Voltage reference{};
    Count bits{};                    ///< 1 to 24
    std::optional<Voltage> voltage;  ///< one of these two
    std::optional<Count> counts;
};
struct AdcReadingResult {
    Voltage voltage{};
    Count counts{};
    Voltage step{};
};
/// counts = floor(V/Vref·2^bits), clamped; above the reference it breaks (`adc-over`).
/// @error OutOfRange  counts beyond 2^bits − 1, bits outside 1 to 24
/// @source atmega328p-datasheet
[[nodiscard]] Result<Worked<AdcReadingResult>> adcReading(const AdcReading& in);
[[nodiscard]] FormPtr adcReadingForm();

}  // namespace hinge::timing
