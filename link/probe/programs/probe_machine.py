# Answers questions about the pins of this board, a line each: docs/link.md has the grammar.
# All pins are let go at the beginning, and when nobody has asked for a second. What is driven
# is let go after 50 milliseconds.
import select
import sys
import time
from machine import ADC, Pin

PINS = [{{range $i, $p := .Pins}}{{if $i}}, {{end}}{{$p.Number}}{{end}}]
CONVERTERS = [{{range $i, $p := .Analog}}{{if $i}}, {{end}}{{$p.Number}}{{end}}]

pins = {}
driven = None
driven_since = 0


def let_go(pin):
    global driven
    pins[pin] = Pin(pin, Pin.IN)
    if driven == pin:
        driven = None


def let_all_go():
    for pin in PINS:
        let_go(pin)


def drive(pin, level):
    global driven, driven_since
    if driven is not None:
        let_go(driven)
    pins[pin] = Pin(pin, Pin.OUT, value=level)
    driven = pin
    driven_since = time.ticks_ms()


def number_of(word):
    try:
        return int(word)
    except ValueError:
        return -1


def answer(line):
    words = line.split(" ")
    number = words[0]
    command = words[1] if len(words) > 1 else ""
    pin = number_of(words[2]) if len(words) > 2 else -1
    if command == "who":
        return number + " probe 1 {{.Board}} {{.Full}}"
    if command == "levels":
        return number + " " + "".join(str(pins[p].value()) for p in PINS)
    if command == "analog":
        if pin not in CONVERTERS:
            return number + " ! no analog pin"
        let_go(pin)
        return number + " " + str(ADC(Pin(pin)).read_u16() >> {{.Shift}})
    if pin not in PINS:
        return number + " ! no such pin or question"
    if command == "read":
        return number + " " + str(pins[pin].value())
    if command == "free":
        let_go(pin)
    elif command == "up":
        let_go(pin)
        pins[pin] = Pin(pin, Pin.IN, Pin.PULL_UP)
{{- if .PullsDown}}
    elif command == "down":
        let_go(pin)
        pins[pin] = Pin(pin, Pin.IN, Pin.PULL_DOWN)
{{- end}}
    elif command == "high":
        drive(pin, 1)
    elif command == "low":
        drive(pin, 0)
    else:
        return number + " ! no such question"
    return number + " ok"


let_all_go()
poll = select.poll()
poll.register(sys.stdin, select.POLLIN)
heard = time.ticks_ms()
line = ""
while True:
    while poll.poll(0):
        c = sys.stdin.read(1)
        heard = time.ticks_ms()
        if c == "\n":
            print(answer(line))
            line = ""
        elif len(line) < 39:
            line += c
    if driven is not None and time.ticks_diff(time.ticks_ms(), driven_since) >= 50:
        let_go(driven)
    if time.ticks_diff(time.ticks_ms(), heard) >= 1000:
        let_all_go()
        heard = time.ticks_ms()
    time.sleep_ms(1)
