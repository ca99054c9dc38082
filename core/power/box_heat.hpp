#pragma once
#include "working/form.hpp"

namespace hinge::power {

/// A closed case with something warm in it.
struct BoxTemperature {
    Power heat{};                       ///< given off inside
    Length width{}, height{}, depth{};  ///< outside
    Temperature ambient = Temperature::celsius(25.0);
    Fraction emissivity = of<Fraction>(0.9);  ///< paint, plastic, wood; bare metal 0.1
};
struct BoxTemperatureResult {
    Area area{};  ///< that gives heat off: four sides and the lid; it stands on the fifth
    Temperature wall{};
    Temperature inside{};  ///< of its air
};
/// Heat through still air outside and inside: natural convection at each face, radiation outside.
/// @error OutOfRange  more heat than 3 kW for each square metre: the formulas end there
/// @source holman-convection
[[nodiscard]] Result<Worked<BoxTemperatureResult>> boxTemperature(const BoxTemperature& in);
[[nodiscard]] FormPtr boxTemperatureForm();

}  // namespace hinge::power
