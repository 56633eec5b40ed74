// A score board: red points on the first eight lamps, green ones on the next. Here both
// teams score until one has eight.
const int data = 0;
const int clock = 1;
const int latch = 2;

// Lights as many lamps of each team as it has points.
void show(int red, int green) {
  digitalWrite(latch, LOW);
  shiftOut(data, clock, MSBFIRST, (1 << green) - 1);  // goes on to the second register
  shiftOut(data, clock, MSBFIRST, (1 << red) - 1);
  digitalWrite(latch, HIGH);  // all lamps change at once
}

void setup() {
  pinMode(data, OUTPUT);
  pinMode(clock, OUTPUT);
  pinMode(latch, OUTPUT);
  show(0, 0);  // at power-up a register holds anything
}

void loop() {
  int red = 0;
  int green = 0;
  while (red < 8 && green < 8) {
    if (random(2) == 0) red++; else green++;
    show(red, green);
    delay(400);
  }
  delay(2000);
  show(0, 0);
  delay(500);
}
