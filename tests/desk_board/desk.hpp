#pragma once
// A board that is none: the calls of a sketch's API in a time of its own, so that an emitted sketch for a board that nobody emulates runs
// on the desk, tick by tick as it would there. Its pins, and nothing of the chip: what a register does is not seen here.
//   PROGRAM LAST_MICROSECOND HEARD_FILE < SCRIPT
// SCRIPT and HEARD as in ../rp2040/run.mjs.
#include <cstdint>
#include <deque>

namespace desk {

/// Nanoseconds since the start.
std::uint64_t now();
/// So much time goes by: what comes from outside comes, timers call, PWM turns. Ends the program when its time is over.
void spend(std::uint64_t ns);

void open(int pin, bool output, bool pull_up);
bool isOpen(int pin);
void put(int pin, bool high);  ///< before open(): the level that it opens with
bool get(int pin);
int reading(int pin);  ///< twelve bits

/// A serial line: what has come over it and was not read, and by which word what is sent is told.
struct Wire {
    const char* word;
    std::deque<std::uint8_t> incoming{};
    void send(std::uint8_t byte) const;
};
extern Wire link, air;

/// Calls back every so often, unless interrupts are off: then as soon as they are on again.
void every(std::uint64_t ns, void (*call)());
/// Calls once, at an instant.
void once(std::uint64_t ns, void (*call)());
void onEdge(int pin, bool rising, bool falling, void (*call)());
void hold(bool interrupts_off);

/// A PWM channel; a new share begins with the next period.
void pwmSet(int channel, double frequency, int bits);
void pwmAttach(int channel, int pin);
void pwmShare(int channel, std::uint32_t counts);

/// A watchdog: it bites when it was not fed for so long, and the program ends.
void watch(std::uint64_t ns);
void feed();

}  // namespace desk
