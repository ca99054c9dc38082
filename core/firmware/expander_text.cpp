#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "firmware/pin_text.hpp"
#include "firmware/register_text.hpp"

namespace hinge::firmware {

// What brings bytes to a board at its address: two pins, as the runtime asks for them, or the header's own bus.
std::optional<Error> RegisterText::twoWires(const OnExpander& at, std::size_t e) {
    const auto& bus = model_.expander_bus;
    const auto target = model_.family.target;
    if (target == Target::Linux) {
        state_ += fmt::format("typedef HeaderBus<0x{:02X}> OnWires{};\n", at.address, e);
        return std::nullopt;
    }
    const std::string pins = fmt::format("ExpanderPins{}", e);
    if (!bus.clock) return fail(ErrorCode::Missing, "board/expander_clock_pin", "", "the pin of its clock line").value();
    if (!bus.data) return fail(ErrorCode::Missing, "board/expander_data_pin", "", "the pin of its data line").value();
    const auto pull = [&](const board::Pin& pin) { return pullPin(pin, target, std::to_string(pin.number)); };
    const auto let_go = [&](const board::Pin& pin) {
        const auto name = std::to_string(pin.number);
        return target == Target::Rp2040 ? fmt::format("gpio_init({});", name)
                                        : fmt::format("pinMode({0}, INPUT); digitalWrite({0}, LOW);", name);
    };
    state_ += fmt::format(
        "struct {0} {{\n  static void clock(bool high) {{ {1} }}\n  static void data(bool high) {{ {2} }}\n"
        "  static bool in() {{ return {3}; }}\n  static void pause() {{ delayMicroseconds(1); }}\n}};\n",
        pins, pull(*bus.clock), pull(*bus.data), isHigh(*bus.data));
    state_ += fmt::format("typedef spark::OnTwoWires<{}, 0x{:02X}> OnWires{};\n", pins, at.address, e);
    setup_ += fmt::format("  {}\n  {}\n", let_go(*bus.clock), let_go(*bus.data));
    return std::nullopt;
}

// What came of it: said at the start, and whenever it answers no longer, or again.
void RegisterText::saysOf(const std::string& name, std::size_t e, const std::string& configure) {
    state_ += fmt::format("spark::Configured expanderIs{0} = spark::Configured::Silent;\nuint8_t lostTold{0} = 0;\n", e);
    // Its supply may come a little later than the board's.
    setup_ += fmt::format(
        "  for (uint8_t tries = 0; tries < 8 && expanderIs{0} != spark::Configured::Well; ++tries) {{\n"
        "    if (tries > 0) for (uint8_t k = 0; k < 50; ++k) delayMicroseconds(1000);\n    expanderIs{0} = {1}\n  }}\n",
        e, configure);
    lost_ += fmt::format(
        "  if (expander{0}.lost != lostTold{0}) {{\n    lostTold{0} = expander{0}.lost;\n"
        "    spark::sayText(linked, lostTold{0} ? PSTR(\": {1}: it no longer answers\") : PSTR(\": {1}: it answers again\"));\n"
        "    return spark::endLine(linked);\n  }}\n",
        e, name);
    said_ += fmt::format("    case {}: ++driversTold; spark::sayText(linked, PSTR(\": {}\")); return sayConfigured(expanderIs{});\n",
                         drivers_++, name, e);
}

std::optional<Error> RegisterText::openSerial(const OnExpander& at, std::size_t e) {
    const std::string pins = fmt::format("ExpanderPins{}", e);
    const auto& bus = model_.expander_bus;
    if (!bus.serial) return fail(ErrorCode::Missing, "board/expander_serial_pin", "", "the pin at which commands go to it").value();
    state_ += fmt::format(
        "struct {0} {{\n  static void drive(bool high) {{ {1} }}\n"
        "  static void wait(uint8_t us) {{ delayMicroseconds(us); }}\n}};\n"
        "typedef spark::SerialExpander<{0}, {2:.0f}, 0x{3:02X}, 0x{4:02X}> ExpanderBus{5};\n",
        pins, set(*bus.serial), std::round(1e6 / at.map->figure("baud")), static_cast<int>(at.map->figure("hello")),
        static_cast<int>(at.map->figure("set_target")), e);
    setup_ += fmt::format("  {}\n  ExpanderBus{}::begin();\n", open(*bus.serial, true), e);
    return std::nullopt;
}

std::optional<Error> RegisterText::openPulses(const OnExpander& at, std::size_t e) {
    const auto& map = *at.map;
    const auto *asleep = map.field("asleep"), *up = map.field("count_up_addresses"), *rate = map.field("prescale");
    if (asleep == nullptr || up == nullptr || rate == nullptr || asleep->address != up->address)
        return fail(ErrorCode::Missing, "parts/registers.csv", map.id, "asleep and count_up_addresses in one register, and prescale")
            .value();
    if (auto error = twoWires(at, e)) return error;
    const auto mode = asleep->address;
    const auto runs = up->value.value_or(1) << up->low;
    state_ += fmt::format(
        "struct ExpanderBus{0} : spark::TwoWireExpander<OnWires{0}, {1:.0f}> {{\n"
        "  static bool holds() {{ return is(0x{2:02X}, 0x{3:02X}); }}\n"
        "  static spark::Configured again() {{ return configure(0x{2:02X}, 0x{3:02X}, 0x{4:02X}, 0x{5:02X}, {6}, {7:.0f}); }}  // {8:.2f} "
        "Hz\n}};\n",
        e, map.figure("first_output"), mode, runs, 1U << asleep->low, rate->address, at.rate->prescale, map.figure("outputs"),
        si(at.rate->actual));
    saysOf(at.name, e, fmt::format("ExpanderBus{}::again();", e));
    return std::nullopt;
}

// Lines that are on or off: those that an output hangs on drive, the others stay inputs; those that an input hangs on are pulled up.
std::optional<Error> RegisterText::openLevels(const OnExpander& at, std::size_t e) {
    if (auto error = twoWires(at, e)) return error;
    unsigned outputs = 0, reads = 0, pulled = 0;
    for (const auto& out : model_.outputs)
        if (out.expander && out.expander->sharesBoard(at)) outputs |= 1U << out.pin.number;
    for (std::size_t i = 0; i < model_.input_expanders.size(); ++i)
        if (const auto& on = model_.input_expanders[i]; on && on->sharesBoard(at)) {
            reads |= 1U << model_.inputs[i]->number;
            if (model_.pulled_up[i]) pulled |= 1U << model_.inputs[i]->number;
        }
    const auto figure = [&](const char* name) { return static_cast<int>(at.map->figure(name)); };
    state_ += fmt::format(
        "spark::LineExpander<OnWires{0}, spark::LineRegisters<0x{1:02X}, 0x{2:02X}, 0x{3:02X}, 0x{4:02X}>, 0x{5:04X}, 0x{6:04X}, "
        "0x{7:04X}> "
        "expander{0};  // which drive, which are pulled up, which are read\n",
        e, figure("direction"), figure("pull_up"), figure("port"), figure("latch"), outputs, pulled, reads);
    saysOf(at.name, e, fmt::format("expander{}.configure();", e));
    return std::nullopt;
}

// A converter of its own: a conversion of each input in turn, in counts of ten bits of the board's logic supply.
std::optional<Error> RegisterText::openReadings(const OnExpander& at, std::size_t e) {
    const auto& map = *at.map;
    const auto *reading = map.field("reading"), *channel = map.field("channel"), *gain = map.field("gain");
    if (reading == nullptr || channel == nullptr || gain == nullptr || channel->address != gain->address)
        return fail(ErrorCode::Missing, "parts/registers.csv", map.id, "reading, and channel and gain in one register").value();
    if (auto error = twoWires(at, e)) return error;
    // The finer of its two scales where the logic supply fits into it.
    const double logic = model_.family.logic, fine = map.figure("full_scale_fine"), scale = logic <= fine ? fine : map.figure("full_scale");
    unsigned settings = (logic <= fine ? 1U : 0U) << gain->low;
    for (const auto& field : map.fields)
        if (field.address == channel->address && field.value) settings |= *field.value << field.low;
    std::string list;
    for (std::size_t i = 0; i < model_.input_expanders.size(); ++i)
        if (const auto& on = model_.input_expanders[i]; on && on->sharesBoard(at))
            list += fmt::format("{}{}", list.empty() ? "" : ", ", model_.inputs[i]->number);
    // A conversion, and the tick in which it was begun.
    const int ticks = static_cast<int>(std::ceil(1000.0 / map.figure("conversions_a_second"))) + 1;
    state_ += fmt::format(
        "const uint8_t converted{0}[] = {{ {1} }};\n"
        "spark::AdcExpander<OnWires{0}, 0x{2:02X}, 0x{3:02X}> expander{0} = {{ converted{0}, sizeof converted{0}, 0x{4:04X}, {5}, "
        "{6}, {7:.0f}UL }};\n",
        e, list, reading->address, channel->address, settings, channel->low, ticks,
        scale / map.figure("counts_full_scale") / logic * 1023.0 * 1048576.0);
    saysOf(at.name, e, fmt::format("expander{}.configure();", e));
    return std::nullopt;
}

std::optional<Error> RegisterText::openExpander(const OnExpander& at, std::size_t e) {
    const auto what = driver::gives(*at.map);
    const bool pulses = what == driver::ExpanderGives::Pulses;
    state_ += fmt::format("// {}{}\n", comment(at.name),
                          at.map->bus == driver::RegisterBus::Serial ? ", on a serial line; it never answers"
                                                                     : fmt::format(", on two wires at 0x{:02X}", at.address));
    if (pulses && !at.rate) return fail(ErrorCode::Missing, "rate", at.name, "a rate of its pulses").value();
    if (auto error = what == driver::ExpanderGives::Levels        ? openLevels(at, e)
                     : what == driver::ExpanderGives::Readings    ? openReadings(at, e)
                     : at.map->bus == driver::RegisterBus::Serial ? openSerial(at, e)
                                                                  : openPulses(at, e))
        return error;
    if (pulses) state_ += fmt::format("spark::Expander<ExpanderBus{0}, {1:.0f}> expander{0};\n", e, at.map->figure("outputs"));
    ticks_ += fmt::format("  expander{}.tick();\n", e);
    return std::nullopt;
}

namespace {

// Every board of more lines, those first on which an output lies.
std::vector<OnExpander> expandersOf(const SketchModel& model) {
    std::vector<OnExpander> all;
    const auto add = [&](const std::optional<OnExpander>& at) {
        if (at && std::none_of(all.begin(), all.end(), [&](const OnExpander& each) { return each.sharesBoard(*at); })) all.push_back(*at);
    };
    for (const auto& out : model.outputs) add(out.expander);
    for (const auto& at : model.input_expanders) add(at);
    return all;
}
std::size_t numberOf(const SketchModel& model, const OnExpander& at) {
    const auto all = expandersOf(model);
    return static_cast<std::size_t>(std::find_if(all.begin(), all.end(), [&](const OnExpander& each) { return each.sharesBoard(at); }) -
                                    all.begin());
}

}  // namespace

std::optional<Error> RegisterText::openExpanders() {
    const auto all = expandersOf(model_);
    for (std::size_t e = 0; e < all.size(); ++e)
        if (auto error = openExpander(all[e], e)) return error;
    return std::nullopt;
}

std::string RegisterText::expandedLevel(const SketchModel& model, const OnExpander& at, int line) {
    return fmt::format("(expander{}.is >> {} & 1)", numberOf(model, at), line);
}
std::string RegisterText::expandedReading(const SketchModel& model, const OnExpander& at, int line) {
    return fmt::format("expander{}.of({})", numberOf(model, at), line);
}

std::size_t RegisterText::expanderOf(const SketchOutput& out, std::size_t i) {
    const auto e = numberOf(model_, *out.expander);
    if (out.expander->map->bus != driver::RegisterBus::Serial)
        ready_ += fmt::format("  gadget.output({}).unready = expanderIs{} != spark::Configured::Well;\n", i, e);
    return e;
}

std::string RegisterText::addExpander(const SketchOutput& out, std::size_t i, const std::string& wanted) {
    // Half microseconds in its own counts.
    return fmt::format("  expander{}.want({}, ((unsigned long)({}) * {:.0f}UL + 32768UL) >> 16);", expanderOf(out, i), out.pin.number,
                       wanted, 0.5e-6 / si(out.expander->rate->count) * 65536.0);
}

std::string RegisterText::addExpanded(const SketchOutput& out, std::size_t i, int top) {
    const auto e = expanderOf(out, i);
    if (driver::gives(*out.expander->map) == driver::ExpanderGives::Levels)
        return fmt::format("  expander{}.want({}, level > 0);", e, out.pin.number);
    const double counts = si(out.expander->rate->counts);
    return top == static_cast<int>(counts) ? fmt::format("  expander{}.want({}, level);", e, out.pin.number)
                                           : fmt::format("  expander{}.want({}, level > 0 ? {:.0f} : 0);", e, out.pin.number, counts);
}

}  // namespace hinge::firmware
