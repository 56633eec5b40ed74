#include <Servo.h>

const int trigger = 7;  // ten microseconds high ask how far away something is
const int echo = 8;     // high for 58.3 microseconds for each centimetre
const int signal = 9;
const int goLamp = 4;

Servo barrier;
bool open = false;

void setup() {
  pinMode(trigger, OUTPUT);
  pinMode(echo, INPUT);
  pinMode(goLamp, OUTPUT);
  barrier.attach(signal);
  barrier.write(0);
}

// The distance in centimetres; far away where nothing comes back.
float distance() {
  digitalWrite(trigger, HIGH);
  delayMicroseconds(10);
  digitalWrite(trigger, LOW);
  unsigned long us = pulseIn(echo, HIGH, 30000);
  return us == 0 ? 400 : us / 58.3;
}

void loop() {
  float cm = distance();
  if (cm < 18) open = true;
  if (cm > 22) open = false;  // between the two it stays as it is, and does not tremble
  barrier.write(open ? 90 : 0);
  digitalWrite(goLamp, open ? HIGH : LOW);
  delay(60);  // until the last echo has died away
}
