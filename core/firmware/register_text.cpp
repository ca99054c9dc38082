#include "firmware/register_text.hpp"
#include <fmt/format.h>
#include "firmware/pin_text.hpp"
#include "link/protocol.hpp"

namespace hinge::firmware {

std::string RegisterText::open(const board::Pin& pin, bool high) const {
    return openPin(model_.family.target, std::to_string(pin.number), high);
}
std::string RegisterText::set(const board::Pin& pin) const {
    const auto to = [&](bool high) { return setPin(pin, model_.family.target, std::to_string(pin.number), high); };
    return fmt::format("if (high) {{ {} }} else {{ {} }}", to(true), to(false));
}
std::string RegisterText::isHigh(const board::Pin& pin) const {
    return readPin(pin, model_.family.target, std::to_string(pin.number), true);
}
std::string RegisterText::listen(const board::Pin& pin) const {
    return fmt::format("pinMode({}, INPUT_PULLUP);", pin.number);
}

std::optional<Error> RegisterText::spiPins(const std::string& name, const SketchOutput& out, const std::string& field) {
    const auto& bus = model_.register_bus;
    if (!bus.clock) return fail(ErrorCode::Missing, "board/register_clock_pin", "", "the pin of the registers' clock").value();
    if (!bus.out) return fail(ErrorCode::Missing, "board/register_out_pin", "", "the pin at which data go to the drivers").value();
    if (!bus.in) return fail(ErrorCode::Missing, "board/register_in_pin", "", "the pin at which data come from the drivers").value();
    if (!out.select) return fail(ErrorCode::Missing, field, "", "the pin of its select line").value();
    state_ += fmt::format(
        "struct {} {{\n  static void select(bool now) {{ bool high = !now; {} }}\n  static void clock(bool high) {{ {} }}\n"
        "  static void out(bool high) {{ {} }}\n  static bool in() {{ return {}; }}\n  static void pause() {{ delayMicroseconds(2); "
        "}}\n}};\n",
        name, set(*out.select), set(*bus.clock), set(*bus.out), isHigh(*bus.in));
    if (!bus_open_) setup_ += fmt::format("  {}\n  {}\n  {}\n", open(*bus.clock, true), open(*bus.out, false), listen(*bus.in));
    bus_open_ = true;
    return std::nullopt;
}

std::optional<Error> RegisterText::wirePins(const std::string& name, const SketchOutput& out, const std::string& field) {
    if (!out.select) return fail(ErrorCode::Missing, field, "", "the pin of its serial line").value();
    state_ += fmt::format(
        "struct {} {{\n  static void take() {{ {} }}\n  static void drive(bool high) {{ {} }}\n  static void release() {{ {} }}\n"
        "  static bool in() {{ return {}; }}\n  static void wait(uint8_t us) {{ delayMicroseconds(us); }}\n}};\n",
        name, open(*out.select, true), set(*out.select), listen(*out.select), isHigh(*out.select));
    return std::nullopt;
}

std::optional<Error> RegisterText::add(const SketchOutput& out, std::size_t i, const routine::ProgramOutput& output) {
    if (out.registers == nullptr || out.expander) return std::nullopt;
    const auto& map = *out.registers;
    const bool clocked = map.bus == driver::RegisterBus::Spi;
    const std::string pins = fmt::format("RegisterPins{}", i), field = "channels/" + output.id + "/select_pin";
    const auto* version = map.field("version");
    const auto* counter = map.field("writes_accepted");
    if (version == nullptr || !version->value || version->bits > 8 || (!clocked && counter == nullptr))
        return fail(ErrorCode::Missing, "parts/registers.csv", map.id,
                    "a version of eight bits at most with its value, and, over one wire, a count of what was written well")
            .value();
    state_ += fmt::format("// {}: {}\n", comment(output.name), clocked ? "a bus with a clock, its own select line" : "one serial wire");
    if (auto error = clocked ? spiPins(pins, out, field) : wirePins(pins, out, field)) return error;
    state_ += fmt::format("const spark::RegisterWrite registers{}[] PROGMEM = {{\n", i);
    for (const auto& write : out.register_writes)
        state_ += fmt::format("  {{ 0x{:08X}UL, 0x{:02X}, {} }},  // {}\n", write.value, write.address, write.read_back ? 1 : 0,
                              comment(write.meaning));
    const std::string port =
        clocked ? fmt::format("spark::SpiRegisters<{}>", pins) : fmt::format("spark::WireRegisters<{}, 0x{:02X}>", pins, counter->address);
    state_ += fmt::format("}};\nspark::Configured configured{} = spark::Configured::Silent;\n", i);
    const auto who =
        fmt::format("{{ 0x{:02X}, {}, 0x{:02X}, 0x{:02X} }}", version->address, version->low, version->most(), *version->value);
    // Its supply may come a little later than the board's.
    setup_ += fmt::format(
        "  {3}\n  for (uint8_t tries = 0; tries < 8 && configured{0} != spark::Configured::Well; ++tries) {{\n"
        "    if (tries > 0) for (uint8_t k = 0; k < 50; ++k) delayMicroseconds(1000);\n"
        "    configured{0} = spark::configure<{1}>({4}, registers{0}, {2});\n  }}\n",
        i, port, out.register_writes.size(), open(*out.select, true), who);
    ready_ += fmt::format("  gadget.output({0}).unready = configured{0} != spark::Configured::Well;\n", i);
    // What goes on without a cue: a loop that holds, a stepper that turns.
    if (watched_.empty())
        for (const auto& loop : model_.program.loops) turning_ += fmt::format("  if (gadget.output({}).on) return false;\n", loop.output);
    watched_ += fmt::format(
        "  if (configured{0} == spark::Configured::Well && asked-- == 0) {{\n"
        "    configured{0} = spark::stillKept<{1}>({4}, registers{0}, {2});\n    if (configured{0} != spark::Configured::Well) {{\n"
        "      gadget.output({0}).unready = 1;\n      {3}\n    }}\n    return;\n  }}\n",
        i, port, out.register_writes.size(), model_.family.link ? "driversTold = 0;  // how they stand is said anew" : "", who);
    if (output.step_rate > 0.0) turning_ += fmt::format("  if (gadget.output({}).on) return false;\n", i);
    said_ += fmt::format("    case {}: ++driversTold; spark::sayText(linked, PSTR(\": {}\")); return sayConfigured(configured{});\n",
                         drivers_++, cString(link::spoken(output.name)), i);
    return std::nullopt;
}

}  // namespace hinge::firmware
