#pragma once
typedef unsigned int uint;
uint pwm_gpio_to_slice_num(uint);
void pwm_set_clkdiv(uint, float);
void pwm_set_phase_correct(uint, bool);
void pwm_set_wrap(uint, unsigned short);
void pwm_set_gpio_level(uint, unsigned short);
void pwm_set_enabled(uint, bool);
