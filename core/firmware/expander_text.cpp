#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "firmware/pin_text.hpp"
#include "firmware/register_text.hpp"

namespace hinge::firmware {
namespace {

constexpr double servo_rate = 50.0;  // Hz

// Counts of eight bits' prescaler that come nearest to a servo's rate.
int prescaleOf(const driver::RegisterMap& map) {
    return static_cast<int>(std::clamp(std::lround(map.figure("oscillator") / (map.figure("counts") * servo_rate)) - 1L, 3L, 255L));
}
// Its own counts in half a microsecond of pulse.
double countsOf(const driver::RegisterMap& map) {
    return map.bus == driver::RegisterBus::Serial ? 0.5e-6 * map.figure("counts_a_second")
                                                  : 0.5e-6 * map.figure("oscillator") / (prescaleOf(map) + 1.0);
}

}  // namespace

std::optional<Error> RegisterText::openExpander(const SketchOutput& out, std::size_t e) {
    const auto& map = *out.registers;
    const auto& bus = model_.expander_bus;
    const auto target = model_.family.target;
    const int outputs = static_cast<int>(map.figure("outputs"));
    const std::string pins = fmt::format("ExpanderPins{}", e);
    if (map.bus == driver::RegisterBus::Serial) {
        if (!bus.serial) return fail(ErrorCode::Missing, "board/expander_serial_pin", "", "the pin at which commands go to it").value();
        state_ += fmt::format(
            "// A servo expander on a serial line; it never answers.\nstruct {0} {{\n  static void drive(bool high) {{ {1} }}\n"
            "  static void wait(uint8_t us) {{ delayMicroseconds(us); }}\n}};\n"
            "typedef spark::SerialExpander<{0}, {2:.0f}, 0x{3:02X}, 0x{4:02X}> ExpanderBus{5};\n",
            pins, set(*bus.serial), std::round(1e6 / map.figure("baud")), static_cast<int>(map.figure("hello")),
            static_cast<int>(map.figure("set_target")), e);
        setup_ += fmt::format("  {}\n  ExpanderBus{}::begin();\n", open(*bus.serial, true), e);
    } else {
        if (!bus.clock) return fail(ErrorCode::Missing, "board/expander_clock_pin", "", "the pin of its clock line").value();
        if (!bus.data) return fail(ErrorCode::Missing, "board/expander_data_pin", "", "the pin of its data line").value();
        const auto *asleep = map.field("asleep"), *up = map.field("count_up_addresses"), *rate = map.field("prescale");
        if (asleep == nullptr || up == nullptr || rate == nullptr || asleep->address != up->address)
            return fail(ErrorCode::Missing, "parts/registers.csv", map.id, "asleep and count_up_addresses in one register, and prescale")
                .value();
        const auto pull = [&](const board::Pin& pin) { return pullPin(pin, target, std::to_string(pin.number)); };
        const auto let_go = [&](const board::Pin& pin) {
            const auto name = std::to_string(pin.number);
            return target == Target::Rp2040 ? fmt::format("gpio_init({});", name)
                                            : fmt::format("pinMode({0}, INPUT); digitalWrite({0}, LOW);", name);
        };
        state_ += fmt::format(
            "// A servo expander on two wires.\nstruct {0} {{\n  static void clock(bool high) {{ {1} }}\n  static void data(bool high) {{ "
            "{2} }}\n"
            "  static bool in() {{ return {3}; }}\n  static void pause() {{ delayMicroseconds(1); }}\n}};\n"
            "typedef spark::TwoWireExpander<{0}, 0x{4:02X}, {5:.0f}> ExpanderBus{6};\n"
            "spark::Configured expanderIs{6} = spark::Configured::Silent;\n",
            pins, pull(*bus.clock), pull(*bus.data), isHigh(*bus.data), static_cast<int>(map.figure("address")), map.figure("first_output"),
            e);
        setup_ += fmt::format(
            "  {0}\n  {1}\n  for (uint8_t tries = 0; tries < 8 && expanderIs{2} != spark::Configured::Well; ++tries) {{\n"
            "    if (tries > 0) for (uint8_t k = 0; k < 50; ++k) delayMicroseconds(1000);\n"
            "    expanderIs{2} = ExpanderBus{2}::configure(0x{3:02X}, 0x{4:02X}, 0x{5:02X}, 0x{6:02X}, {7}, {8});  // {9:.2f} Hz\n  }}\n",
            let_go(*bus.clock), let_go(*bus.data), e, asleep->address, up->value.value_or(1) << up->low, 1U << asleep->low, rate->address,
            prescaleOf(map), outputs, map.figure("oscillator") / (map.figure("counts") * (prescaleOf(map) + 1.0)));
        state_ += fmt::format("uint8_t lostTold{} = 0;\n", e);
        lost_ += fmt::format(
            "  if (expander{0}.lost != lostTold{0}) {{\n    lostTold{0} = expander{0}.lost;\n"
            "    spark::sayText(linked, lostTold{0} ? PSTR(\": servo expander: it no longer answers\") : PSTR(\": servo expander: it "
            "answers again\"));\n"
            "    return spark::endLine(linked);\n  }}\n",
            e);
        said_ += fmt::format(
            "    case {}: ++driversTold; spark::sayText(linked, PSTR(\": servo expander\")); return sayConfigured(expanderIs{});\n",
            drivers_++, e);
    }
    state_ += fmt::format("spark::Expander<ExpanderBus{0}, {1}> expander{0};\n", e, outputs);
    ticks_ += fmt::format("  expander{}.tick();\n", e);
    return std::nullopt;
}

Result<std::string> RegisterText::addExpander(const SketchOutput& out, std::size_t i, const std::string& wanted) {
    auto at = std::find(expanders_.begin(), expanders_.end(), out.expander);
    const auto e = static_cast<std::size_t>(at - expanders_.begin());
    if (at == expanders_.end()) {
        expanders_.push_back(out.expander);
        if (auto error = openExpander(out, e)) return tl::unexpected(std::move(*error));
    }
    if (out.registers->bus != driver::RegisterBus::Serial)
        ready_ += fmt::format("  gadget.output({}).unready = expanderIs{} != spark::Configured::Well;\n", i, e);
    return fmt::format("  expander{}.want({}, ((unsigned long)({}) * {:.0f}UL + 32768UL) >> 16);", e, out.pin.number, wanted,
                       countsOf(*out.registers) * 65536.0);
}

}  // namespace hinge::firmware
