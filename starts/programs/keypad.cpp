// The cupboard opens with four keys in the right order. A wrong key locks it again, and so
// does the star.
const int rows[] = {2, 4, 5, 6};  // driven low one after the other, let go otherwise
const int columns[] = {7, 8, 9};  // read LOW while a key of the driven row is down
const char keys[] = "123456789*0#";
const int openLamp = 10;
const int lockedLamp = 12;
const char secret[] = "2580";

char down = 0;  // the key that is down
int right = 0;  // how many keys were right so far

// The key that is down; 0: none.
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

void setup() {
  for (int row : rows) pinMode(row, INPUT);
  for (int column : columns) pinMode(column, INPUT_PULLUP);
  pinMode(openLamp, OUTPUT);
  pinMode(lockedLamp, OUTPUT);
}

void loop() {
  char key = scan();
  if (key != down) {
    down = key;
    if (key != 0) right = right < 4 && key == secret[right] ? right + 1 : 0;
    delay(20);  // keys bounce
  }
  bool open = right == 4;
  digitalWrite(openLamp, open ? HIGH : LOW);
  digitalWrite(lockedLamp, open ? LOW : HIGH);
}
