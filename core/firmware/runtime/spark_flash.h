// How a field of a table is read where tables stand in flash that a plain pointer doesn't reach: on the AVR chips. Comes before the others;
// on other chips it says nothing, and a field is read as it is.
#ifndef SPARK_FLASH_H
#define SPARK_FLASH_H
#include <stdint.h>
#ifdef __AVR__

namespace spark {

template <class T, class Bits> T asField(Bits bits) {
  union {
    Bits bits;
    T value;
  } both = {bits};
  return both.value;
}

// By its size: one, two or four bytes.
template <class T, unsigned size> struct Flash;
template <class T> struct Flash<T, 1> {
  static T read(const T* at) { return static_cast<T>(pgm_read_byte(at)); }
};
template <class T> struct Flash<T, 2> {
  static T read(const T* at) { return asField<T, uint16_t>(pgm_read_word(at)); }
};
template <class T> struct Flash<T, 4> {
  static T read(const T* at) { return asField<T, uint32_t>(pgm_read_dword(at)); }
};
template <class T> inline T fromFlash(const T& field) { return Flash<T, sizeof(T)>::read(&field); }

}  // namespace spark
#define SPARK_READ(field) spark::fromFlash(field)
#define SPARK_IN_FLASH __attribute__((__progmem__))

#endif
#endif
