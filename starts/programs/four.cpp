// A lamp for each door of the stable: lit while its door stands open.
const int doors[] = {2, 4, 5, 6};  // each reads LOW while its door is shut, at the magnet
const int lamps[] = {7, 8, 9, 12};

void setup() {
  for (int door : doors) pinMode(door, INPUT_PULLUP);
  for (int lamp : lamps) pinMode(lamp, OUTPUT);
}

void loop() {
  for (int i = 0; i < 4; i++) {
    bool open = digitalRead(doors[i]) == HIGH;
    digitalWrite(lamps[i], open ? HIGH : LOW);
  }
}
