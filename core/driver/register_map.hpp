#pragma once
// Drivers whose settings are registers: what their data tables say, and what is written into them.
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>
#include "quantity/names.hpp"
#include "quantity/result.hpp"
#include "working/form.hpp"

namespace hinge::driver {

/// How a chip's registers are reached: with a clock, a line each way and a select line (mode 3, 40 bits: address, then 32 bits, the first
/// bit of the address set to write; the answer to a frame comes with the next one); over one wire in both directions (8 bits with a
/// start and a stop bit: 0x05, node, address, four bytes, and a CRC-8 of the polynomial x⁸ + x² + x + 1); over a clock and a data line that
/// are pulled up (seven bits of address); or by commands on a serial line that never answers.
enum class RegisterBus { Spi, SingleWire, TwoWire, Serial };

/// A chip by its data table: what its registers hold, of 32 bits each, of eight on two wires.
struct RegisterMap {
    struct Field {
        std::string reg;  ///< "chopper"
        int address = 0;
        bool read = false, written = false;
        int low = 0, bits = 0;
        bool is_signed = false;
        std::string name;                    ///< "run_current"
        std::optional<std::uint32_t> value;  ///< that it has or is given; absent: what the plan says
        [[nodiscard]] std::uint32_t most() const { return bits >= 32 ? 0xFFFFFFFFU : (1U << bits) - 1U; }
    };
    std::string id;
    RegisterBus bus = RegisterBus::Spi;
    /// What is no register, SI: V at the sense resistor at the whole of its current ("sense_full_scale", "sense_full_scale_fine"), Ω inside
    /// the chip in series with it ("sense_extra"); of an expander "outputs", and how it is spoken to.
    std::vector<std::pair<std::string, double>> figures;
    std::vector<Field> fields;
    /// 0: it has none of that name.
    [[nodiscard]] double figure(std::string_view name) const;
    /// nullptr: it has none of that name.
    [[nodiscard]] const Field* field(std::string_view name) const;
};
/// What a board of more lines has at its outputs: pulses of one rate, levels, or readings of what comes in there.
enum class ExpanderGives { Nothing, Pulses, Levels, Readings };
/// What the board that a table describes gives; Nothing: it describes no such board.
[[nodiscard]] ExpanderGives gives(const RegisterMap& map);
/// Reads a table: map,register,address,access,low_bit,bits,field,value; access is r, w, rw, or figure for what is no register; bits such as
/// 8, or 7s of a signed one.
/// @error BadFormat  naming the row
[[nodiscard]] Result<std::vector<RegisterMap>> parseRegisterMaps(std::string_view csv);
/// The shipped table, parts/registers.csv.
/// @source chopper-registers
[[nodiscard]] const std::vector<RegisterMap>& registerMaps();
/// @return nullptr  where there is none of that id
[[nodiscard]] const RegisterMap* findRegisterMap(std::string_view id);

/// Ends of a bus with a clock at the chip, in the order select, clock, data to it, data from it.
inline constexpr std::array register_ends{"select, CS", "clock, SCK", "data in, SDI", "data out, SDO"};
/// Ends of an expander's two wires, and of its serial line.
inline constexpr std::array two_wire_ends{"clock, SCL", "data, SDA"};
inline constexpr auto serial_in = "serial in, RX";
/// The end of the one wire.
inline constexpr auto serial_end = "serial line";

/// A register as it is written.
struct RegisterWrite {
    int address = 0;
    std::uint32_t value = 0;
    bool read_back = false;
    std::string meaning;  ///< "run_current 19, hold_current 19, hold_delay 8"
    friend bool operator==(const RegisterWrite&, const RegisterWrite&) = default;
};
/// What a chopper is told at start.
struct ChopperSettings {
    Resistance sense_resistor{};
    Current peak{};  ///< of the sine, running
    Fraction held = of<Fraction>(1.0);
    Count microsteps = of<Count>(16.0);
    std::optional<Count> stall_level;  ///< absent: it looks for no stall
};
struct ChopperRegisters {
    std::vector<RegisterWrite> writes;  ///< in their order; the one that lets current flow is the last
    Current peak{};                     ///< as it is set, in steps of a thirty-second
    Current held{};
};
/// Its registers for these settings.
/// @error OutOfRange  a current that is more than the whole, or less than one step; micro-steps that are no power of two up to 256;
///                    a stall level that its register cannot hold
/// @source chopper-registers
[[nodiscard]] Result<Worked<ChopperRegisters>> chopperRegisters(const RegisterMap& map, const ChopperSettings& in);

}  // namespace hinge::driver

template <>
struct hinge::Names<hinge::driver::RegisterBus> {
    using B = hinge::driver::RegisterBus;
    using N = hinge::Name<B>;
    static constexpr std::array all{N{B::Spi, "spi", "SPI"}, N{B::SingleWire, "single-wire", "one serial wire"},
                                    N{B::TwoWire, "two-wire", "two wires, I²C"}, N{B::Serial, "serial", "a serial line"}};
};
