// The little of the sketch API that an emitted sketch uses, on an ATtiny85 at 8 MHz: there is no core for it in Debian. Timer 0 keeps the
// time and makes the PWM of PB0 and PB1, 488 Hz. There is no link: the chip has no serial port.
#pragma once
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/pgmspace.h>
#include <stdint.h>
#include <util/delay.h>

enum { LOW = 0, HIGH = 1, INPUT = 0, OUTPUT = 1, INPUT_PULLUP = 2, FALLING = 2, RISING = 3 };

inline void noInterrupts() {
    cli();
}
inline void interrupts() {
    sei();
}
// Pins by their bit of port B.
inline void digitalWrite(uint8_t pin, uint8_t level) {
    if (level == LOW) PORTB &= ~_BV(pin);
    else PORTB |= _BV(pin);
}
inline int digitalRead(uint8_t pin) {
    return PINB >> pin & 1;
}
inline void pinMode(uint8_t pin, uint8_t mode) {
    if (mode == OUTPUT) DDRB |= _BV(pin);
    else DDRB &= ~_BV(pin);
    if (mode == INPUT_PULLUP) PORTB |= _BV(pin);
}

inline void delayMicroseconds(unsigned int us) {
    for (; us > 0; --us) _delay_us(1);
}

// 8 MHz over 64: a count of 8 us, round in 2048 us.
volatile uint32_t rounds = 0;
ISR(TIMER0_OVF_vect) {
    ++rounds;
}
unsigned long micros() {
    uint8_t sreg = SREG;
    cli();
    uint32_t whole = rounds;
    uint8_t count = TCNT0;
    if ((TIFR & _BV(TOV0)) && count < 255) ++whole;
    SREG = sreg;
    return (whole << 8 | count) * 8;
}

// The one interrupt of a pin, PB2's.
void (*onPin)() = 0;
inline int digitalPinToInterrupt(uint8_t) {
    return 0;
}
inline void attachInterrupt(int, void (*handler)(), int edge) {
    onPin = handler;
    MCUCR = (MCUCR & ~(_BV(ISC00) | _BV(ISC01))) | edge;
    GIMSK |= _BV(INT0);
}
ISR(INT0_vect) {
    if (onPin) onPin();
}

void setup();
void loop();
int main() {
    TCCR0A = _BV(WGM00) | _BV(WGM01);
    TCCR0B = _BV(CS01) | _BV(CS00);
    TIMSK |= _BV(TOIE0);
    ADCSRA = _BV(ADEN) | _BV(ADPS2) | _BV(ADPS1);  // 125 kHz
    sei();
    setup();
    for (;;) loop();
}
