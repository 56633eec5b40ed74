// A firefly in a jar: half a second of light, a second and a half of dark.
const int firefly = 4;

void setup() {
  pinMode(firefly, OUTPUT);
}

void loop() {
  digitalWrite(firefly, HIGH);
  delay(500);
  digitalWrite(firefly, LOW);
  delay(1500);
}
