// A water wheel: its turns give the flow, and when it stands still the alarm sounds.
const int waterWheel = 2;  // goes to LOW once a turn
const int alarm = 4;
const int flowLamp = 7;
const float litresPerTurn = 0.4;
const unsigned long patience = 3000;  // ms without a turn until the alarm

volatile unsigned long turns = 0;
volatile unsigned long last = 0;  // ms, when it turned last
volatile unsigned long edge = 0;  // ms, when the contact moved last

// At each edge. The contact bounces as it closes and as it opens: a turn is a closing in front
// of which it was quiet.
void moved() {
  unsigned long now = millis();
  if (digitalRead(waterWheel) == LOW && now - edge >= 5) {
    turns++;
    last = now;
  }
  edge = now;
}

void setup() {
  Serial.begin(9600);
  pinMode(waterWheel, INPUT_PULLUP);
  pinMode(alarm, OUTPUT);
  pinMode(flowLamp, OUTPUT);
  attachInterrupt(digitalPinToInterrupt(waterWheel), moved, CHANGE);
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
