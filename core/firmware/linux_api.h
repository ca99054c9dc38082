// The little of the sketch API that an emitted sketch uses, on Linux with libgpiod 1.6. The link is standard input
// and output. An operating system may hold the program up for milliseconds: no PWM, no servos, no steps are made here.
#pragma once
#include <gpiod.h>
#include <poll.h>
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
