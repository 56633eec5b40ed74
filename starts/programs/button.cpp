// The lamp of the hamster house is lit for as long as the bell is pushed.
const int bellPush = 4;  // reads LOW while it is pushed
const int lamp = 7;

void setup() {
  pinMode(bellPush, INPUT_PULLUP);
  pinMode(lamp, OUTPUT);
}

void loop() {
  digitalWrite(lamp, digitalRead(bellPush) == LOW ? HIGH : LOW);
}
