// What is kept without power, a byte at each of 1024 places; each was never written at first, and is 255. The
// calls are the usual ones of their kind.
#pragma once
#include "program.h"

enum { E2END = 1023 };

class EEPROMClass {
  // To write a place takes 3.3 ms (from memory: what data sheets of 8-bit chips say).
  static void keep_(int place, uint8_t value, At at) {
    if (!there_(place, at)) return;
    spend_(3300000, at);
    board_keep(place, value);
  }
  static bool there_(int place, At at) {
    if ((unsigned)place <= E2END) return true;
    board_fault("bounds", at.line, 0, place, E2END + 1);
    return false;
  }

public:
  struct Place {
    int at;
    operator uint8_t() const { return board_kept(at); }
    const Place &operator=(uint8_t value) const { return keep_(at, value, At(0)), *this; }
    const Place &operator=(const Place &other) const { return *this = (uint8_t)other; }
  };
  uint8_t read(int place, AT) { return there_(place, at_) ? board_kept(place) : 255; }
  void write(int place, uint8_t value, AT) { keep_(place, value, at_); }
  void update(int place, uint8_t value, AT) {
    if (read(place, at_) != value) write(place, value, at_);
  }
  Place operator[](int place) { return {place}; }
  template <class T> T &get(int place, T &value, AT) {
    for (size_t i = 0; i < sizeof(T); i++) ((uint8_t *)&value)[i] = read(place + (int)i, at_);
    return value;
  }
  template <class T> const T &put(int place, const T &value, AT) {
    for (size_t i = 0; i < sizeof(T); i++) update(place + (int)i, ((const uint8_t *)&value)[i], at_);
    return value;
  }
  uint16_t length() const { return E2END + 1; }
  bool begin(size_t = E2END + 1) { return true; }
  bool commit() { return true; }
  void end() {}
};
static EEPROMClass EEPROM __attribute__((unused));
