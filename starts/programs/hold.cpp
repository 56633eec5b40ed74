// The spotlight gets brighter while the one button is held, and darker while the other is.
const int brighter = 0;  // both read LOW while they are held
const int darker = 1;
const int spotlight = 2;

int duty = 128;  // 0 to 255

void setup() {
  pinMode(brighter, INPUT_PULLUP);
  pinMode(darker, INPUT_PULLUP);
  pinMode(spotlight, OUTPUT);
}

void loop() {
  if (digitalRead(brighter) == LOW && duty < 255) duty++;
  if (digitalRead(darker) == LOW && duty > 0) duty--;
  analogWrite(spotlight, duty);
  delay(8);  // two seconds from one end to the other
}
