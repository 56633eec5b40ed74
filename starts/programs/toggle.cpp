// Press on, press off. The contact bounces, so a press counts once it has lasted.
const int button = 4;  // reads LOW while it is pressed
const int readingLamp = 7;
const unsigned long settle = 20;  // ms

bool lit = false;
bool pressed = false;      // what counts
bool seen = false;         // what was read last
unsigned long since = 0;   // when that began

void setup() {
  pinMode(button, INPUT_PULLUP);
  pinMode(readingLamp, OUTPUT);
}

void loop() {
  bool now = digitalRead(button) == LOW;
  if (now != seen) {
    seen = now;
    since = millis();
  }
  if (pressed != seen && millis() - since >= settle) {
    pressed = seen;
    if (pressed) lit = !lit;
  }
  digitalWrite(readingLamp, lit ? HIGH : LOW);
}
