// Servos: each gets a pulse fifty times a second, whose length says where its arm is to go. The calls are
// the usual ones of their kind.
#pragma once
#include "program.h"

class Servo {
  int pin_ = -1, least_ = 544, most_ = 2400, us_ = 1500;

public:
  uint8_t attach(int pin, int least = 544, int most = 2400, AT) {
    pin_ = pin, least_ = least, most_ = most;
    board_steer(pin_, us_, at_.line);
    return 1;
  }
  void detach(AT) {
    if (pin_ >= 0) board_steer(pin_, 0, at_.line);
    pin_ = -1;
  }
  bool attached() const { return pin_ >= 0; }
  // Values below the shortest pulse are degrees, as usual (from memory); others are microseconds.
  void write(int angle, AT) {
    if (angle >= least_) return writeMicroseconds(angle, at_);
    if (angle < 0 || angle > 180) board_fault("angle", at_.line, 0, angle, 180);
    if (angle < 0) angle = 0;
    if (angle > 180) angle = 180;
    writeMicroseconds(least_ + (long)(most_ - least_) * angle / 180, at_);
  }
  void writeMicroseconds(int us, AT) {
    us_ = us < least_ ? least_ : us > most_ ? most_ : us;
    if (pin_ >= 0) board_steer(pin_, us_, at_.line);
  }
  int read() const { return (int)(((long)(us_ - least_) * 180 + (most_ - least_) / 2) / (most_ - least_)); }
  int readMicroseconds() const { return us_; }
};
