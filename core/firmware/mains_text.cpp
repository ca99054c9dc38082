#include "firmware/mains_text.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "firmware/pin_text.hpp"

namespace hinge::firmware {
namespace {

// Counts of eight clocks from a crossing's change to its interrupt's first look at the timer, and from what is due to the pin, both
// together; measured on the emulated ATmega328P, 14 us.
constexpr int late = 28;

}  // namespace

Result<std::string> MainsText::add(const SketchOutput& out, const std::string& field, const routine::ProgramOutput& output) {
    const auto target = model_.family.target;
    if (model_.family.phase_timer < 0)
        return fail(ErrorCode::NotDriven, field, std::string{model_.family.name},
                    "a board whose timer of 16 bits can time the firing into half-waves");
    if (!model_.crossing) return fail(ErrorCode::Missing, "board/crossing_pin", "", "the pin at which the mains' crossings come in");
    half_waves_ = output.half_waves;
    const auto number = std::to_string(out.pin.number);
    fires_ += fmt::format("    if (gate == {}) {{ {} }}\n", gates_, setPin(out.pin, target, number, !out.inverted));
    quenches_ += fmt::format("    if (gate == {}) {{ {} }}\n", gates_, setPin(out.pin, target, number, out.inverted));
    return fmt::format("  uint16_t wanted = spark::firingDelay({});\n  noInterrupts();\n  phase.wanted[{}] = wanted;\n  interrupts();",
                       output.of_volts ? "spark::powerOfVolts(level)" : "level", gates_++);
}

std::string MainsText::numbered(std::string text) const {
    std::replace(text.begin(), text.end(), '#', static_cast<char>('0' + model_.family.phase_timer));
    return text;
}

std::string MainsText::state() const {
    return numbered(fmt::format(
        "spark::PhaseDrive<{}> phase;\nstruct Gates {{\n  void fire(uint8_t gate) {{\n{}  }}\n  void quench(uint8_t gate) {{\n{}  }}\n"
        "}} gates;\n\n"
        "// The line has changed: one end of a pulse round a crossing.\n"
        "void crossed() {{\n  if (!phase.mains.change(TCNT#)) return;\n  OCR#A = phase.mains.next();\n  TIFR# = _BV(OCF#A);\n"
        "  TIMSK# |= _BV(OCIE#A);\n}}\n\n"
        "ISR(TIMER#_COMPA_vect) {{\n  do OCR#A = phase.step(TCNT#, gates);\n  while (phase.mains.in_step && (int16_t)(OCR#A - TCNT#) < "
        "8);\n"
        "  if (!phase.mains.in_step) TIMSK# &= ~_BV(OCIE#A);\n}}\n",
        gates_, fires_, quenches_));
}

std::string MainsText::setup() const {
    const auto pin = std::to_string(model_.crossing->number);
    return numbered(
        fmt::format("  // timer # runs round, {:g} MHz/8; a half-wave is {} counts\n  TCCR#A = 0;\n  TCCR#B = _BV(CS#1);\n"
                    "  phase.powerUp({}, {});\n  pinMode({}, INPUT_PULLUP);  // {}: the mains' crossings\n"
                    "  attachInterrupt(digitalPinToInterrupt({}), crossed, CHANGE);\n",
                    model_.family.clock / 1e6, std::lround(model_.family.clock / 16.0 / half_waves_),
                    std::lround(model_.family.clock / 16.0 / half_waves_), late, pin, model_.crossing->name, pin));
}

std::string MainsText::wanted() const {
    return fmt::format("{:.0f}", half_waves_);
}

}  // namespace hinge::firmware
