// Declarations only: the little of the sketch API that an emitted sketch names. It checks syntax and nothing else.
#pragma once
#include <cstdint>
#include <cstdlib>
#include <cstring>
enum { LOW = 0, HIGH = 1, INPUT, OUTPUT, INPUT_PULLUP, RISING, FALLING };
#define PROGMEM
#define IRAM_ATTR
#define F(text) (text)
#define memcpy_P memcpy
#define strcmp_P strcmp
#define strlen_P strlen
typedef char __FlashStringHelper;
void pinMode(uint8_t, uint8_t);
void digitalWrite(uint8_t, uint8_t);
int digitalRead(uint8_t);
int analogRead(uint8_t);
unsigned long micros();
void delayMicroseconds(unsigned int);
void noInterrupts();
void interrupts();
int digitalPinToInterrupt(uint8_t);
void attachInterrupt(int, void (*)(), int);
struct SerialPort {
    void begin(unsigned long);
    int available();
    int read();
    int availableForWrite();
    void write(uint8_t);
    template <class T>
    void print(T);
    template <class T>
    void println(T);
};
extern SerialPort Serial;
// ESP32, core 2.x.
double ledcSetup(uint8_t, double, uint8_t);
void ledcAttachPin(uint8_t, uint8_t);
void ledcWrite(uint8_t, uint32_t);
struct hw_timer_t;
hw_timer_t* timerBegin(uint8_t, uint16_t, bool);
void timerAttachInterrupt(hw_timer_t*, void (*)(), bool);
void timerAlarmWrite(hw_timer_t*, uint64_t, bool);
void timerAlarmEnable(hw_timer_t*);
