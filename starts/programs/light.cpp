// The weather lamp of a greenhouse: each window's light makes one of its colours.
const int windows[] = {A0, A1, A2};  // east, roof, west
const int colours[] = {5, 6, 9};     // red, green, blue

void setup() {
  for (int colour : colours) pinMode(colour, OUTPUT);
}

void loop() {
  for (int i = 0; i < 3; i++) analogWrite(colours[i], analogRead(windows[i]) / 4);
  delay(20);
}
