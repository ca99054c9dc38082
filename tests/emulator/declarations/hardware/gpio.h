#pragma once
enum gpio_function { GPIO_FUNC_PWM = 4 };
void gpio_set_function(unsigned int, gpio_function);
