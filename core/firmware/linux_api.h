// The little of the sketch API that an emitted sketch uses, on Linux with libgpiod 1.6. The link is standard input
// and output. An operating system may hold the program up for milliseconds: no servos and no steps are made here, and
// no PWM but by the header's own channels, whose edges are the oscillator's.
#pragma once
#include <fcntl.h>
#include <gpiod.h>
#include <linux/i2c-dev.h>
#include <linux/i2c.h>
#include <poll.h>
#include <signal.h>
#include <sys/ioctl.h>
#include <time.h>
#include <unistd.h>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>

enum { LOW = 0, HIGH = 1 };
enum { INPUT, OUTPUT, INPUT_PULLUP };
#define PROGMEM
#define PSTR(text) (text)
#define F(text) (text)
#define memcpy_P memcpy
#define strcmp_P strcmp
#define strlen_P strlen
typedef char __FlashStringHelper;

// Chip 0's lines by their numbers; a level set before pinMode() is the level that the line starts with.
struct Pins {
    gpiod_chip* chip = gpiod_chip_open_by_number(0);
    std::map<int, gpiod_line*> lines;
    std::map<int, int> first;
};
inline Pins& pins() {
    static Pins all;
    return all;
}
inline void digitalWrite(int pin, int level) {
    auto line = pins().lines.find(pin);
    if (line == pins().lines.end()) pins().first[pin] = level;
    else gpiod_line_set_value(line->second, level);
}
inline void pinMode(int pin, int mode) {
    if (!pins().chip) {
        std::fprintf(stderr, "no GPIO chip: is this a board with a header, and may this user use it?\n");
        std::exit(1);
    }
    gpiod_line* line = gpiod_chip_get_line(pins().chip, pin);
    int failed = !line ? 1
                 : mode == OUTPUT
                     ? gpiod_line_request_output(line, "gadget", pins().first[pin])
                     : gpiod_line_request_input_flags(line, "gadget", mode == INPUT_PULLUP ? GPIOD_LINE_REQUEST_FLAG_BIAS_PULL_UP : 0);
    if (failed) {
        std::fprintf(stderr, "line %d is not to be had: does another program hold it?\n", pin);
        std::exit(1);
    }
    pins().lines[pin] = line;
}
inline int digitalRead(int pin) {
    auto line = pins().lines.find(pin);
    return line == pins().lines.end() ? LOW : gpiod_line_get_value(line->second);
}
// The header's own PWM, by the kernel's files (its documentation: driver-api/pwm). Its edges do not jitter; a new share
// comes when this program is let run, milliseconds late at worst. The pin is given to its channel in the board's own
// configuration, before: an overlay. A channel goes on by itself: it is put to rest when the program ends, or is told to.
// Killed outright (signal 9, or no power to its processor alone) it cannot do that.
#ifndef SPARK_PWM
#define SPARK_PWM "/sys/class/pwm/pwmchip0"
#endif
struct PwmChannel {
    bool begun = false;
    long long rest = 0, share = 0;  // ns of its period
};
inline PwmChannel pwmChannels[4];
inline bool pwmPut(const char* file, long long value) {
    char text[24];
    int length = std::snprintf(text, sizeof text, "%lld", value);
    int to = open(file, O_WRONLY);
    if (to < 0) return false;
    bool whole = write(to, text, length) == length;
    close(to);
    return whole;
}
inline bool pwmPut(int channel, const char* what, long long value) {
    char file[96];
    std::snprintf(file, sizeof file, SPARK_PWM "/pwm%d/%s", channel, what);
    return pwmPut(file, value);
}
inline void pwmRest() {
    for (int c = 0; c < 4; ++c)
        if (pwmChannels[c].begun) pwmPut(c, "duty_cycle", pwmChannels[c].rest);
}
inline void pwmShare(int channel, long long ns) {
    if (ns == pwmChannels[channel].share) return;
    pwmChannels[channel].share = ns;
    pwmPut(channel, "duty_cycle", ns);
}
// period, rest: ns; rest: of its period while what it drives is off
inline void pwmBegin(int channel, long long period, long long rest) {
    pwmPut(SPARK_PWM "/export", channel);  // fails where it is there already
    bool begun = false;
    for (int tries = 0; tries < 100 && !begun; ++tries) {  // its files may take a moment to be this user's
        pwmPut(channel, "duty_cycle", 0);
        begun = pwmPut(channel, "period", period) && pwmPut(channel, "duty_cycle", rest) && pwmPut(channel, "enable", 1);
        if (!begun) usleep(10000);
    }
    if (!begun) {
        std::fprintf(stderr,
                     "PWM channel %d is not to be had in %s: is it switched on in the board's configuration, and may this user use it?\n",
                     channel, SPARK_PWM);
        std::exit(1);
    }
    pwmChannels[channel] = {true, rest, rest};
    std::atexit(pwmRest);
    for (int each : {SIGINT, SIGTERM, SIGHUP, SIGABRT, SIGSEGV})
        signal(each, [](int by) {
            pwmRest();
            _exit(128 + by);
        });
}
// Boards of more lines hang on the header's own two-wire bus, as the kernel has it (its documentation: i2c/dev-interface); it is switched
// on in the board's own configuration. A transfer takes its time: some 0.6 ms for six bytes at 100 kHz.
#ifndef SPARK_I2C
#define SPARK_I2C "/dev/i2c-1"
#endif
inline bool onHeaderBus(i2c_msg* messages, unsigned int count) {
    static const int bus = open(SPARK_I2C, O_RDWR);
    i2c_rdwr_ioctl_data all{messages, count};
    return bus >= 0 && ioctl(bus, I2C_RDWR, &all) == static_cast<int>(count);
}
// Bytes from a register on, put there or got from there; false where nobody answers.
template <uint8_t address>
struct HeaderBus {
    static bool put(uint8_t at, const uint8_t* bytes, uint8_t count) {
        uint8_t all[256] = {at};
        for (uint8_t k = 0; k < count; ++k) all[1 + k] = bytes[k];
        i2c_msg message{address, 0, static_cast<uint16_t>(1 + count), all};
        return onHeaderBus(&message, 1);
    }
    static bool get(uint8_t at, uint8_t* bytes, uint8_t count) {
        i2c_msg messages[2] = {{address, 0, 1, &at}, {address, I2C_M_RD, count, bytes}};
        return onHeaderBus(messages, 2);
    }
};
inline void delayMicroseconds(unsigned int us) {
    usleep(us);
}
inline unsigned long micros() {
    timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return now.tv_sec * 1000000UL + now.tv_nsec / 1000;
}

struct Link {
    void begin(unsigned long) { std::setvbuf(stdout, nullptr, _IONBF, 0); }
    bool available() {
        pollfd in{0, POLLIN, 0};
        return poll(&in, 1, 0) > 0 && (in.revents & POLLIN);
    }
    int read() {
        unsigned char c;
        return ::read(0, &c, 1) == 1 ? c : (std::exit(0), -1);
    }
    int availableForWrite() { return 1000; }
    void write(uint8_t byte) { std::putchar(byte); }
    void print(const char* text) { std::fputs(text, stdout); }
    void print(char c) { std::putchar(c); }
    void print(long number) { std::printf("%ld", number); }
    void print(int number) { print((long)number); }
    template <class T>
    void println(T what) {
        print(what);
        std::fputs("\r\n", stdout);
    }
};
inline Link Serial;

void setup();
void loop();
int main() {
    setup();
    for (;;) {
        loop();
        usleep(100);
    }
}
