// Quiz table, with mistakes in the wiring and in here.
const int buttons[] = {14, 15, 16, 17};
const int lamps[] = {22, 23, 24, 25};
const int rows[] = {26, 27, 28, 29};
const int columns[] = {30, 31, 32};
const int data = 33;
const int clock = 34;
const int latch = 35;

void setup() {
  for (int i = 0; i < 3; i++) pinMode(buttons[i], INPUT_PULLUP);
  for (int lamp : lamps) pinMode(lamp, OUTPUT);
  for (int row : rows) {
    pinMode(row, OUTPUT);
    digitalWrite(row, HIGH);
  }
  for (int column : columns) pinMode(column, INPUT_PULLUP);
  pinMode(data, OUTPUT);
  pinMode(clock, OUTPUT);
  pinMode(latch, OUTPUT);
}

void loop() {
  for (int team = 0; team <= 4; team++) {
    if (digitalRead(buttons[team]) == LOW) digitalWrite(lamps[team], HIGH);
  }
  for (int row : rows) {
    digitalWrite(row, LOW);
    if (digitalRead(columns[0]) == LOW) {
      for (int lamp : lamps) digitalWrite(lamp, LOW);
    }
    digitalWrite(row, HIGH);
  }
  shiftOut(data, clock, MSBFIRST, 0);
  digitalWrite(latch, HIGH);
  digitalWrite(latch, LOW);
}
