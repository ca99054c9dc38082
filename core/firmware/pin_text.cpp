#include "firmware/pin_text.hpp"
#include <fmt/format.h>

namespace hinge::firmware {
namespace {

bool isDirect(const board::Pin& pin, Target target) {
    return target == Target::Avr && pin.port >= 'A' && pin.port <= 'G';
}

}  // namespace

std::string setPin(const board::Pin& pin, Target target, const std::string& name, bool high) {
    if (target == Target::Rp2040) return fmt::format("gpio_put({}, {});", name, high ? 1 : 0);
    if (!isDirect(pin, target)) return fmt::format("digitalWrite({}, {});", name, high ? "HIGH" : "LOW");
    return high ? fmt::format("PORT{} |= _BV({});", pin.port, pin.bit) : fmt::format("PORT{} &= ~_BV({});", pin.port, pin.bit);
}

std::string readPin(const board::Pin& pin, Target target, const std::string& name, bool high) {
    if (target == Target::Rp2040) return fmt::format("{}gpio_get({})", high ? "" : "!", name);
    if (!isDirect(pin, target)) return fmt::format("digitalRead({}) == {}", name, high ? "HIGH" : "LOW");
    return fmt::format("{}(PIN{} & _BV({}))", high ? "0 != " : "!", pin.port, pin.bit);
}

// There pinMode() begins with the pin low, whatever was written before: the chip's own calls are in the right order.
std::string openPin(Target target, const std::string& name, bool high) {
    if (target == Target::Rp2040) return fmt::format("gpio_init({0}); gpio_put({0}, {1}); gpio_set_dir({0}, true);", name, high ? 1 : 0);
    return fmt::format("digitalWrite({0}, {1}); pinMode({0}, OUTPUT);", name, high ? "HIGH" : "LOW");
}

std::string pullPin(const board::Pin& pin, Target target, const std::string& name) {
    if (target == Target::Rp2040) return fmt::format("gpio_set_dir({}, !high);", name);
    if (target == Target::Avr && pin.port >= 'A' && pin.port <= 'L')
        return fmt::format("if (high) DDR{0} &= ~_BV({1}); else DDR{0} |= _BV({1});", pin.port, pin.bit);
    return fmt::format("pinMode({}, high ? INPUT : OUTPUT);", name);
}

}  // namespace hinge::firmware
