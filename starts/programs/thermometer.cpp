// The thermometer of a bread box: 10 mV for each degree, 500 mV at 0 °C. Above the limit the
// lamp is lit and the alarm sounds; it stops two degrees below.
const int thermometer = A0;
const int tooWarm = 4;
const int alarm = 7;
const float limit = 28;  // °C

bool warm = false;

void setup() {
  Serial.begin(9600);
  pinMode(tooWarm, OUTPUT);
  pinMode(alarm, OUTPUT);
}

void loop() {
  float volts = analogRead(thermometer) * 5.0 / 1023;
  float celsius = (volts - 0.5) * 100;
  if (celsius > limit) warm = true;
  if (celsius < limit - 2) warm = false;
  digitalWrite(tooWarm, warm ? HIGH : LOW);
  if (warm) tone(alarm, 660); else noTone(alarm);
  Serial.println(celsius, 1);
  delay(200);
}
