// A water wheel: its turns give the flow, and when it stands still the alarm sounds.
const int waterWheel = 2;  // goes to LOW once a turn
const int alarm = 4;
const int flowLamp = 7;
const float litresPerTurn = 0.4;
const unsigned long patience = 3000;  // ms without a turn until the alarm

volatile unsigned long turns = 0;
volatile unsigned long last = 0;  // ms

void turned() {
  if (millis() - last < 2) return;  // the contact bounces
  last = millis();
  turns++;
}

void setup() {
  Serial.begin(9600);
  pinMode(waterWheel, INPUT_PULLUP);
  pinMode(alarm, OUTPUT);
  pinMode(flowLamp, OUTPUT);
  attachInterrupt(digitalPinToInterrupt(waterWheel), turned, FALLING);
}

void loop() {
  static unsigned long told = 0;
  noInterrupts();
  unsigned long since = millis() - last;
  interrupts();
  bool flows = since < patience;
  digitalWrite(flowLamp, flows ? HIGH : LOW);
  if (flows) noTone(alarm); else tone(alarm, 880);
  if (millis() - told >= 1000) {
    told += 1000;
    noInterrupts();
    unsigned long counted = turns;
    turns = 0;
    interrupts();
    Serial.print(counted * litresPerTurn * 60);
    Serial.println(" litres a minute");
  }
}
