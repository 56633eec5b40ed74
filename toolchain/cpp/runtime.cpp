// What stands behind program.h inside the program's memory.
#include "program.h"

Page page_;
SerialLink Serial;
void (*handlers_[PINS_])();

extern "C" {
void __wasm_call_ctors();
__attribute__((export_name("page"))) Page *the_page() { return &page_; }
__attribute__((export_name("run"))) void run() {
  __wasm_call_ctors();
  setup();
  for (;;) {
    loop();
    if (!page_.rounds--) board_round();
  }
}
__attribute__((export_name("interrupt"))) void interrupt(int number) {
  if (handlers_[number]) handlers_[number]();
}
// Each basic block of the program calls this: so every loop takes time, and ends.
__attribute__((always_inline)) void __sanitizer_cov_trace_pc() {
  if (__builtin_expect((page_.now += page_.block) >= page_.next, 0)) board_sync(0);
}
int __cxa_atexit(void *, void *, void *) { return 0; }
int __cxa_guard_acquire(uint64_t *guard) { return !*(char *)guard; }
void __cxa_guard_release(uint64_t *guard) { *(char *)guard = 1; }
void __cxa_pure_virtual() { __builtin_trap(); }
}

static void *memory(size_t n) {
  void *p = malloc(n ? n : 1);
  if (!p) board_fault("memory", 0, 0, n, 0);
  return p;
}
void *operator new(size_t n) { return memory(n); }
void *operator new[](size_t n) { return memory(n); }
void operator delete(void *p) noexcept { free(p); }
void operator delete[](void *p) noexcept { free(p); }
void operator delete(void *p, size_t) noexcept { free(p); }
void operator delete[](void *p, size_t) noexcept { free(p); }

// What the compiler's checks of arithmetic call. The first argument of each begins with
// the file, the line and the column.
struct Where {
  const char *file;
  uint32_t line, column;
};
#define CHECK(name, what, args, a, b) \
  extern "C" void __ubsan_handle_##name args { board_fault(what, w->line, w->column, a, b); }
CHECK(out_of_bounds, "bounds", (Where * w, size_t i), i, 0)
CHECK(divrem_overflow, "division", (Where * w, size_t a, size_t b), a, b)
CHECK(shift_out_of_bounds, "shift", (Where * w, size_t a, size_t b), a, b)
CHECK(add_overflow, "overflow", (Where * w, size_t a, size_t b), a, b)
CHECK(sub_overflow, "overflow", (Where * w, size_t a, size_t b), a, b)
CHECK(mul_overflow, "overflow", (Where * w, size_t a, size_t b), a, b)
CHECK(negate_overflow, "overflow", (Where * w, size_t a), a, 0)
CHECK(implicit_conversion, "conversion", (Where * w, size_t a, size_t b), a, b)
CHECK(missing_return, "return", (Where * w), 0, 0)
CHECK(type_mismatch_v1, "null", (Where * w, size_t), 0, 0)

char *dtostrf(double value, int width, int digits, char *text) {
  sprintf(text, "%*.*f", width, digits, value);
  return text;
}
char *ultoa(unsigned long value, char *text, int base) {
  char *end = text;
  do *end++ = "0123456789abcdefghijklmnopqrstuvwxyz"[value % base];
  while (value /= base);
  *end = 0;
  for (char *a = text, *b = end - 1; a < b; a++, b--) {
    char c = *a;
    *a = *b, *b = c;
  }
  return text;
}
char *ltoa(long value, char *text, int base) {
  if (base != 10 || value >= 0) return ultoa(value, text, base);
  *text = '-';
  ultoa(-(unsigned long)value, text + 1, base);
  return text;
}
char *itoa(int value, char *text, int base) { return ltoa(value, text, base); }
char *utoa(unsigned value, char *text, int base) { return ultoa(value, text, base); }

void shiftOut(int data, int clock, int order, int value, At at) {
  for (int i = 0; i < 8; i++) {
    digitalWrite(data, value >> (order == LSBFIRST ? i : 7 - i) & 1, at);
    digitalWrite(clock, HIGH, at);
    digitalWrite(clock, LOW, at);
  }
}
uint8_t shiftIn(int data, int clock, int order, At at) {
  uint8_t value = 0;
  for (int i = 0; i < 8; i++) {
    digitalWrite(clock, HIGH, at);
    value |= digitalRead(data, at) << (order == LSBFIRST ? i : 7 - i);
    digitalWrite(clock, LOW, at);
  }
  return value;
}
// With a range of nothing real boards divide by nothing; here too, and it is told.
long map(long x, long fromLow, long fromHigh, long toLow, long toHigh) {
  if (fromHigh == fromLow) return board_fault("map", 0, 0, 0, 0), -1;
  return (x - fromLow) * (toHigh - toLow) / (fromHigh - fromLow) + toLow;
}
// The minimal standard generator of Park and Miller (1988), as the C library of 8-bit boards has it.
static uint32_t seed = 1;
static uint32_t draw() { return seed = (uint64_t)seed * 16807 % 2147483647; }
void randomSeed(unsigned long s) { if (s) seed = s % 2147483647 ? s % 2147483647 : 1; }
long random(long below) { return below > 0 ? draw() % below : 0; }
long random(long from, long below) { return from >= below ? from : from + random(below - from); }

void String::set(const char *from, unsigned length) {
  char *fresh = (char *)memory(length + 1);
  memmove(fresh, from, length);
  fresh[length] = 0;
  free(text);
  text = fresh, size = length;
}
void String::number(unsigned long value, bool minus, int base) {
  char room[36], *at = room + sizeof room;
  if (base < 2 || base > 36) base = 10;
  do *--at = "0123456789abcdefghijklmnopqrstuvwxyz"[value % base];
  while (value /= base);
  if (minus) *--at = '-';
  set(at, room + sizeof room - at);
}
String::String(const char *from) { set(from ? from : "", from ? strlen(from) : 0); }
String::String(const String &other) { set(other.c_str(), other.size); }
String::String(char c) { set(&c, 1); }
String::String(long value, int base) { base == 10 && value < 0 ? number(-(unsigned long)value, true, base) : number((unsigned long)value, false, base); }
String::String(unsigned long value, int base) { number(value, false, base); }
String::String(double value, int digits) {
  char room[80];
  int n = 0;
  const char *odd = value != value ? "nan" : value - value != 0 ? "inf" : value > 4294967040.0 || value < -4294967040.0 ? "ovf" : nullptr;
  if (odd) {
    set(odd, 3);
    return;
  }
  if (value < 0) room[n++] = '-', value = -value;
  double half = 0.5;
  for (int i = 0; i < digits; i++) half /= 10;
  value += half;
  String whole((unsigned long)value);
  memcpy(room + n, whole.c_str(), whole.length());
  n += whole.length();
  value -= (unsigned long)value;
  if (digits > 0) room[n++] = '.';
  for (; digits > 0 && n < 70; digits--) {
    value *= 10;
    room[n++] = '0' + (int)value;
    value -= (int)value;
  }
  set(room, n);
}
String::~String() { free(text); }
String &String::operator=(const String &other) {
  if (this != &other) set(other.c_str(), other.size);
  return *this;
}
String &String::operator+=(const String &other) {
  unsigned length = size + other.size;
  char *fresh = (char *)memory(length + 1);
  memcpy(fresh, c_str(), size);
  memcpy(fresh + size, other.c_str(), other.size + 1);
  free(text);
  text = fresh, size = length;
  return *this;
}
char &String::operator[](unsigned i) {
  static char nowhere;
  if (i < size) return text[i];
  nowhere = 0;
  return nowhere;
}
String operator+(const String &a, const String &b) {
  String sum(a);
  sum += b;
  return sum;
}
int String::indexOf(const String &what, unsigned from) const {
  if (from > size) return -1;
  const char *at = strstr(c_str() + from, what.c_str());
  return at ? at - c_str() : -1;
}
int String::lastIndexOf(const String &what) const {
  for (int i = (int)size - (int)what.size; i >= 0; i--)
    if (strncmp(c_str() + i, what.c_str(), what.size) == 0) return i;
  return -1;
}
String String::substring(unsigned from, unsigned to) const {
  String part;
  if (from > to) { unsigned t = from; from = to, to = t; }
  if (to > size) to = size;
  if (from < to) part.set(text + from, to - from);
  return part;
}
void String::replace(const String &what, const String &with) {
  if (!what.size) return;
  String out;
  unsigned from = 0;
  for (int at; (at = indexOf(what, from)) >= 0; from = at + what.size) out += substring(from, at) + with;
  *this = out + substring(from);
}
void String::remove(unsigned from, unsigned count) {
  if (from >= size) return;
  if (count > size - from) count = size - from;
  *this = substring(0, from) + substring(from + count);
}
void String::trim() {
  unsigned from = 0, to = size;
  while (from < to && isspace(text[from])) from++;
  while (to > from && isspace(text[to - 1])) to--;
  String kept;
  if (from < to) kept.set(text + from, to - from);
  *this = kept;
}
void String::toUpperCase() { for (unsigned i = 0; i < size; i++) text[i] = toupper(text[i]); }
void String::toLowerCase() { for (unsigned i = 0; i < size; i++) text[i] = tolower(text[i]); }
void String::toCharArray(char *into, unsigned room) const {
  if (!room) return;
  unsigned n = size < room - 1 ? size : room - 1;
  memcpy(into, c_str(), n);
  into[n] = 0;
}

// The next character, for which it waits as long as the link's timeout; -1: none came.
int SerialLink::next(bool take, At at) {
  for (unsigned long since = millis(at); !board_available(at.line);) {
    if (millis(at) - since >= timeout) return -1;
    board_pause(1000, at.line);
  }
  return board_receive(take, at.line);
}
long SerialLink::parseInt(At at) {
  int c;
  while ((c = next(false, at)) >= 0 && c != '-' && !isdigit(c)) board_receive(1, at.line);
  bool minus = c == '-';
  if (minus) board_receive(1, at.line);
  long value = 0;
  while ((c = next(false, at)) >= 0 && isdigit(c)) value = value * 10 + (board_receive(1, at.line) - '0');
  return minus ? -value : value;
}
float SerialLink::parseFloat(At at) {
  String text;
  int c;
  while ((c = next(false, at)) >= 0 && c != '-' && c != '.' && !isdigit(c)) board_receive(1, at.line);
  while ((c = next(false, at)) >= 0 && (c == '-' || c == '.' || isdigit(c))) text += (char)board_receive(1, at.line);
  return text.toFloat();
}
String SerialLink::readString(At at) {
  String text;
  for (int c; (c = next(true, at)) >= 0;) text += (char)c;
  return text;
}
String SerialLink::readStringUntil(char end, At at) {
  String text;
  for (int c; (c = next(true, at)) >= 0 && c != end;) text += (char)c;
  return text;
}
size_t SerialLink::readBytes(char *into, size_t length, At at) {
  size_t n = 0;
  for (int c; n < length && (c = next(true, at)) >= 0;) into[n++] = c;
  return n;
}
size_t SerialLink::readBytesUntil(char end, char *into, size_t length, At at) {
  size_t n = 0;
  for (int c; n < length && (c = next(true, at)) >= 0 && c != end;) into[n++] = c;
  return n;
}
