#pragma once
enum esp_reset_reason_t {
    ESP_RST_POWERON = 1,
    ESP_RST_EXT,
    ESP_RST_SW,
    ESP_RST_PANIC,
    ESP_RST_INT_WDT,
    ESP_RST_TASK_WDT,
    ESP_RST_BROWNOUT = 9
};
inline esp_reset_reason_t esp_reset_reason() {
    return ESP_RST_POWERON;
}
inline unsigned int uxTaskGetStackHighWaterMark(void*) {
    return 5000;
}
