#pragma once
#include <stdint.h>
struct repeating_timer_t {
    int64_t delay_us;
    bool (*callback)(repeating_timer_t*);
};
// A negative delay counts from one call's start to the next one's.
bool add_repeating_timer_us(int64_t delay_us, bool (*callback)(repeating_timer_t*), void* user, repeating_timer_t* out);
