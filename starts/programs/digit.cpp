// The number that is served at the toy post office: each press of the button is the next one,
// and after nine it begins again.
const int next = 4;  // reads LOW while it is pressed
const int bars[] = {2, 5, 6, 7, 8, 9, 10, 12};  // a to g, and the point

// The figures 0 to 9: a bit for each bar, the lowest for a.
const byte figures[] = {0x3f, 0x06, 0x5b, 0x4f, 0x66, 0x6d, 0x7d, 0x07, 0x7f, 0x6f};

int number = 0;
bool pressed = false;

void show(int n) {
  for (int bar = 0; bar < 8; bar++) digitalWrite(bars[bar], figures[n] >> bar & 1 ? HIGH : LOW);
}

void setup() {
  pinMode(next, INPUT_PULLUP);
  for (int bar : bars) pinMode(bar, OUTPUT);
  show(number);
}

void loop() {
  bool now = digitalRead(next) == LOW;
  if (now == pressed) return;
  pressed = now;
  delay(20);  // the contact bounces
  if (!pressed) return;
  number = (number + 1) % 10;
  show(number);
}
