// The moon over the stage follows its knob.
const int moonKnob = A0;
const int moon = 5;

void setup() {
  pinMode(moon, OUTPUT);
}

void loop() {
  int reading = analogRead(moonKnob);  // 0 to 1023
  analogWrite(moon, reading / 4);      // 0 to 255
  delay(10);
}
