#pragma once
#include "gpio.h"
uint pwm_gpio_to_slice_num(uint pin);
void pwm_set_clkdiv(uint slice, float divider);
void pwm_set_phase_correct(uint slice, bool correct);
void pwm_set_wrap(uint slice, uint16_t wrap);
void pwm_set_gpio_level(uint pin, uint16_t level);
void pwm_set_output_polarity(uint slice, bool a, bool b);
void pwm_set_both_levels(uint slice, uint16_t a, uint16_t b);
void pwm_set_enabled(uint slice, bool enabled);
