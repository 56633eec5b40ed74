// Model tram stop, with mistakes in the wiring and in here.
const int platformLeft = 4;
const int signLamp = 6;
const int stopRequestLamp = 1;
const int requestButton = 8;

int asked = 0;

void setup() {
  Serial.begin(9600);
  pinMode(platformLeft, OUTPUT);
  pinMode(signLamp, OUTPUT);
  pinMode(stopRequestLamp, OUTPUT);
  pinMode(requestButton, INPUT);
}

void loop() {
  digitalWrite(platformLeft, HIGH);
  digitalWrite(signLamp, HIGH);
  if (digitalRead(requestButton) == LOW) {
    asked = !asked;
  }
  digitalWrite(stopRequestLamp, asked);
  delay(60 * 1000);
}
