// What a program may use: the calls that programs with setup and loop are written with.
//
// Each call knows its line by a last argument that nobody gives (At::here). What costs
// little stays in the program's memory: the page holds the time, the time of the next thing
// that happens outside, and what the pins read, so that a loop that polls a pin seldom calls
// the host. Implemented in runtime.cpp; the host's side is cablaggio/core/running/machine.
#pragma once
// Wherever it is named by its whole path: what it does is not the builder's to be warned of.
#pragma GCC system_header
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __wasm__
#define HOST(name) __attribute__((import_module("board"), import_name(name)))
#else
#define HOST(name)
#endif

struct At {
  int line;
  explicit constexpr At(int n) : line(n) {}
  static constexpr At here(int n = __builtin_LINE()) { return At(n); }
};
#define AT At at_ = At::here()

// The page that both sides know. machine.Page has the same layout.
enum { PINS_ = 80 };
struct Page {
  uint64_t now, next;                                // ns
  uint32_t block, write, read, clock;                // what things cost, ns
  uint8_t level[PINS_];                              // what each pin reads
  uint8_t out[PINS_];                                // 2 + level of a plain output
  uint64_t reads[PINS_], writes[PINS_];              // lines that were told, by their last six bits
  uint32_t rounds;                                   // of loop until the board looks whether they are all alike
  uint32_t millis, micros;                           // how often the time was asked for
};

extern "C" {
extern Page page_;
HOST("sync") void board_sync(int line);
HOST("round") void board_round();
HOST("mode") void board_mode(int pin, int mode, int line);
HOST("write") void board_write(int pin, int level, int line);
HOST("read") int board_read(int pin, int line);
HOST("analog") int board_analog(int pin, int line);
HOST("duty") void board_duty(int pin, int duty, int line);
HOST("bits") void board_bits(int read, int write, int line);
HOST("pause") void board_pause(double us, int line);
HOST("steer") void board_steer(int pin, double us, int line);
HOST("tone") void board_tone(int pin, double hertz, double ms, int line);
HOST("attach") void board_attach(int number, int mode, int line);
HOST("quiet") void board_quiet(int quiet, int line);
HOST("begin") void board_begin(double rate, int line);
HOST("print") void board_print(const char *text, int length, int line);
HOST("available") int board_available(int line);
HOST("receive") int board_receive(int take, int line);
HOST("pulse") double board_pulse(int pin, int level, double timeout, int line);
HOST("wrapped") void board_wrapped(int exact, int kept, int line);
HOST("keep") void board_keep(int place, int value);
HOST("kept") int board_kept(int place);
HOST("fault") void board_fault(const char *what, int line, int column, int a, int b);

void *memcpy(void *, const void *, size_t);
void *memmove(void *, const void *, size_t);
void *memset(void *, int, size_t);
int memcmp(const void *, const void *, size_t);
size_t strlen(const char *);
int strcmp(const char *, const char *);
int strncmp(const char *, const char *, size_t);
int strcasecmp(const char *, const char *);
char *strcpy(char *, const char *);
char *strncpy(char *, const char *, size_t);
char *strcat(char *, const char *);
char *strncat(char *, const char *, size_t);
char *strchr(const char *, int);
char *strrchr(const char *, int);
char *strstr(const char *, const char *);
char *strtok(char *, const char *);
int atoi(const char *);
long atol(const char *);
double atof(const char *);
long strtol(const char *, char **, int);
int snprintf(char *, size_t, const char *, ...) __attribute__((format(printf, 3, 4)));
int vsnprintf(char *, size_t, const char *, __builtin_va_list);
int sprintf(char *, const char *, ...) __attribute__((format(printf, 2, 3)));
int sscanf(const char *, const char *, ...) __attribute__((format(scanf, 2, 3)));
void *malloc(size_t);
void *calloc(size_t, size_t);
void *realloc(void *, size_t);
void free(void *);
double sin(double), cos(double), tan(double), asin(double), acos(double), atan(double), atan2(double, double);
double sqrt(double), cbrt(double), pow(double, double), exp(double), log(double), log10(double), log2(double);
double floor(double), ceil(double), trunc(double), fabs(double), fmod(double, double), hypot(double, double);
float sinf(float), cosf(float), sqrtf(float), powf(float, float), expf(float), logf(float), floorf(float), ceilf(float), fabsf(float), fmodf(float, float);
double fmin(double, double), fmax(double, double);
long lround(double);
int isalpha(int), isdigit(int), isalnum(int), isspace(int), isupper(int), islower(int), isprint(int), ispunct(int), isxdigit(int), toupper(int), tolower(int);
}

#if __SIZEOF_INT__ > 2  // small boards have none
namespace std {
template <class T> class initializer_list {
  const T *from = nullptr;
  size_t count = 0;

public:
  constexpr initializer_list() {}
  constexpr initializer_list(const T *begin, size_t size) : from(begin), count(size) {}
  constexpr size_t size() const { return count; }
  constexpr const T *begin() const { return from; }
  constexpr const T *end() const { return from + count; }
};
}
#endif
typedef uint8_t byte;
typedef bool boolean;
typedef uint16_t word;
typedef char __FlashStringHelper;

enum : uint8_t { LOW = 0, HIGH = 1 };
enum { INPUT = 0, OUTPUT = 1, INPUT_PULLUP = 2, INPUT_PULLDOWN = 3 };
enum { CHANGE = 1, FALLING = 2, RISING = 3 };
enum BitOrder : uint8_t { LSBFIRST = 0, MSBFIRST = 1 };
enum { DEFAULT = 1, INTERNAL = 3, EXTERNAL = 0 };

#define PI 3.1415926535897932384626433832795
#define HALF_PI 1.5707963267948966192313216916398
#define TWO_PI 6.283185307179586476925286766559
#define DEG_TO_RAD 0.017453292519943295769236907684886
#define RAD_TO_DEG 57.295779513082320876798154814105
#define M_PI PI
#define NAN __builtin_nanf("")
#define INFINITY __builtin_inff()
#define isnan(x) __builtin_isnan((double)(x))
#define isinf(x) __builtin_isinf((double)(x))
#define isfinite(x) __builtin_isfinite((double)(x))
#define DEC 10
#define HEX 16
#define OCT 8
#define BIN 2
#define PROGMEM
#define PSTR(text) (text)
#define F(text) (text)
#define FPSTR(text) (text)
#define strcpy_P strcpy
#define strcat_P strcat
#define strlen_P strlen
#define strcmp_P strcmp
#define sprintf_P sprintf
#define snprintf_P snprintf
#define memcpy_P memcpy
#define pgm_read_float(at) (*(const float *)(at))
#define pgm_read_ptr(at) (*(const void *const *)(at))
#define pgm_read_byte(at) (*(const uint8_t *)(at))
#define pgm_read_word(at) (*(const uint16_t *)(at))
#define pgm_read_dword(at) (*(const uint32_t *)(at))
#define bit(n) (1UL << (n))
#define bitRead(value, n) (((value) >> (n)) & 1)
#define bitSet(value, n) ((value) |= (1UL << (n)))
#define bitClear(value, n) ((value) &= ~(1UL << (n)))
#define bitToggle(value, n) ((value) ^= (1UL << (n)))
#define bitWrite(value, n, x) ((x) ? bitSet(value, n) : bitClear(value, n))
inline constexpr uint16_t makeWord(uint16_t value) { return value; }
inline constexpr uint16_t makeWord(uint8_t high, uint8_t low) { return high << 8 | low; }
#define word(...) makeWord(__VA_ARGS__)
#define lowByte(value) ((uint8_t)((value) & 0xff))
#define highByte(value) ((uint8_t)((value) >> 8))
#define abs(x) ({ auto x_ = (x); x_ > 0 ? x_ : -x_; })
#define min(a, b) ({ auto a_ = (a); auto b_ = (b); a_ < b_ ? a_ : b_; })
#define max(a, b) ({ auto a_ = (a); auto b_ = (b); a_ > b_ ? a_ : b_; })
#define constrain(x, low, high) ({ auto x_ = (x); auto low_ = (low); auto high_ = (high); x_ < low_ ? low_ : x_ > high_ ? high_ : x_; })
#define round(x) ({ auto r_ = (x); (long)(r_ >= 0 ? r_ + 0.5 : r_ - 0.5); })
#define sq(x) ({ auto q_ = (x); q_ * q_; })
#define radians(deg) ((deg) * DEG_TO_RAD)
#define degrees(rad) ((rad) * RAD_TO_DEG)
#define clockCyclesPerMicrosecond() 16
#define NOT_AN_INTERRUPT (-1)

// What differs from board to board comes from its profile: A0, the built-in LED, interrupts_.
#include <pins.h>

inline void spend_(uint32_t ns, At at) {
  if (__builtin_expect((page_.now += ns) >= page_.next, 0)) board_sync(at.line);
}
inline bool told_(uint64_t *lines, int pin, At at) { return (unsigned)pin < PINS_ && lines[pin] >> (at.line & 63) & 1; }

inline void pinMode(int pin, int mode, AT) { board_mode(pin, mode, at_.line); }
inline void digitalWrite(int pin, int level, AT) {
  if (told_(page_.writes, pin, at_) && page_.out[pin] == (level ? 3 : 2)) return spend_(page_.write, at_);
  board_write(pin, level, at_.line);
}
inline int digitalRead(int pin, AT) {
  if (!told_(page_.reads, pin, at_)) return board_read(pin, at_.line);
  spend_(page_.read, at_);
  return page_.level[pin];
}
inline int analogRead(int pin, AT) { return board_analog(pin, at_.line); }
inline void analogWrite(int pin, int duty, AT) { board_duty(pin, duty, at_.line); }
inline void analogReference(int) {}
inline void analogReadResolution(int bits, AT) { board_bits(bits, 0, at_.line); }
inline void analogWriteResolution(int bits, AT) { board_bits(0, bits, at_.line); }
inline void delay(unsigned long ms, AT) { board_pause(ms * 1000.0, at_.line); }
inline void delayMicroseconds(unsigned int us, AT) { board_pause(us, at_.line); }
inline unsigned long micros(AT) {
  spend_(page_.clock, at_);
  page_.micros++;
  return (unsigned long)(page_.now / 1000);
}
inline unsigned long millis(AT) {
  spend_(page_.clock, at_);
  page_.millis++;
  return (unsigned long)(page_.now / 1000000);
}
inline void yield(AT) { spend_(page_.clock, at_); }
inline void tone(int pin, unsigned int hertz, unsigned long ms = 0, AT) { board_tone(pin, hertz, ms, at_.line); }
inline void noTone(int pin, AT) { board_tone(pin, 0, 0, at_.line); }
inline unsigned long pulseIn(int pin, int level, unsigned long timeout = 1000000, AT) { return board_pulse(pin, level, timeout, at_.line); }
inline unsigned long pulseInLong(int pin, int level, unsigned long timeout = 1000000, AT) { return board_pulse(pin, level, timeout, at_.line); }
inline void interrupts(AT) { board_quiet(0, at_.line); }
inline void noInterrupts(AT) { board_quiet(1, at_.line); }
#define sei() interrupts()
#define cli() noInterrupts()
extern void (*handlers_[PINS_])();
// Interrupts have numbers; those of pins without one are beyond all others, and say which pin, to machine.NoInterrupt too.
enum { NO_INTERRUPT_ = 1000 };
constexpr int digitalPinToInterrupt(int pin) {
  for (int n = 0; n < INTERRUPTS_; n++)
    if (interrupts_[n] == pin) return n;
  return INTERRUPTS_ ? NO_INTERRUPT_ + pin : pin;
}
constexpr int interruptPin_(int number) {
  return number >= NO_INTERRUPT_ ? number - NO_INTERRUPT_ : !INTERRUPTS_ ? number : number >= 0 && number < INTERRUPTS_ ? interrupts_[number] : NO_INTERRUPT_ + number;
}
inline void attachInterrupt(int number, void (*handler)(), int mode, AT) {
  int pin = interruptPin_(number);
  if ((unsigned)pin < PINS_) handlers_[pin] = handler;
  board_attach(pin, mode, at_.line);
}
inline void detachInterrupt(int number, AT) { board_attach(interruptPin_(number), 0, at_.line); }

// The registers of a chip's ports, on boards whose pins have them (pins.h): DDRD, PORTD, PIND as
// values that know their line. Only pins whose bit becomes another are told; of what is read under
// a mask, only the pins under it.
struct Port_ {
  const int8_t *pins;  // by bit; -1: none
  uint8_t *bits;       // what was written: the directions, and behind them the levels
  char kind;           // 'D', 'P' or 'I'
  int line;
  int all(int mask) const {
    if (kind != 'I') return bits[kind == 'P'] & mask;
    int out = 0;
    for (int i = 0; i < 8; i++)
      if (mask >> i & 1 && pins[i] >= 0 && digitalRead(pins[i], At(line))) out |= 1 << i;
    return out;
  }
  void set(int to) const {
    At at(line);
    if (kind == 'I') to = bits[1] ^ (to & 0xff);  // writing ones to the inputs toggles
    uint8_t &now = bits[kind != 'D'];
    uint8_t other = now ^ to;
    now = to;
    for (int i = 0; i < 8; i++) {
      int pin = pins[i];
      if (pin < 0 || !(other >> i & 1)) continue;
      bool out = bits[0] >> i & 1, high = bits[1] >> i & 1;
      if (kind != 'D' && out) digitalWrite(pin, high, at);
      else if (!out) pinMode(pin, high ? INPUT_PULLUP : INPUT, at);
      else digitalWrite(pin, high, at), pinMode(pin, OUTPUT, at);
    }
  }
  operator uint8_t() const { return all(0xff); }
  const Port_ &operator=(int v) const { return set(v), *this; }
  const Port_ &operator|=(int v) const { return set(all(0xff) | v), *this; }
  const Port_ &operator&=(int v) const { return set(all(0xff) & v), *this; }
  const Port_ &operator^=(int v) const { return set(all(0xff) ^ v), *this; }
  template <class N> int operator&(N mask) const { return all(mask); }
  struct Shifted operator>>(int n) const;
};
struct Shifted {
  Port_ of;
  int by;
  operator uint8_t() const { return of.all(0xff) >> by; }
  template <class N> int operator&(N mask) const { return of.all(mask << by) >> by; }
};
inline Shifted Port_::operator>>(int n) const { return {*this, n}; }
#define _BV(n) (1 << (n))
#define bit_is_set(port, n) ((port) & _BV(n))
#define bit_is_clear(port, n) (!((port) & _BV(n)))
void shiftOut(int data, int clock, int order, int value, AT);
uint8_t shiftIn(int data, int clock, int order, AT);
long map(long x, long fromLow, long fromHigh, long toLow, long toHigh);
char *dtostrf(double value, int width, int digits, char *text);
char *itoa(int value, char *text, int base);
char *ltoa(long value, char *text, int base);
char *utoa(unsigned value, char *text, int base);
char *ultoa(unsigned long value, char *text, int base);
long random(long below);
long random(long from, long below);
void randomSeed(unsigned long seed);
inline bool isAlpha(int c) { return isalpha(c); }
inline bool isAlphaNumeric(int c) { return isalnum(c); }
inline bool isDigit(int c) { return isdigit(c); }
inline bool isSpace(int c) { return isspace(c); }
inline bool isWhitespace(int c) { return c == ' ' || c == '\t'; }
inline bool isUpperCase(int c) { return isupper(c); }
inline bool isLowerCase(int c) { return islower(c); }
inline bool isPunct(int c) { return ispunct(c); }
inline bool isHexadecimalDigit(int c) { return isxdigit(c); }

class String {
  char *text = nullptr;
  unsigned size = 0;
  void set(const char *from, unsigned length);
  void number(unsigned long value, bool minus, int base);

public:
  String(const char *from = "");
  String(const String &);
  String(char);
  String(short value, int base = 10) : String((long)value, base) {}
  String(unsigned short value, int base = 10) : String((unsigned long)value, base) {}
  String(unsigned char value, int base = 10) : String((unsigned long)value, base) {}
  String(int value, int base = 10) : String((long)value, base) {}
  String(unsigned value, int base = 10) : String((unsigned long)value, base) {}
  String(long value, int base = 10);
  String(unsigned long value, int base = 10);
  String(float value, int digits = 2) : String((double)value, digits) {}
  String(double value, int digits = 2);
  ~String();
  String &operator=(const String &);
  String &operator+=(const String &);
  bool concat(const String &other) { return *this += other, true; }
  bool reserve(unsigned) { return true; }
  unsigned length() const { return size; }
  bool isEmpty() const { return size == 0; }
  const char *c_str() const { return text ? text : ""; }
  char charAt(unsigned i) const { return i < size ? text[i] : 0; }
  char operator[](unsigned i) const { return charAt(i); }
  char &operator[](unsigned i);
  void setCharAt(unsigned i, char c) { if (i < size) text[i] = c; }
  const char *begin() const { return c_str(); }
  const char *end() const { return c_str() + size; }
  int compareTo(const String &other) const { return strcmp(c_str(), other.c_str()); }
  bool equals(const String &other) const { return compareTo(other) == 0; }
  bool equalsIgnoreCase(const String &other) const { return strcasecmp(c_str(), other.c_str()) == 0; }
  bool startsWith(const String &start) const { return strncmp(c_str(), start.c_str(), start.size) == 0; }
  bool endsWith(const String &end) const { return end.size <= size && strcmp(c_str() + size - end.size, end.c_str()) == 0; }
  int indexOf(const String &what, unsigned from = 0) const;
  int lastIndexOf(const String &what) const;
  String substring(unsigned from) const { return substring(from, size); }
  String substring(unsigned from, unsigned to) const;
  void replace(const String &what, const String &with);
  void remove(unsigned from, unsigned count = ~0u);
  void trim();
  void toUpperCase();
  void toLowerCase();
  long toInt() const { return atol(c_str()); }
  float toFloat() const { return atof(c_str()); }
  double toDouble() const { return atof(c_str()); }
  void toCharArray(char *into, unsigned room) const;
};
String operator+(const String &, const String &);
inline bool operator==(const String &a, const String &b) { return a.equals(b); }
inline bool operator!=(const String &a, const String &b) { return !a.equals(b); }
inline bool operator<(const String &a, const String &b) { return a.compareTo(b) < 0; }
inline bool operator>(const String &a, const String &b) { return a.compareTo(b) > 0; }

class SerialLink {
public:
  void begin(unsigned long rate, AT) { board_begin(rate, at_.line); }
  void begin(unsigned long rate, int, AT) { board_begin(rate, at_.line); }
  void end(AT) { board_begin(0, at_.line); }
  operator bool() { return true; }
  void flush() {}
  void setTimeout(unsigned long ms) { timeout = ms; }
  int availableForWrite() { return 63; }
  int available(AT) { return board_available(at_.line); }
  int read(AT) { return board_receive(1, at_.line); }
  int peek(AT) { return board_receive(0, at_.line); }
  long parseInt(AT);
  float parseFloat(AT);
  String readString(AT);
  String readStringUntil(char end, AT);
  size_t readBytes(char *into, size_t length, AT);
  size_t readBytesUntil(char end, char *into, size_t length, AT);
  size_t write(uint8_t c, AT) { char t = c; return board_print(&t, 1, at_.line), 1; }
  size_t write(const char *text, AT) { return print(text, at_); }
  size_t write(const uint8_t *bytes, size_t length, AT) { return board_print((const char *)bytes, length, at_.line), length; }
  size_t print(const char *text, AT) { size_t n = strlen(text); return board_print(text, n, at_.line), n; }
  size_t print(const String &text, AT) { return board_print(text.c_str(), text.length(), at_.line), text.length(); }
#if __SIZEOF_INT__ > 2  // small boards have none
  __attribute__((format(printf, 2, 3))) size_t printf(const char *format, ...) {
    char text[256];
    __builtin_va_list rest;
    __builtin_va_start(rest, format);
    vsnprintf(text, sizeof text, format, rest);
    __builtin_va_end(rest);
    return print(text);
  }
#endif
  size_t print(char c, AT) { return board_print(&c, 1, at_.line), 1; }
  size_t print(bool value, AT) { return print(String((int)value), at_); }
  template <class N> size_t print(N value, AT) { return print(String(value), at_); }
  template <class N> size_t print(N value, int base, AT) {
    String digits(value, base);
    digits.toUpperCase();
    return print(digits, at_);
  }
  size_t println(AT) { return board_print("\r\n", 2, at_.line), 2; }
  template <class N> size_t println(const N &value, AT) { return print(value, at_) + println(at_); }
  size_t println(const char *text, AT) { return print(text, at_) + println(at_); }
  template <class N> size_t println(const N &value, int base, AT) { return print(value, base, at_) + println(at_); }

private:
  unsigned long timeout = 1000;
  int next(bool take, At at);
};
extern SerialLink Serial;

// An int of 16 bits: what does not fit is told, and cut as the board cuts it.
inline int16_t fits_(int exact, AT) {
  if (__builtin_expect(exact != (int16_t)exact, 0)) board_wrapped(exact, (int16_t)exact, at_.line);
  return (int16_t)exact;
}
inline uint16_t cut_(unsigned exact) { return (uint16_t)exact; }

void setup();
void loop();
