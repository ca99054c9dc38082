#pragma once
enum gpio_function { GPIO_FUNC_PWM = 4 };
void gpio_set_function(unsigned int, gpio_function);
enum gpio_override { GPIO_OVERRIDE_NORMAL = 0, GPIO_OVERRIDE_INVERT = 1 };
void gpio_set_outover(unsigned int, unsigned int);
