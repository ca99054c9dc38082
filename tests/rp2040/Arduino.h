// The little of the sketch API that an emitted sketch names, over the RP2040's registers, so that it runs on an emulated chip without any
// core. It brings neither the boot stage nor the clock tree of a real board: those are of the maker's own core.
// @source rp2040-datasheet (from memory)
#pragma once
#include <stddef.h>
#include <stdint.h>

extern "C" {
void* memcpy(void* to, const void* from, size_t bytes);
void* memset(void* to, int byte, size_t bytes);
int strcmp(const char* a, const char* b);
size_t strlen(const char* text);
char* strtok(char* text, const char* between);
int atoi(const char* text);
}

enum { LOW = 0, HIGH = 1, INPUT = 0, OUTPUT = 1, INPUT_PULLUP = 2, CHANGE = 1, FALLING = 2, RISING = 3 };
#define PROGMEM
#define PSTR(text) (text)
#define F(text) (reinterpret_cast<const __FlashStringHelper*>(text))
class __FlashStringHelper;
inline int strcmp_P(const char* a, const char* b) {
    return strcmp(a, b);
}
inline size_t strlen_P(const char* text) {
    return strlen(text);
}

void pinMode(uint8_t pin, uint8_t mode);
void digitalWrite(uint8_t pin, uint8_t level);
int digitalRead(uint8_t pin);
int analogRead(uint8_t pin);  // ten bits
unsigned long micros();
void delayMicroseconds(unsigned int us);
inline void noInterrupts() {
    asm volatile("cpsid i" ::: "memory");
}
inline void interrupts() {
    asm volatile("cpsie i" ::: "memory");
}
inline int digitalPinToInterrupt(uint8_t pin) {
    return pin;
}
void attachInterrupt(int pin, void (*handler)(), int edge);

// The link, which goes by USB on a board: UART 1 here. A radio's, on GP0 and GP1: UART 0.
struct SerialPort {
    uint32_t uart;
    void begin(unsigned long rate);
    int available();
    int read();
    int availableForWrite() { return 256; }
    void write(uint8_t byte);
    void print(const char* text);
    void print(const __FlashStringHelper* text) { print(reinterpret_cast<const char*>(text)); }
    void print(char letter) { write(static_cast<uint8_t>(letter)); }
    void print(long number);
    void print(int number) { print(static_cast<long>(number)); }
    void print(unsigned int number) { print(static_cast<long>(number)); }
    template <class T>
    void println(T what) {
        print(what);
        print("\r\n");
    }
};
extern SerialPort Serial, Serial1;
