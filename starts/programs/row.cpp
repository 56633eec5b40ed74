// Runway lights: one lamp after another, towards the end of the runway.
const int lamps[] = {2, 4, 5, 7, 8, 12};
const int count = 6;

void setup() {
  for (int lamp : lamps) pinMode(lamp, OUTPUT);
}

void loop() {
  for (int i = 0; i < count; i++) {
    digitalWrite(lamps[i], HIGH);
    delay(150);
    digitalWrite(lamps[i], LOW);
  }
}
