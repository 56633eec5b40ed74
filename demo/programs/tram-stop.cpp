// Model tram stop. At dusk the platform lamps come on; the sign follows its dimmer. Whoever
// presses the button asks the next tram to stop, and presses again when it has.
const int platformLeft = 4;
const int platformRight = 7;
const int signLamp = 5;
const int stopRequestLamp = 12;  // LOW lights it
const int requestButton = 2;     // reads LOW while it is pressed
const int duskSensor = A0;       // reads more in more light
const int dimmer = A1;

const unsigned long settle = 20;  // ms that a press must last to count

bool asked = false;
bool pressed = false;
bool seen = false;
unsigned long since = 0;
bool dark = false;

void setup() {
  Serial.begin(9600);
  pinMode(platformLeft, OUTPUT);
  pinMode(platformRight, OUTPUT);
  pinMode(signLamp, OUTPUT);
  digitalWrite(stopRequestLamp, HIGH);  // off before it is an output
  pinMode(stopRequestLamp, OUTPUT);
  pinMode(requestButton, INPUT_PULLUP);
}

// True in the moment in which the button is pressed.
bool request() {
  bool now = digitalRead(requestButton) == LOW;
  if (now != seen) {
    seen = now;
    since = millis();
  }
  if (pressed == seen || millis() - since < settle) return false;
  pressed = seen;
  return pressed;
}

void loop() {
  if (request()) {
    asked = !asked;
    Serial.println(asked ? "a tram is asked to stop" : "nobody waits");
  }
  digitalWrite(stopRequestLamp, asked ? LOW : HIGH);

  int light = analogRead(duskSensor);  // 0 to 1023
  if (light < 300) dark = true;
  if (light > 400) dark = false;
  digitalWrite(platformLeft, dark ? HIGH : LOW);
  digitalWrite(platformRight, dark ? HIGH : LOW);
  analogWrite(signLamp, analogRead(dimmer) / 4);
}
