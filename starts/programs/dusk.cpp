// A lamp at the bird table comes on at dusk. Between the two limits it stays as it is, so
// that its own light, or a cloud, does not make it flicker.
const int duskSensor = 26;  // reads more in more light
const int lamp = 1;
const int dark = 300;   // below it the lamp comes on
const int bright = 450;  // above it the lamp goes off

bool lit = false;

void setup() {
  pinMode(lamp, OUTPUT);
}

void loop() {
  int light = analogRead(duskSensor);  // 0 to 1023
  if (light < dark) lit = true;
  if (light > bright) lit = false;
  digitalWrite(lamp, lit ? HIGH : LOW);
  delay(50);
}
