// The little of libgpiod 1.6 that the emitted header uses, on the desk's board.
#pragma once
#include "../desk.hpp"
struct gpiod_chip {
    int number;
};
struct gpiod_line {
    int number;
};
enum { GPIOD_LINE_REQUEST_FLAG_BIAS_PULL_UP = 32 };
inline gpiod_chip* gpiod_chip_open_by_number(unsigned int number) {
    return new gpiod_chip{static_cast<int>(number)};
}
inline gpiod_line* gpiod_chip_get_line(gpiod_chip*, unsigned int number) {
    return new gpiod_line{static_cast<int>(number)};
}
inline int gpiod_line_request_output(gpiod_line* line, const char*, int level) {
    desk::put(line->number, level != 0);
    desk::open(line->number, true, false);
    return 0;
}
inline int gpiod_line_request_input_flags(gpiod_line* line, const char*, int flags) {
    desk::open(line->number, false, (flags & GPIOD_LINE_REQUEST_FLAG_BIAS_PULL_UP) != 0);
    return 0;
}
inline int gpiod_line_set_value(gpiod_line* line, int level) {
    desk::put(line->number, level != 0);
    return 0;
}
inline int gpiod_line_get_value(gpiod_line* line) {
    return desk::get(line->number);
}
