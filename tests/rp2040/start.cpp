// Start-up and register layer for the emulated RP2040: vectors, memory, timer, pins, PWM, converter, both UARTs, watchdog.
// @source rp2040-datasheet, chapters 2.15, 2.19, 4.2, 4.5, 4.6, 4.7 and 4.9 (from memory)
#include "Arduino.h"
#include "hardware/gpio.h"
#include "hardware/pwm.h"
#include "hardware/watchdog.h"
#include "pico/time.h"

void setup();
void loop();

namespace {

volatile uint32_t& at(uint32_t address) {
    return *reinterpret_cast<volatile uint32_t*>(address);
}
constexpr uint32_t set_bits = 0x2000, clear_bits = 0x3000;  // aliases of a register
constexpr uint32_t resets = 0x4000c000, io_bank = 0x40014000, pads = 0x4001c000, uart_0 = 0x40034000, uart_1 = 0x40038000, adc = 0x4004c000,
                   pwm = 0x40050000, timer = 0x40054000, watchdog = 0x40058000, sio = 0xd0000000, nvic_enable = 0xe000e100;
volatile uint32_t& control(unsigned pin) {
    return at(io_bank + 8 * pin + 4);
}

repeating_timer_t* repeating = nullptr;
uint32_t repeat_at = 0, watchdog_load = 0;
struct {
    void (*handler)();
    int edge;
} on_pin[30];

void onRepeat() {
    at(timer + 0x34) = 1;  // INTR
    repeat_at += static_cast<uint32_t>(repeating->delay_us < 0 ? -repeating->delay_us : repeating->delay_us);
    at(timer + 0x10) = repeat_at;
    repeating->callback(repeating);
}
int64_t (*alarm)(alarm_id_t, void*) = nullptr;
uint32_t alarm_at = 0;
// An alarm whose time has gone by while it was set does not come by itself.
void setAlarm() {
    for (;;) {
        at(timer + 0x18) = alarm_at;
        if (static_cast<int32_t>(alarm_at - at(timer + 0x28)) > 0) return;
        const int64_t again = alarm(0, nullptr);
        if (again == 0) return;
        alarm_at += static_cast<uint32_t>(-again);
    }
}
void onAlarm() {
    at(timer + 0x34) = 4;
    const int64_t again = alarm(0, nullptr);
    if (again == 0) return;
    alarm_at += static_cast<uint32_t>(-again);
    setAlarm();
}
void onWake() {
    at(timer + 0x34) = 2;
}
void onPins() {
    for (unsigned pin = 0; pin < 30; ++pin) {
        if (!on_pin[pin].handler) continue;
        const uint32_t events = at(io_bank + 0x120 + 4 * (pin / 8)) >> 4 * (pin % 8) & 0xc;
        if (events == 0) continue;
        at(io_bank + 0xf0 + 4 * (pin / 8)) = events << 4 * (pin % 8);
        on_pin[pin].handler();
    }
}
void stray() {
    for (;;) {
    }
}

// Waits for the next thing to do, at most 60 us: an emulated chip that sleeps runs many times faster than one that turns round. A real
// board's loop() is called again at once.
void rest() {
    at(timer + 0x14) = at(timer + 0x28) + 60;
    asm volatile("wfi");
}

}  // namespace

extern "C" {
extern uint32_t data_from[], data_to[], data_end[], bss_from[], bss_end[];
extern void (*starters[])();
extern void (*starters_end[])();

void start() {
    at(resets + clear_bits) =
        1u << 0 | 1u << 5 | 1u << 8 | 1u << 14 | 1u << 21 | 1u << 22 | 1u << 23;  // converter, pins, pads, PWM, timer, UARTs
    uint32_t* from = data_from;
    for (uint32_t* to = data_to; to < data_end;) *to++ = *from++;
    for (uint32_t* to = bss_from; to < bss_end;) *to++ = 0;
    for (auto starter = starters; starter < starters_end; ++starter) (*starter)();
    at(adc) = 1;
    at(timer + 0x38 + set_bits) = 2;  // INTE
    at(nvic_enable) = 1u << 0 | 1u << 1 | 1u << 2 | 1u << 13;
    setup();
    for (;;) {
        loop();
        rest();
    }
}
__attribute__((section(".vectors"), used)) void (*const vectors[16 + 14])() = {reinterpret_cast<void (*)()>(0x20040000),
                                                                               start,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               onRepeat,
                                                                               onWake,
                                                                               onAlarm,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               stray,
                                                                               onPins};

void* memcpy(void* to, const void* from, size_t bytes) {
    for (size_t i = 0; i < bytes; ++i) static_cast<volatile uint8_t*>(to)[i] = static_cast<const uint8_t*>(from)[i];
    return to;
}
void* memset(void* to, int byte, size_t bytes) {
    for (size_t i = 0; i < bytes; ++i) static_cast<volatile uint8_t*>(to)[i] = static_cast<uint8_t>(byte);
    return to;
}
int strcmp(const char* a, const char* b) {
    while (*a && *a == *b) ++a, ++b;
    return static_cast<uint8_t>(*a) - static_cast<uint8_t>(*b);
}
size_t strlen(const char* text) {
    size_t n = 0;
    while (text[n] != 0) ++n;
    return n;
}
char* strtok(char* text, const char* between) {
    static char* rest = nullptr;
    if (text) rest = text;
    while (rest && *rest && *rest == *between) ++rest;
    if (!rest || !*rest) return nullptr;
    char* word = rest;
    while (*rest && *rest != *between) ++rest;
    if (*rest) *rest++ = 0;
    return word;
}
int atoi(const char* text) {
    int value = 0;
    for (; *text >= '0' && *text <= '9'; ++text) value = 10 * value + (*text - '0');
    return value;
}
void __cxa_pure_virtual() {
    stray();
}
int __aeabi_atexit(void*, void (*)(void*), void*) {
    return 0;
}
void* __dso_handle = nullptr;
}

unsigned long micros() {
    return at(timer + 0x28);
}
void delayMicroseconds(unsigned int us) {
    const uint32_t from = at(timer + 0x28);
    while (at(timer + 0x28) - from < us) {
    }
}

void gpio_init(uint pin) {
    at(sio + 0x28) = 1u << pin;
    at(sio + 0x18) = 1u << pin;
    control(pin) = GPIO_FUNC_SIO;
    at(pads + 4 + 4 * pin) |= 0x40;  // it can be read, as the SDK leaves it
}
void gpio_set_dir(uint pin, bool out) {
    at(sio + (out ? 0x24 : 0x28)) = 1u << pin;
}
void gpio_put(uint pin, bool high) {
    at(sio + (high ? 0x14 : 0x18)) = 1u << pin;
}
bool gpio_get(uint pin) {
    return at(sio + 0x04) >> pin & 1;
}
void gpio_set_function(uint pin, gpio_function function) {
    control(pin) = function;
}
void gpio_set_outover(uint pin, uint value) {
    control(pin) = (control(pin) & ~(3u << 8)) | value << 8;
}
// As a core does it that begins with gpio_init(): an output comes up low, whatever was written before.
void pinMode(uint8_t pin, uint8_t mode) {
    gpio_init(pin);
    at(pads + 4 + 4 * pin) = 0x42 | (mode == INPUT_PULLUP ? 8 : 0);
    gpio_set_dir(pin, mode == OUTPUT);
}
void digitalWrite(uint8_t pin, uint8_t level) {
    gpio_put(pin, level != LOW);
}
int digitalRead(uint8_t pin) {
    return gpio_get(pin);
}
int analogRead(uint8_t pin) {
    at(adc) = 1u | static_cast<uint32_t>(pin - 26) << 12;
    at(adc + set_bits) = 4;
    while ((at(adc) & 1u << 8) == 0) {
    }
    return static_cast<int>(at(adc + 4) >> 2);
}
void attachInterrupt(int pin, void (*handler)(), int edge) {
    on_pin[pin] = {handler, edge};
    at(io_bank + 0xf0 + 4 * (static_cast<uint32_t>(pin) / 8)) = 0xcu << 4 * (pin % 8);
    const uint32_t wanted = edge == CHANGE ? 12u : edge == RISING ? 8u : 4u;
    at(io_bank + 0x100 + set_bits + 4 * (static_cast<uint32_t>(pin) / 8)) = wanted << 4 * (pin % 8);
}

uint pwm_gpio_to_slice_num(uint pin) {
    return pin / 2 % 8;
}
void pwm_set_clkdiv(uint slice, float divider) {
    at(pwm + 0x14 * slice + 4) = static_cast<uint32_t>(divider * 16.0f);
}
void pwm_set_phase_correct(uint slice, bool correct) {
    at(pwm + (correct ? set_bits : clear_bits) + 0x14 * slice) = 2;
}
void pwm_set_wrap(uint slice, uint16_t wrap) {
    at(pwm + 0x14 * slice + 0x10) = wrap;
}
void pwm_set_gpio_level(uint pin, uint16_t level) {
    const uint32_t slice = pwm_gpio_to_slice_num(pin);
    const uint32_t is = at(pwm + 0x14 * slice + 0x0c);
    at(pwm + 0x14 * slice + 0x0c) = pin % 2 ? (is & 0xffff) | static_cast<uint32_t>(level) << 16 : (is & 0xffff0000) | level;
}
void pwm_set_output_polarity(uint slice, bool a, bool b) {
    at(pwm + (a ? set_bits : clear_bits) + 0x14 * slice) = 4;
    at(pwm + (b ? set_bits : clear_bits) + 0x14 * slice) = 8;
}
void pwm_set_both_levels(uint slice, uint16_t a, uint16_t b) {
    at(pwm + 0x14 * slice + 0x0c) = static_cast<uint32_t>(b) << 16 | a;
}
void pwm_set_enabled(uint slice, bool enabled) {
    at(pwm + (enabled ? set_bits : clear_bits) + 0x14 * slice) = 1;
}

bool add_repeating_timer_us(int64_t delay_us, bool (*callback)(repeating_timer_t*), void*, repeating_timer_t* out) {
    out->delay_us = delay_us;
    out->callback = callback;
    repeating = out;
    repeat_at = at(timer + 0x28) + static_cast<uint32_t>(delay_us < 0 ? -delay_us : delay_us);
    at(timer + 0x38 + set_bits) = 1;
    at(timer + 0x10) = repeat_at;
    return true;
}
uint32_t time_us_32() {
    return at(timer + 0x28);
}
alarm_id_t add_alarm_in_us(uint64_t us, int64_t (*callback)(alarm_id_t, void*), void*, bool) {
    alarm = callback;
    alarm_at = at(timer + 0x28) + static_cast<uint32_t>(us);
    at(timer + 0x38 + set_bits) = 4;
    setAlarm();
    return 1;
}
void watchdog_enable(uint32_t ms, bool) {
    watchdog_load = 2000 * ms;  // it counts twice as fast as it should (erratum RP2040-E1)
    at(watchdog + 4) = watchdog_load;
    at(watchdog + set_bits) = 1u << 30;
}
bool watchdog_caused_reboot() {
    return at(watchdog + 8) != 0;
}
void watchdog_update() {
    at(watchdog + 4) = watchdog_load;
}

SerialPort Serial = {uart_1}, Serial1 = {uart_0};
// The clock by sixteen and by a number in 64ths.
void SerialPort::begin(unsigned long rate) {
    const uint32_t divider = (125000000u * 4 + rate / 2) / rate;
    at(uart + 0x24) = divider >> 6;
    at(uart + 0x28) = divider & 63;
    at(uart + 0x2c) = 0x70;  // eight bits, queues on
    at(uart + 0x30) = 0x301;
}
int SerialPort::available() {
    return (at(uart + 0x18) & 1u << 4) == 0;
}
int SerialPort::read() {
    return static_cast<int>(at(uart) & 0xff);
}
void SerialPort::write(uint8_t byte) {
    at(uart) = byte;
}
void SerialPort::print(const char* text) {
    while (*text) write(static_cast<uint8_t>(*text++));
}
void SerialPort::print(long number) {
    char digits[12];
    int n = 0;
    unsigned long left = number < 0 ? 0ul - static_cast<unsigned long>(number) : static_cast<unsigned long>(number);
    do digits[n++] = static_cast<char>('0' + left % 10), left /= 10;
    while (left > 0);
    if (number < 0) write('-');
    while (n > 0) write(static_cast<uint8_t>(digits[--n]));
}
