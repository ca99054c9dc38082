#pragma once
#include <cstdint>
#include "../desk.hpp"
inline int esp_task_wdt_init(std::uint32_t seconds, bool) {
    desk::watch(1000000000ull * seconds);
    return 0;
}
inline int esp_task_wdt_add(void*) {
    return 0;
}
inline int esp_task_wdt_reset() {
    desk::feed();
    return 0;
}
