#pragma once
#include <stdint.h>
typedef unsigned int uint;
enum gpio_function { GPIO_FUNC_PWM = 4, GPIO_FUNC_SIO = 5 };
enum gpio_override { GPIO_OVERRIDE_NORMAL = 0, GPIO_OVERRIDE_INVERT = 1 };
void gpio_init(uint pin);  // an input, its output low, its function the processor's
void gpio_set_dir(uint pin, bool out);
void gpio_put(uint pin, bool high);
bool gpio_get(uint pin);
void gpio_set_function(uint pin, gpio_function function);  // its overrides go back to normal
void gpio_set_outover(uint pin, uint value);
