// Answers questions about the pins of this board, a line each: docs/link.md has the grammar.
// All pins are let go at the beginning, and when nobody has asked for a second. What is driven
// is let go after 50 milliseconds.

const int pins[] = {{"{"}}{{range $i, $p := .Pins}}{{if $i}}, {{end}}{{$p.Code}}{{end}}{{"}"}};
const int count = {{len .Pins}};
const int converters[] = {{"{"}}{{range $i, $p := .Analog}}{{if $i}}, {{end}}{{$p.Code}}{{end}}{{"}"}};
const int converterCount = {{len .Analog}};

char line[40];
int length = 0;
unsigned long heard = 0;
int driven = -1;
unsigned long drivenSince = 0;

void letGo(int pin) {
  pinMode(pin, INPUT);
  if (driven == pin) driven = -1;
}

void letAllGo() {
  for (int i = 0; i < count; i++) letGo(pins[i]);
}

void setup() {
  letAllGo();
  Serial.begin(115200);
}

void loop() {
  while (Serial.available() > 0) {
    char c = Serial.read();
    heard = millis();
    if (c == '\n') {
      line[length] = 0;
      answer();
      length = 0;
    } else if (length < 39) {
      line[length] = c;
      length = length + 1;
    }
  }
  if (driven >= 0 && millis() - drivenSince >= 50) letGo(driven);
  if (millis() - heard >= 1000) {
    letAllGo();
    heard = millis();
  }
}

// next is where the next word begins; what is before it is cut off.
char *next(char *at) {
  while (*at != 0 && *at != ' ') at++;
  if (*at == ' ') {
    *at = 0;
    at++;
  }
  return at;
}

bool is(const char *a, const char *b) {
  while (*a != 0 && *a == *b) {
    a++;
    b++;
  }
  return *a == *b;
}

int numberOf(const char *text) {
  int n = 0;
  if (*text == 0) return -1;
  for (; *text != 0; text++) {
    if (*text < '0' || *text > '9' || n > 999) return -1;
    n = n * 10 + (*text - '0');
  }
  return n;
}

bool among(const int *list, int size, int pin) {
  for (int i = 0; i < size; i++) {
    if (list[i] == pin) return true;
  }
  return false;
}

void answer() {
  char *command = next(line);
  char *word = next(command);
  next(word);
  int pin = numberOf(word);
  Serial.print(line);
  Serial.print(' ');
  if (is(command, "who")) {
    Serial.println("probe 1 {{.Board}} {{.Full}}");
  } else if (is(command, "levels")) {
    for (int i = 0; i < count; i++) Serial.print(digitalRead(pins[i]) == HIGH ? '1' : '0');
    Serial.println();
  } else if (is(command, "analog")) {
    if (!among(converters, converterCount, pin)) return wrong("no analog pin");
    Serial.println(analogRead(pin));
  } else if (!among(pins, count, pin)) {
    wrong("no such pin or question");
  } else if (is(command, "read")) {
    Serial.println(digitalRead(pin) == HIGH ? '1' : '0');
  } else if (is(command, "free")) {
    letGo(pin);
    Serial.println("ok");
  } else if (is(command, "up")) {
    letGo(pin);
    pinMode(pin, INPUT_PULLUP);
    Serial.println("ok");
{{- if .PullsDown}}
  } else if (is(command, "down")) {
    letGo(pin);
    pinMode(pin, INPUT_PULLDOWN);
    Serial.println("ok");
{{- end}}
  } else if (is(command, "high") || is(command, "low")) {
    if (driven >= 0) letGo(driven);
    digitalWrite(pin, command[0] == 'h' ? HIGH : LOW);
    pinMode(pin, OUTPUT);
    driven = pin;
    drivenSince = millis();
    Serial.println("ok");
  } else {
    wrong("no such question");
  }
}

void wrong(const char *why) {
  Serial.print("! ");
  Serial.println(why);
}
