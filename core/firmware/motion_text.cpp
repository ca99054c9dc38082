#include "firmware/motion_text.hpp"
#include <fmt/format.h>
#include <algorithm>
#include "firmware/other_chips.hpp"
#include "firmware/pin_text.hpp"

namespace hinge::firmware {

std::string Motion::raise(const board::Pin& pin) const {
    return target_ == Target::Avr ? fmt::format("PORT{} |= _BV({});", pin.port, pin.bit)
                                  : setPin(pin, target_, std::to_string(pin.number), true);
}
std::string Motion::lower(const board::Pin& pin) const {
    return target_ == Target::Avr ? fmt::format("PORT{} &= ~_BV({});", pin.port, pin.bit)
                                  : setPin(pin, target_, std::to_string(pin.number), false);
}

std::string Motion::addServo(const std::string& name, const SketchOutput& out, std::size_t i, int channel, const std::string& wanted) {
    if (target_ != Target::Avr) {
        state += fmt::format("// {}: its pulse is made by the chip's own PWM, 50 Hz, in half microseconds\n", comment(name));
        setup += servoSetup(target_, out.pin, channel);
        return servoBody(target_, out.pin, channel, wanted);
    }
    if (servos_ == 0) state += "enum { LEAD = 20 };  // counts of half a microsecond\n";
    state += fmt::format(
        "volatile uint8_t beats{0} = 0, rest{0} = 0, offset{0} = 16;  // a pulse in beats and counts; 0 beats: none\nuint16_t last{0}; "
        "uint8_t end{0}; bool high{0} = false;\n",
        i);
    // Some counts into the beat, so that what delays the interrupt a little does not show.
    pulses += fmt::format(
        "  if (high{0}) {{\n    if (beat == last{0}) {{\n      high{0} = false;\n      if (end{0} < 40) {{ while (TCNT# < end{0}) {{}} "
        "{1} }}\n      else {{ OCR#B = end{0} - LEAD; ending = {0}; TIFR# = _BV(OCF#B); TIMSK# |= _BV(OCIE#B); }}\n    }}\n"
        "  }} else if (beat == {2} && beats{0}) {{\n    last{0} = beat + beats{0};\n    end{0} = rest{0};\n    high{0} = true;\n    "
        "while (TCNT# < offset{0}) {{}}\n    {3}\n  }}\n",
        i, lower(out.pin), 1 + 40 * servos_, raise(out.pin));
    ends_ += fmt::format("  if (ending == {}) {}\n", i, lower(out.pin));
    ++servos_;
    return fmt::format(
        "  static unsigned int before = 0;\n  unsigned int wanted = {1};\n  if (wanted == "
        "before) return;\n  before "
        "= wanted;\n"
        "  uint8_t start = (wanted + 16) % 125 < 24 ? 56 : 16;  // never an end right at the start of a beat\n  uint8_t whole = wanted "
        "? (wanted + start) / 125 : 0, part = (wanted + start) % 125;\n"
        "  noInterrupts();\n  beats{0} = whole; rest{0} = part; offset{0} = start;\n  interrupts();",
        i, wanted);
}

std::string Motion::add(const routine::ProgramOutput& output, const SketchOutput& out, std::size_t i, int channel) {
    if (output.kind == routine::OutputKind::Servo)
        return addServo(output.name, out, i, channel, fmt::format("gadget.output({}).awake ? level : 0", i));
    state += fmt::format("unsigned long given{0} = 0;\n", i);
    setup += fmt::format("  given{} = {}L;\n", i, static_cast<long>(output.start) * routine::fine_parts);
    return addStepper(
        out, i,
        fmt::format("  long due = (unsigned long)level * 256 + gadget.output({0}).fraction - given{0};\n  if (due > {1}) due = "
                    "{1};\n  if (due < -{1}) due = -{1};\n  given{0} += due;\n",
                    i, 2 * 256 * slots()),
        fmt::format("gadget.output({}).awake", i));
}

std::string Motion::addRate(const routine::ProgramOutput& output, const SketchOutput& out, std::size_t i, const std::string& ramp) {
    state += fmt::format("spark::StepRate turning{0};  // {1:.6g} steps/s at {2}\n", i, output.step_rate, output.top);
    return addStepper(out, i,
                      fmt::format("  long due = turning{0}.next({1}, {2}, {3}LL);  // 2^-48 of a step in a tick, at a rate of 1\n", i,
                                  output.turns ? fmt::format("gadget.output({}).back ? -(long)level : (long)level", i) : "level", ramp,
                                  routine::rateUnit(output)),
                      fmt::format("level > 0 || turning{}.now != 0", i));
}

std::string Motion::addStepper(const SketchOutput& out, std::size_t i, const std::string& due, const std::string& awake) {
    const int whole = 256 * slots();
    state += fmt::format(
        "volatile int next{0} = 0;  // 256ths of a step to go in the millisecond to come\nint rate{0} = 0, sum{0} = {1};     // {2}ths of "
        "a step: each beat, and gathered\n",
        i, whole / 2, whole);
    const std::string forward = out.direction ? raise(*out.direction) : "", back = out.direction ? lower(*out.direction) : "";
    const std::string pulse = raise(out.pin) + " delayMicroseconds(2); " + lower(out.pin);
    beat += fmt::format(
        "  sum{0} += rate{0};\n  if (sum{0} >= {2}) {{ sum{0} -= {2}; {1} }}\n  else if (sum{0} < 0) {{ sum{0} += {2}; {1} }}\n", i, pulse,
        whole);
    // The direction turns a whole beat before the first step that it concerns.
    load += fmt::format(
        "    rate{0} = next{0} > {3} ? {3} : next{0} < -{3} ? -{3} : next{0};\n    next{0} -= rate{0};\n    if (rate{0} > 0) {{ {1} }} "
        "else if (rate{0} < 0) {{ {2} }}\n",
        i, forward, back, whole);
    std::string body = due;
    if (out.enable) {
        const std::string enable = std::to_string(out.enable->number);
        setup += fmt::format("  {}  // asleep, active low\n", openPin(target_, enable, true));
        body += fmt::format("  if ({}) {{ {} }}\n  else {{ {} }}\n", awake, setPin(*out.enable, target_, enable, false),
                            setPin(*out.enable, target_, enable, true));
    }
    if (out.direction) setup += fmt::format("  {}\n", openPin(target_, std::to_string(out.direction->number), false));
    return body + fmt::format("  noInterrupts();\n  next{0} += (int)due;\n  interrupts();", i);
}

std::string Motion::numbered(std::string text) const {
    std::replace(text.begin(), text.end(), '#', static_cast<char>('0' + timer_));
    return text;
}

std::string Motion::interrupt() const {
    std::string text;
    if (servos_ > 0) text += "  static uint16_t beat = 0;\n  if (++beat == 320) beat = 0;  // a servo's frame of 20 ms\n" + pulses;
    if (!beat.empty())
        text += beat +
                fmt::format("  if (++slot == {}) {{  // a millisecond is over: on at the next one's rate\n    slot = 0;\n", slots()) +
                load + "  }\n";
    return numbered(text);
}
std::string Motion::heading() const {
    switch (target_) {
        case Target::Avr: return numbered("ISR(TIMER#_COMPA_vect)");
        case Target::Esp32: return "void IRAM_ATTR beatOn()";
        default: return "void beatOn()";
    }
}

std::string Motion::ending() const {
    if (target_ == Target::Rp2040 && beats())
        return "bool onBeat(repeating_timer_t*) { beatOn(); return true; }\nrepeating_timer_t beatTimer;\n";
    if (target_ == Target::Esp32 && beats()) return "hw_timer_t* beatTimer = nullptr;\n";
    if (servos_ == 0) return "";
    // Called ten microseconds early: whatever another interrupt held it up, the pulse ends in time. Counts round at the beat's end.
    return numbered(
        "ISR(TIMER#_COMPB_vect) {\n  TIMSK# &= ~_BV(OCIE#B);\n  uint8_t from = OCR#B;\n  while ((uint8_t)(TCNT# - from) < LEAD) "
        "{}\n" +
        ends_ + "}\n");
}

std::string Motion::timer() const {
    if (!used()) return {};
    if (target_ == Target::Avr)
        return numbered(
            std::string{"  // timer # beats for servos and steps: 16 MHz/8, 125 counts\n"} +
            (timer_ == 2 ? "  TCCR#A = _BV(WGM#1);\n  TCCR#B = _BV(CS#1);\n" : "  TCCR#A = 0;\n  TCCR#B = _BV(WGM#2) | _BV(CS#1);\n") +
            "  OCR#A = 124;\n  TIMSK# = _BV(OCIE#A);\n");
    if (!beats()) return {};
    if (target_ == Target::Rp2040) return "  add_repeating_timer_us(-50, onBeat, nullptr, &beatTimer);  // twenty beats a millisecond\n";
    return "  beatTimer = timerBegin(0, 80, true);  // counts microseconds; twenty beats a millisecond\n  timerAttachInterrupt(beatTimer, "
           "&beatOn, true);\n  timerAlarmWrite(beatTimer, 50, true);\n  timerAlarmEnable(beatTimer);\n";
}

std::string Motion::start() const {
    if (beat.empty()) return {};
    if (target_ == Target::Avr)
        return numbered(
            "  noInterrupts();\n  TCNT# = 0;\n  slot = 4;  // the beat's millisecond ends 750 us after each tick\n  interrupts();\n");
    return "  slot = 5;  // the beat's millisecond ends 750 us after each tick\n";
}

}  // namespace hinge::firmware
