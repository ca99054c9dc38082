#pragma once
#include <stdint.h>
struct repeating_timer_t {
    int64_t delay_us;
    bool (*callback)(repeating_timer_t*);
};
typedef int32_t alarm_id_t;
uint32_t time_us_32();
// What the callback gives back: below 0, so many microseconds after it was due; 0, no more. One alarm at a time here.
alarm_id_t add_alarm_in_us(uint64_t us, int64_t (*callback)(alarm_id_t, void*), void* user, bool fire_if_past);
// A negative delay counts from one call's start to the next one's.
bool add_repeating_timer_us(int64_t delay_us, bool (*callback)(repeating_timer_t*), void* user, repeating_timer_t* out);
