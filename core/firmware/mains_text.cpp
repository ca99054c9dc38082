#include "firmware/mains_text.hpp"
#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include "firmware/pin_text.hpp"

namespace hinge::firmware {
namespace {

using board::Target;

// Counts of eight clocks from a crossing's change to its interrupt's first look at the timer, and from what is due to the pin, both
// together; measured on the emulated ATmega328P, 14 us.
constexpr int late = 28;
// The same in microseconds where an alarm of the chip's clock times it: 0.3 on the emulated RP2040; of a board with its own core not known.
constexpr int alarm_late = 0;

}  // namespace

Result<std::string> MainsText::add(const SketchOutput& out, const std::string& field, const routine::ProgramOutput& output) {
    const auto target = model_.family.target;
    if (!board::firesHalfWaves(model_.family))
        return fail(ErrorCode::NotDriven, field, std::string{model_.family.name}, "a board that can time the firing into half-waves");
    if (!model_.crossing) return fail(ErrorCode::Missing, "board/crossing_pin", "", "the pin at which the mains' crossings come in");
    half_waves_ = output.half_waves;
    const auto number = std::to_string(out.pin.number);
    fires_ += fmt::format("    if (gate == {}) {{ {} }}\n", gates_, setPin(out.pin, target, number, !out.inverted));
    quenches_ += fmt::format("    if (gate == {}) {{ {} }}\n", gates_, setPin(out.pin, target, number, out.inverted));
    return fmt::format("  uint16_t wanted = spark::firingDelay({});\n  noInterrupts();\n  phase.ask({}, wanted, gates);\n  interrupts();",
                       output.of_volts ? "spark::powerOfVolts(level)" : "level", gates_++);
}

std::string MainsText::numbered(std::string text) const {
    std::replace(text.begin(), text.end(), '#', static_cast<char>('0' + model_.family.phase_timer));
    return text;
}

std::string MainsText::state() const {
    const auto gates = fmt::format(
        "spark::PhaseDrive<{}> phase;\nstruct Gates {{\n  void fire(uint8_t gate) {{\n{}  }}\n  void quench(uint8_t gate) {{\n{}  }}\n"
        "}} gates;\n\n",
        gates_, fires_, quenches_);
    if (model_.family.target == Target::Esp32)
        return gates +
               "hw_timer_t* mainsTimer = nullptr;  // counts microseconds\n\n"
               "void IRAM_ATTR ringAt(uint16_t next) {  // no sooner than two microseconds from now\n"
               "  uint64_t now = timerRead(mainsTimer);\n  int16_t more = next - (uint16_t)now;\n"
               "  timerAlarmWrite(mainsTimer, now + (more < 2 ? 2 : more), false);\n  timerAlarmEnable(mainsTimer);\n}\n\n"
               "void IRAM_ATTR onDue() {\n  uint16_t next = phase.step(timerRead(mainsTimer), gates);\n"
               "  if (phase.mains.in_step) ringAt(next);\n}\n\n"
               "// The line has changed: one end of a pulse round a crossing.\n"
               "void IRAM_ATTR crossed() {\n  if (phase.mains.change(timerRead(mainsTimer))) ringAt(phase.mains.next());\n}\n";
    if (model_.family.phase_alarm)
        return gates +
               "uint16_t dueAt = 0;  // microseconds of the chip's clock: when the alarm is to come\n\n"
               "int64_t onDue(alarm_id_t, void*) {\n  uint16_t next = phase.step(time_us_32(), gates);\n"
               "  if (!phase.mains.in_step) return 0;\n  uint16_t more = next - dueAt;\n  dueAt = next;\n"
               "  return more == 0 ? -1 : -(int64_t)more;  // that long after it was due\n}\n\n"
               "// The line has changed: one end of a pulse round a crossing.\n"
               "void crossed() {\n  uint16_t now = time_us_32();\n  if (!phase.mains.change(now)) return;\n  dueAt = phase.mains.next();\n"
               "  add_alarm_in_us((uint16_t)(dueAt - now), onDue, nullptr, true);\n}\n";
    return gates +
           numbered(
               "// The line has changed: one end of a pulse round a crossing.\n"
               "void crossed() {\n  if (!phase.mains.change(TCNT#)) return;\n  OCR#A = phase.mains.next();\n  TIFR# = _BV(OCF#A);\n"
               "  TIMSK# |= _BV(OCIE#A);\n}\n\n"
               "ISR(TIMER#_COMPA_vect) {\n  do OCR#A = phase.step(TCNT#, gates);\n"
               "  while (phase.mains.in_step && (int16_t)(OCR#A - TCNT#) < 8);\n  if (!phase.mains.in_step) TIMSK# &= ~_BV(OCIE#A);\n}\n");
}

std::string MainsText::setup() const {
    const auto pin = std::to_string(model_.crossing->number);
    const auto line = fmt::format(
        "  pinMode({0}, INPUT_PULLUP);  // {1}: the mains' crossings\n"
        "  attachInterrupt(digitalPinToInterrupt({0}), crossed, CHANGE);\n",
        pin, model_.crossing->name);
    if (model_.family.phase_alarm)
        return fmt::format("  phase.powerUp({}, {});  // microseconds of a half-wave\n", std::lround(500000.0 / half_waves_), alarm_late) +
               (model_.family.target == Target::Esp32
                    ? "  mainsTimer = timerBegin(1, 80, true);  // counts microseconds\n  timerAttachInterrupt(mainsTimer, &onDue, true);\n"
                    : "") +
               line;
    return numbered(fmt::format("  // timer # runs round, {:g} MHz/8; a half-wave is {} counts\n  TCCR#A = 0;\n  TCCR#B = _BV(CS#1);\n"
                                "  phase.powerUp({}, {});\n",
                                model_.family.clock / 1e6, std::lround(model_.family.clock / 16.0 / half_waves_),
                                std::lround(model_.family.clock / 16.0 / half_waves_), late)) +
           line;
}

std::string MainsText::counts() const {
    return model_.family.phase_alarm ? "1000000" : fmt::format("{:.0f}", model_.family.clock / 8.0);
}

std::string MainsText::wanted() const {
    return fmt::format("{:.0f}", half_waves_);
}

}  // namespace hinge::firmware
