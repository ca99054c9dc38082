#pragma once
#include <cstdint>
struct repeating_timer_t {};
bool add_repeating_timer_us(int64_t, bool (*)(repeating_timer_t*), void*, repeating_timer_t*);
