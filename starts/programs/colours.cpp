// The sky over the stage: a knob for each of its colours.
const int knobs[] = {A0, A1, A2};  // red, green, blue
const int sky[] = {5, 6, 9};

void setup() {
  for (int colour : sky) pinMode(colour, OUTPUT);
}

void loop() {
  for (int i = 0; i < 3; i++) analogWrite(sky[i], analogRead(knobs[i]) / 4);
  delay(10);
}
