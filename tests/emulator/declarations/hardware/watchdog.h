#pragma once
void watchdog_enable(unsigned int, bool);
void watchdog_update();
