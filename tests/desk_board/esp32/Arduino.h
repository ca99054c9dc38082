// The sketch API of the ESP32 (core 2.x, from memory) on the desk's board. Two PWM channels share a timer, as there.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include "../desk.hpp"

enum { LOW = 0, HIGH = 1, INPUT = 1, OUTPUT = 3, INPUT_PULLUP = 5, RISING = 1, FALLING = 2, CHANGE = 3 };
#define PROGMEM
#define PSTR(text) (text)
#define IRAM_ATTR
#define F(text) (reinterpret_cast<const __FlashStringHelper*>(text))
class __FlashStringHelper;
#define strcmp_P strcmp
#define strlen_P strlen

inline void pinMode(std::uint8_t pin, std::uint8_t mode) {
    desk::open(pin, mode == OUTPUT, mode == INPUT_PULLUP);
}
inline void digitalWrite(std::uint8_t pin, std::uint8_t level) {
    desk::put(pin, level != LOW);
}
inline int digitalRead(std::uint8_t pin) {
    return desk::get(pin);
}
inline int analogRead(std::uint8_t pin) {
    return desk::reading(pin);
}
inline unsigned long micros() {
    desk::spend(200);
    return static_cast<std::uint32_t>(desk::now() / 1000);
}
inline void delayMicroseconds(unsigned int us) {
    desk::spend(1000ull * us);
}
inline void noInterrupts() {
    desk::hold(true);
}
inline void interrupts() {
    desk::hold(false);
}
inline int digitalPinToInterrupt(std::uint8_t pin) {
    return pin;
}
inline void attachInterrupt(int pin, void (*handler)(), int edge) {
    desk::onEdge(pin, (edge & RISING) != 0, (edge & FALLING) != 0, handler);
}

inline void ledcSetup(std::uint8_t channel, std::uint32_t frequency, std::uint8_t bits) {
    // 80 MHz over a divider in 256ths. Both channels of a timer run at what was set last.
    const double divider = static_cast<double>(static_cast<std::uint64_t>(80e6 * 256.0 / frequency / (1 << bits)));
    for (const int each : {channel & ~1, channel | 1}) desk::pwmSet(each, 80e6 * 256.0 / divider / (1 << bits), bits);
}
inline void ledcAttachPin(std::uint8_t pin, std::uint8_t channel) {
    desk::pwmAttach(channel, pin);
}
inline void ledcWrite(std::uint8_t channel, std::uint32_t share) {
    desk::pwmShare(channel, share);
}

struct hw_timer_t {
    void (*handler)();
    std::uint16_t divider;  // of 80 MHz
    std::uint64_t alarm;    // ns
    bool again;
};
inline hw_timer_t* timerBegin(std::uint8_t, std::uint16_t divider, bool) {
    return new hw_timer_t{nullptr, divider, 0, false};
}
inline void timerAttachInterrupt(hw_timer_t* timer, void (*handler)(), bool) {
    timer->handler = handler;
}
inline std::uint64_t timerRead(hw_timer_t* timer) {
    return desk::now() * 2 / 25 / timer->divider;
}
// Set anew each time: after so many counts, or, once only, at a count.
inline void timerAlarmWrite(hw_timer_t* timer, std::uint64_t ticks, bool again) {
    timer->alarm = ticks * timer->divider * 25 / 2;
    timer->again = again;
}
inline void timerAlarmEnable(hw_timer_t* timer) {
    if (timer->again) desk::every(timer->alarm, timer->handler);
    else desk::once(timer->alarm, timer->handler);
}

struct SerialPort {
    desk::Wire& wire;
    void begin(unsigned long) {}
    int available() { return static_cast<int>(wire.incoming.size()); }
    int read() {
        const int byte = wire.incoming.front();
        wire.incoming.pop_front();
        return byte;
    }
    int availableForWrite() { return 128; }
    void write(std::uint8_t byte) { wire.send(byte); }
    void print(const char* text) {
        while (*text) write(static_cast<std::uint8_t>(*text++));
    }
    void print(const __FlashStringHelper* text) { print(reinterpret_cast<const char*>(text)); }
    void print(char letter) { write(static_cast<std::uint8_t>(letter)); }
    void print(long number) {
        char text[24];
        std::snprintf(text, sizeof text, "%ld", number);
        print(text);
    }
    void print(int number) { print(static_cast<long>(number)); }
    template <class T>
    void println(T what) {
        print(what), print("\r\n");
    }
};
inline SerialPort Serial{desk::link}, Serial2{desk::air};
