#include <Servo.h>

const int stickX = A0;    // 0 at the left, 1023 at the right
const int stickY = A1;    // 0 at the front, 1023 at the back
const int stickPush = 2;  // LOW when it is pressed
const int signal = 9;
const int hookLamp = 6;
const int bell = 8;

Servo boom;

void setup() {
  pinMode(stickPush, INPUT_PULLUP);
  pinMode(hookLamp, OUTPUT);
  pinMode(bell, OUTPUT);
  boom.attach(signal);
}

void loop() {
  boom.write(map(analogRead(stickX), 0, 1023, 0, 180));
  analogWrite(hookLamp, map(analogRead(stickY), 0, 1023, 0, 255));
  if (digitalRead(stickPush) == LOW) {
    tone(bell, 880);
  } else {
    noTone(bell);
  }
  delay(10);
}
