#pragma once

namespace hinge {
inline namespace quantity {
/// Fixed values of the calculation contract, in SI.
namespace constants {
inline constexpr double pi = 3.14159265358979323846;
inline constexpr double degree = pi / 180.0;             // rad
inline constexpr double gravity = 9.80665;               // m/s², CGPM 1901
inline constexpr double water_density = 998.2;           // kg/m³ at 20 °C
inline constexpr double water_viscosity = 1.002e-3;      // Pa·s at 20 °C
inline constexpr double air_density = 1.204;             // kg/m³ at 20 °C
inline constexpr double air_heat = 1006.0;               // J/(kg·K)
inline constexpr double copper_resistivity = 1.7241e-8;  // Ω·m at 20 °C, IEC 60028
inline constexpr double copper_coefficient = 0.00393;    // 1/K, IEC 60028
inline constexpr double room_kelvin = 293.15;            // 20 °C
}  // namespace constants
}  // namespace quantity
}  // namespace hinge
