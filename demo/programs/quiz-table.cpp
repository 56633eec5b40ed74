// Quiz table. The first team that presses has its lamp lit; the host's keys free the table
// (any number) and count the right answers (#) on the score register.
const int buttons[] = {14, 15, 16, 17};  // each reads LOW while it is pressed
const int lamps[] = {22, 23, 24, 25};    // one at a time: they share a resistor
const int rows[] = {26, 27, 28, 29};     // driven low one after the other, let go otherwise
const int columns[] = {30, 31, 32};      // read LOW while a key of the driven row is down
const char keys[] = "123456789*0#";
const int data = 33;
const int clock = 34;
const int latch = 35;

int first = -1;  // the team that was first; −1: nobody yet
int right = 0;   // right answers so far, at most eight
char down = 0;   // the host's key that is down

void setup() {
  for (int button : buttons) pinMode(button, INPUT_PULLUP);
  for (int lamp : lamps) pinMode(lamp, OUTPUT);
  for (int row : rows) pinMode(row, INPUT);
  for (int column : columns) pinMode(column, INPUT_PULLUP);
  pinMode(data, OUTPUT);
  pinMode(clock, OUTPUT);
  pinMode(latch, OUTPUT);
  score();
}

// Lights as many score lamps as there were right answers.
void score() {
  digitalWrite(latch, LOW);
  shiftOut(data, clock, MSBFIRST, (1 << right) - 1);
  digitalWrite(latch, HIGH);
}

// The host's key that is down; 0: none.
char scan() {
  char key = 0;
  for (int r = 0; r < 4; r++) {
    pinMode(rows[r], OUTPUT);
    digitalWrite(rows[r], LOW);
    for (int c = 0; c < 3; c++)
      if (digitalRead(columns[c]) == LOW) key = keys[r * 3 + c];
    pinMode(rows[r], INPUT);
  }
  return key;
}

void loop() {
  for (int team = 0; team < 4 && first < 0; team++) {
    if (digitalRead(buttons[team]) == LOW) {
      first = team;
      digitalWrite(lamps[team], HIGH);
    }
  }
  char key = scan();
  if (key == down) return;
  down = key;
  delay(20);  // keys bounce
  if (key == 0) return;
  if (key == '#' && first >= 0 && right < 8) right++;
  if (key == '*') right = 0;
  score();
  for (int lamp : lamps) digitalWrite(lamp, LOW);
  first = -1;
}
