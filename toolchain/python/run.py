"""Runs one program for a board, in the time of the board.

It speaks with whoever started it by lines: a call of the board goes out as its name, its
arguments, the line of the program and the time; what comes back is the time, the time of the
next thing that happens outside, what the pins read, and a result. Until that next thing the
program may go on without asking. A line "i PIN" instead of an answer is an interrupt: its
handler runs, and "done" goes out. Of what needs no answer, many go out together, and their
answers are read when one is needed.
"""
import ast
import builtins
import difflib
import json
import sys
import types

sys.path.insert(0, __file__.rpartition("/")[0])
import mistakes
import turns

talk_in, talk_out = sys.stdin, sys.stdout
setup = json.loads(talk_in.readline())
FILE = "program.py"
COST = setup["costs"]
NAMES = setup["pins"]  # names of pins, to their numbers
STATEMENT, READ, WRITE = COST["statement"], COST["call"] + COST["read"], COST["call"] + COST["write"]
STRIDE = 20_000_000  # ns: so often at least the board is asked, so that a run can be ended
MOST_OWED = 64
now, until, outside, line = setup["now"], 0, 0, 0
levels, told, handlers, timers = 0, set(), {}, []
owed = 0  # answers that were not read yet


class Over(BaseException):
    """The board's time is up."""


def send(name, args):
    talk_out.write(" ".join([name, *(str(a) if type(a) is int else json.dumps(a) for a in args), str(line), str(now)]) + "\n")


def heard():
    """Read an answer."""
    answer = talk_in.readline().split(" ", 4)
    if not answer or answer[0] in ("over", ""):
        raise Over
    return answer


def tell(cost, name, *args):
    """Tell the board what needs no answer, and takes so long. With handlers it may be interrupted."""
    global now, owed
    if handlers or now + cost >= outside or not setup["ahead"]:
        call(name, *args)
        return
    send(name, args)
    now += cost
    owed += 1
    if owed >= MOST_OWED:
        settle()
    else:
        aim()


def settle():
    """Read the answers that are owed: what was told may have changed what comes next, and what the pins read."""
    global owed, outside, levels
    talk_out.flush()
    while owed:
        owed -= 1
        answer = heard()
    outside, levels = int(answer[2]), int(answer[3], 16)
    aim()
    spend(0)


def call(name, *args):
    """Ask the board."""
    global now, outside, until, levels, owed
    send(name, args)
    talk_out.flush()
    while owed:
        owed -= 1
        heard()
    while True:
        answer = heard()
        now, outside, levels = int(answer[1]), int(answer[2]), int(answer[3], 16)
        aim()
        if answer[0] != "i":
            return json.loads(answer[4])
        run_handler(int(answer[4]))
        talk_out.write(f"done {line} {now}\n")
        talk_out.flush()


def run_handler(pin):
    global line
    handler = handlers.get(pin)
    if handler:
        was = line
        handler()
        line = was


def aim():
    """Find until when nothing happens: outside, and of the program's own timers."""
    global until
    until = min(outside, now + STRIDE)
    if timers:
        until = min(until, *(t.at for t in timers))


def spend(ns):
    """Let the program's own time go by."""
    global now
    now += ns
    while now >= until:
        due = min(timers, key=lambda t: t.at, default=None)
        if due is not None and due.at <= now and due.at <= outside:
            due.ring()
            aim()
        else:
            call("sync")


def stop(*_):
    raise SystemExit


def step(n):
    """Each statement comes by here."""
    global line, now
    line = n
    now += STATEMENT
    if now >= until:
        spend(0)


def back(n):
    """A function is left: what follows is done in the line that called it."""
    global line
    line = n


def pause(seconds):
    global now
    if seconds < 0:
        raise ValueError("sleep length must be non-negative")
    end = now + int(seconds * 1e9)
    while timers:
        due = min(timers, key=lambda t: t.at)
        if due.at >= end:
            break
        if due.at > now:
            tell(due.at - now, "pause", due.at - now)
        due.ring()
    aim()
    tell(max(0, end - now), "pause", max(0, end - now))


def level(pin):
    """Read a pin; the first time from a line the board is told."""
    global now
    if (pin, line) not in told:
        told.add((pin, line))
        return call("read", pin)
    if owed:
        settle()
    now += READ
    if now >= until:
        spend(0)
    return levels >> pin & 1


written = {}  # what each pin was last written, while nothing else was made of it


def write(pin, value):
    """Write a pin; what changes nothing need not be told again."""
    if written.get(pin) == value and (pin, line, 0) in told:
        return spend(WRITE)
    told.add((pin, line, 0))
    written[pin] = value
    tell(COST["write"], "write", pin, value)


def set_mode(pin, which):
    written.pop(pin, None)
    call("mode", pin, MODES[which])


def number(pin):
    """The number of a pin by whatever the program calls it."""
    if isinstance(pin, (Pin, Name)):
        return pin.number
    if isinstance(pin, bool) or not isinstance(pin, (int, str)):
        raise TypeError("a pin is a number or a name")
    found = NAMES.get(pin.upper(), -1) if isinstance(pin, str) else pin
    if str(pin).upper() == "LED" and found < 0:
        raise ValueError("this board has no LED of its own")
    if found not in NAMES.values():
        raise ValueError(f"invalid pin: {pin}")
    return found


MODES = {"in": 0, "out": 1, "up": 2, "down": 3}


class Name:
    """A pin as the module board names it."""

    def __init__(self, name, n):
        self.name, self.number = name, n

    def __repr__(self):
        return "board." + self.name


# Python with machine.


class Native:
    """What the board's own modules make: a call of it cannot be assigned to."""

    def __setattr__(self, name, to):
        if callable(getattr(type(self), name, None)):
            raise AttributeError(f"'{type(self).__name__}' object has no attribute '{name}'", name=name, obj=self)
        object.__setattr__(self, name, to)


class Pin(Native):
    IN, OUT, OPEN_DRAIN = 0, 1, 2
    PULL_UP, PULL_DOWN = 1, 2
    IRQ_FALLING, IRQ_RISING = 2, 1

    def __init__(self, id, mode=-1, pull=-1, *, value=None, **rest):
        self.number = number(id)
        self.init(mode, pull, value=value)

    def init(self, mode=-1, pull=-1, *, value=None, **rest):
        self.open = mode == Pin.OPEN_DRAIN
        if value is not None and mode in (Pin.OUT, Pin.OPEN_DRAIN):
            call("latch", self.number, int(bool(value)))
        if mode == Pin.OUT:
            set_mode(self.number, "out")
        elif mode == Pin.OPEN_DRAIN:
            self.value(1 if value is None else value)
        elif mode == Pin.IN or pull != -1:
            set_mode(self.number, "up" if pull == Pin.PULL_UP else "down" if pull == Pin.PULL_DOWN else "in")
        self.mode_ = mode

    def value(self, x=None):
        if x is None:
            return level(self.number)
        if self.open:
            set_mode(self.number, "in" if x else "out")
        write(self.number, int(bool(x)))

    __call__ = value

    def on(self):
        self.value(1)

    def off(self):
        self.value(0)

    high, low = on, off

    def toggle(self):
        self.value(not call("latched", self.number))

    def irq(self, handler=None, trigger=3, **rest):
        handlers[self.number] = (lambda: handler(self)) if handler else None
        call("attach", self.number, {1: 3, 2: 2, 3: 1}.get(trigger, 1) if handler else 0)
        return self


class ADC(Native):
    ATTN_0DB, ATTN_2_5DB, ATTN_6DB, ATTN_11DB, WIDTH_9BIT, WIDTH_10BIT, WIDTH_12BIT = 0, 1, 2, 3, 0, 1, 3

    def __init__(self, pin, **rest):
        self.number = number(f"ADC{pin}" if isinstance(pin, int) and f"ADC{pin}" in NAMES else pin)
        call("analog-pin", self.number)

    def read_u16(self):
        return call("analog", self.number, 16)

    def read(self):
        return call("analog", self.number, 12)

    def read_uv(self):
        return call("analog", self.number, 16) * setup["microvolts"] // 65535

    def atten(self, _):
        pass

    width = atten


class PWM(Native):
    def __init__(self, dest, *, freq=None, duty_u16=None, duty=None, duty_ns=None, invert=False):
        self.number, self.hertz, self.given = number(dest), freq or 0, 0
        if duty_u16 is not None:
            self.duty_u16(duty_u16)
        elif duty is not None:
            self.duty(duty)
        elif duty_ns is not None:
            self.duty_ns(duty_ns)

    def init(self, **rest):
        self.__init__(self.number, **rest)

    def freq(self, hertz=None):
        if hertz is None:
            return self.hertz
        self.hertz = hertz
        call("hertz", self.number, hertz)

    def duty_u16(self, duty=None):
        if duty is None:
            return self.given
        if self.given != int(duty) or (self.number, line, 1) not in told:
            told.add((self.number, line, 1))
            call("duty", self.number, int(duty), 65535, self.hertz)
        else:
            spend(COST["call"])
        self.given = int(duty)

    def duty(self, duty=None):
        if duty is None:
            return self.given * 1023 // 65535
        self.given = int(duty) * 65535 // 1023
        call("duty", self.number, int(duty), 1023, self.hertz)

    def duty_ns(self, ns=None):
        if ns is None:
            return int(self.given / 65535 * 1e9 / (self.hertz or 1000))
        self.duty_u16(int(ns * 65535 * (self.hertz or 1000) / 1e9))

    def deinit(self):
        call("write", self.number, 0)


class Timer(Native):
    ONE_SHOT, PERIODIC = 0, 1

    def __init__(self, id=-1, **rest):
        self.at = 1 << 62
        if rest:
            self.init(**rest)

    def init(self, *, mode=PERIODIC, period=-1, freq=-1, callback=None, **rest):
        self.every = int(period * 1e6 if period > 0 else 1e9 / freq)
        self.again, self.callback, self.at = mode == Timer.PERIODIC, callback, now + self.every
        if self not in timers:
            timers.append(self)
        aim()

    def ring(self):
        global line
        self.at += self.every
        if not self.again:
            self.deinit()
        was = line
        if self.callback:
            self.callback(self)
        line = was

    def deinit(self):
        if self in timers:
            timers.remove(self)
        aim()


def time_pulse_us(pin, level, timeout=1000000):
    return int(call("pulse", number(pin), int(level), timeout)) or -1


class Signal(Native):
    """A pin whose on may be low."""

    def __init__(self, pin, *args, invert=False, **rest):
        self.pin, self.inverts = pin if isinstance(pin, Pin) else Pin(pin, *args, **rest), invert

    def value(self, x=None):
        if x is None:
            return int(bool(self.pin.value()) != self.inverts)
        self.pin.value(bool(x) != self.inverts)

    __call__ = value

    def on(self):
        self.value(1)

    def off(self):
        self.value(0)


class WDT(Native):
    """A watchdog: a program that does not feed it in time begins anew, which here is its end."""

    def __init__(self, id=0, timeout=5000):
        self.timer = Timer(period=timeout, callback=lambda t: stop())

    def feed(self):
        self.timer.at = now + self.timer.every
        aim()


# Python with board.


class Direction:
    INPUT, OUTPUT = "in", "out"


class Pull:
    UP, DOWN = "up", "down"


class DriveMode:
    PUSH_PULL, OPEN_DRAIN = 0, 1


taken = {}


def take(pin, by):
    if not isinstance(pin, Name):
        raise TypeError("pin must be of type Pin, as in board." + next(iter(NAMES)))
    if taken.get(pin.number):
        raise ValueError(f"{pin.name} in use")
    taken[pin.number] = by
    return pin.number


class Owner:
    def deinit(self):
        taken.pop(self.number, None)

    def __enter__(self):
        return self

    def __exit__(self, *_):
        self.deinit()


class DigitalInOut(Owner):
    def __init__(self, pin):
        self.number = take(pin, self)
        self.way, self.held, self.mode, self.out = "in", None, 0, 0
        self.switch_to_input()

    def switch_to_output(self, value=False, drive_mode=0):
        self.way, self.mode = "out", drive_mode
        self.write(value)

    def switch_to_input(self, pull=None):
        self.way, self.held = "in", pull
        set_mode(self.number, pull or "in")

    def write(self, value):
        self.out = int(bool(value))
        call("latch", self.number, self.out)
        set_mode(self.number, "in" if self.mode and self.out else "out")
        write(self.number, self.out)

    @property
    def direction(self):
        return self.way

    @direction.setter
    def direction(self, way):
        self.switch_to_output() if way == "out" else self.switch_to_input()

    @property
    def pull(self):
        return self.held

    @pull.setter
    def pull(self, pull):
        if self.way != "in":
            raise AttributeError("Pull not used when direction is output.")
        self.switch_to_input(pull)

    @property
    def drive_mode(self):
        return self.mode

    @drive_mode.setter
    def drive_mode(self, mode):
        self.mode = mode

    @property
    def value(self):
        return bool(level(self.number))

    @value.setter
    def value(self, value):
        if self.way != "out":
            raise AttributeError("Cannot set value when direction is input.")
        if self.mode:
            self.write(value)
        else:
            self.out = int(bool(value))
            write(self.number, self.out)


class AnalogIn(Owner):
    reference_voltage = setup["microvolts"] / 1e6

    def __init__(self, pin):
        self.number = take(pin, self)
        call("analog-pin", self.number)

    @property
    def value(self):
        return call("analog", self.number, 16)


class PWMOut(Owner):
    def __init__(self, pin, *, duty_cycle=0, frequency=500, variable_frequency=False):
        self.number, self.hertz, self.free, self.given = take(pin, self), frequency, variable_frequency, 0
        self.duty_cycle = duty_cycle

    @property
    def duty_cycle(self):
        return self.given

    @duty_cycle.setter
    def duty_cycle(self, duty):
        self.given = duty
        call("duty", self.number, int(duty), 65535, self.hertz)
        if not 0 <= duty <= 65535:
            raise ValueError("duty_cycle must be between 0 and 65535 inclusive (16 bit resolution)")

    @property
    def frequency(self):
        return self.hertz

    @frequency.setter
    def frequency(self, hertz):
        if not self.free:
            raise AttributeError("PWM frequency not writable when variable_frequency is False on construction.")
        self.hertz = hertz
        call("hertz", self.number, hertz)


class Edge:
    RISE, FALL, RISE_AND_FALL = 3, 2, 1


class Counter(Owner):
    def __init__(self, pin, *, edge=Edge.FALL, pull=None):
        self.number, self.count = take(pin, self), 0
        set_mode(self.number, pull or "in")
        handlers[self.number] = self.one
        call("attach", self.number, edge)

    def one(self):
        self.count += 1

    def reset(self):
        self.count = 0


class Keys:
    """Contacts that are looked at every so often, and what they did as a queue."""

    def __init__(self, pins, *, value_when_pressed, pull=True, interval=0.02, **rest):
        self.numbers, self.pressed = [take(p, self) for p in pins], bool(value_when_pressed)
        for n in self.numbers:
            set_mode(n, ("down" if self.pressed else "up") if pull else "in")
        self.was, self.queue, self.events = [False] * len(pins), [], self
        self.key_count, self.overflowed = len(pins), False
        self.timer = Timer(period=interval * 1000, callback=self.scan)

    def scan(self, _):
        for k, n in enumerate(self.numbers):
            down = bool(level(n)) == self.pressed
            if down != self.was[k]:
                self.was[k] = down
                self.queue.append(KeyEvent(k, down))

    def get(self):
        spend(COST["call"])
        return self.queue.pop(0) if self.queue else None

    def clear(self):
        self.queue.clear()

    def __len__(self):
        return len(self.queue)

    def deinit(self):
        self.timer.deinit()
        for n in self.numbers:
            taken.pop(n, None)


class KeyEvent:
    def __init__(self, key_number=0, pressed=True):
        self.key_number, self.pressed, self.released, self.timestamp = key_number, pressed, not pressed, now // 1000000

    def __eq__(self, other):
        return (self.key_number, self.pressed) == (other.key_number, other.pressed)


# What a program may import.

MASK = (1 << 30) - 1


def ticks(ns):
    def ask():
        spend(COST["call"] + COST["clock"])
        return now // ns & MASK

    return ask


def ticks_diff(a, b):
    d = (a - b) & MASK
    return d - (MASK + 1) if d > MASK // 2 else d


def clock():
    spend(COST["call"] + COST["clock"])
    return now / 1e9


def clock_ns():
    spend(COST["call"] + COST["clock"])
    return now


def module(name, **contents):
    m = types.ModuleType(name)
    m.__dict__.update(contents)
    return m


names = {n: Name(n, v) for n, v in NAMES.items() if n.isidentifier()}
if "LED" not in names and setup["led"] >= 0:
    names["LED"] = Name("LED", setup["led"])
const = module("micropython", const=lambda x: x)
time_ = module(
    "time", sleep=pause, sleep_ms=lambda ms: pause(ms / 1e3), sleep_us=lambda us: pause(us / 1e6), time=clock, time_ns=clock_ns,
    monotonic=clock, monotonic_ns=clock_ns, ticks_ms=ticks(1000000), ticks_us=ticks(1000), ticks_diff=ticks_diff, ticks_add=lambda a, b: a + b & MASK,
)
turns.board = types.SimpleNamespace(now=lambda: now, pause=pause, spend=lambda: spend(COST["statement"]))
by_turns = module("asyncio", **turns.contents())
memory = module("gc", collect=lambda: 0, mem_free=lambda: 100000, mem_alloc=lambda: 50000, enable=lambda: None, disable=lambda: None)
OURS = {
    "python-machine": {
        "machine": module(
            "machine", Pin=Pin, ADC=ADC, PWM=PWM, Timer=Timer, Signal=Signal, WDT=WDT, time_pulse_us=time_pulse_us,
            reset=stop, soft_reset=stop, lightsleep=lambda ms=0: pause(ms / 1e3), deepsleep=stop, unique_id=lambda: bytes(8),
            freq=lambda *a: 125000000, idle=lambda: spend(COST["clock"]), disable_irq=lambda: call("quiet", 1), enable_irq=lambda *a: call("quiet", 0),
        ),
        "utime": time_, "umachine": None, "micropython": const, "uasyncio": by_turns,
    },
    "python-board": {
        "board": module("board", **names),
        "digitalio": module("digitalio", DigitalInOut=DigitalInOut, Direction=Direction, Pull=Pull, DriveMode=DriveMode),
        "analogio": module("analogio", AnalogIn=AnalogIn),
        "pwmio": module("pwmio", PWMOut=PWMOut),
        "keypad": module("keypad", Keys=Keys, Event=KeyEvent),
        "countio": module("countio", Counter=Counter, Edge=Edge),
        "supervisor": module("supervisor", ticks_ms=lambda: now // 1000000 & (1 << 29) - 1),
        "microcontroller": module("microcontroller", delay_us=lambda us: pause(us / 1e6)),
    },
}[setup["language"]]
OURS.update(time=time_, gc=memory, asyncio=by_turns)
if OURS.get("umachine", 0) is None:
    OURS["umachine"] = OURS["machine"]
PLAIN = {"math", "random", "array", "collections", "struct", "json", "re", "errno", "binascii", "heapq", "cmath", "itertools", "functools", "string", "statistics"}
ABSENT = dict.fromkeys(("I2C", "SoftI2C", "SPI", "SoftSPI"), ": parts on a bus are not on the bench") | dict.fromkeys(("UART", "RTC", "SDCard", "I2S", "CAN"), ": it is not on the bench")
real_import = builtins.__import__


def bring(name, globals=None, locals=None, fromlist=(), level=0):
    """The import of a program. What a module of the system imports is its own affair."""
    if globals is None:
        globals = sys._getframe(1).f_globals
    if globals.get("__name__") != "__main__":
        return real_import(name, globals, locals, fromlist, level)
    if name in OURS:
        for part in fromlist or ():
            if part != "*" and not hasattr(OURS[name], part):
                raise ImportError(f"{name} has no {part} here" + ABSENT.get(part, ""), name=part)
        return OURS[name]
    if name.lstrip("u") in PLAIN and level == 0:
        m = real_import(name if name in PLAIN else name[1:], globals, locals, fromlist, 0)
        if name == "random":
            m.seed(1)
        return m
    raise ModuleNotFoundError(f"no module named '{name}'")


PRINTS = 150_000  # ns that a board takes to print a short line by its USB (from memory)


def say(*values, sep=" ", end="\n", **rest):
    spend(PRINTS)
    call("print", (sep.join(str(v) for v in values) + end).replace("\n", "\r\n"))


def ask(prompt=""):
    if prompt:
        say(prompt, end="")
    text = ""
    while True:
        c = call("receive", 1)
        if c < 0:
            call("pause", 1000000)
        elif c in (10, 13):
            return text
        else:
            text += chr(c)


class Input:
    """What comes by the serial link, as a file."""

    def read(self, most=-1):
        if most < 0:
            return self.readline()
        return "".join(self.letter() for _ in range(most))

    def readline(self, *_):
        text = ""
        while not text.endswith("\n"):
            text += self.letter()
        return text

    def letter(self):
        while (c := call("receive", 1)) < 0:
            call("pause", 1000000)
        return "\n" if c == 13 else chr(c)


class Output:
    """What goes out by it."""

    def write(self, text):
        call("print", (text.decode() if isinstance(text, (bytes, bytearray)) else text).replace("\n", "\r\n"))
        return len(text)

    def flush(self):
        pass


class Link(Output):
    """The serial link, as bytes."""

    timeout = None
    connected = True
    in_waiting = property(lambda self: call("waiting"))

    def read(self, most=1):
        have = call("waiting")
        return bytes(stdin.letter().encode()[0] for _ in range(min(most, have) if self.timeout == 0 else most))


class Runtime:
    serial_connected = usb_connected = True
    serial_bytes_available = property(lambda self: call("waiting"))


class Poll:
    """Waits for the serial link."""

    def __init__(self):
        self.of = []

    def register(self, what, flags=1):
        self.of.append(what)

    def unregister(self, what):
        self.of.remove(what)

    def poll(self, ms=-1):
        until = now + int(ms * 1e6)
        while not call("waiting"):
            if 0 <= ms and now >= until:
                return []
            call("pause", 1000000)
        return [(what, 1) for what in self.of if what is stdin]

    ipoll = poll


def select(reads, writes, errors, seconds=-1):
    p = Poll()
    for r in reads:
        p.register(r)
    return [what for what, _ in p.poll(seconds * 1e3)], list(writes), []


stdin = Input()
OURS["sys"] = module(
    "sys", maxsize=0x7FFFFFFF, exit=stop, version="3", platform="board", print_exception=lambda e, *a: None, stdin=stdin, stdout=Output(),
)
if setup["language"] == "python-machine":
    OURS["select"] = OURS["uselect"] = module("select", poll=Poll, select=select, POLLIN=1, POLLOUT=4)
    OURS["usys"] = OURS["sys"]
else:
    OURS["supervisor"].runtime = Runtime()
    OURS["usb_cdc"] = module("usb_cdc", console=Link(), data=None)

# The program itself.


class Steps(ast.NodeTransformer):
    """Puts a step before each statement."""

    def block(self, statements):
        out = []
        for s in statements:
            if not isinstance(s, (ast.Global, ast.Nonlocal)):
                step = ast.Expr(ast.Call(ast.Name("_step", ast.Load()), [ast.Constant(s.lineno)], []))
                out.append(ast.copy_location(step, s))
            out.append(self.visit(s))
        return out

    def visit_FunctionDef(self, node):
        self.generic_visit(node)
        if not any(isinstance(n, (ast.Yield, ast.YieldFrom)) for n in ast.walk(node)):
            was = ast.parse("_was = _here()").body
            node.body = [*was, ast.Try(node.body, [], [], ast.parse("_back(_was)").body)]
        return node

    def generic_visit(self, node):
        for field, value in ast.iter_fields(node):
            if isinstance(value, list) and value and isinstance(value[0], ast.stmt):
                if field == "body" and isinstance(node, ast.Module):
                    future = [s for s in value if isinstance(s, ast.ImportFrom) and s.module == "__future__"]
                    value = [s for s in value if s not in future]
                    setattr(node, field, future + self.block(value))
                else:
                    setattr(node, field, self.block(value))
            elif isinstance(value, list):
                setattr(node, field, [self.visit(v) if isinstance(v, ast.AST) else v for v in value])
            elif isinstance(value, ast.AST):
                setattr(node, field, self.visit(value))
        return node


CALLS = {
    "value", "on", "off", "high", "low", "toggle", "irq", "read_u16", "read", "duty_u16", "duty", "duty_ns", "duty_cycle", "direction", "pull",
    "Pin", "ADC", "PWM", "DigitalInOut", "AnalogIn", "PWMOut", "Counter", "switch_to_output", "switch_to_input",
}


ACTS = {"on", "off", "high", "low", "toggle", "deinit", "feed", "reset", "switch_to_output", "switch_to_input", "run", "stop", "start"}  # without parentheses nothing is done
LINKS = {"stdin", "stdout", "console"}  # their calls are not of a pin


def look(tree):
    """What is read of the program without running it: its calls of the board, and its imports."""
    calls, imports, idle = [], [], []
    defined = {n.name for n in ast.walk(tree) if isinstance(n, ast.FunctionDef)}
    for n in ast.walk(tree):
        if isinstance(n, ast.Expr) and (isinstance(n.value, ast.Attribute) and n.value.attr in ACTS or isinstance(n.value, ast.Name) and n.value.id in defined):
            idle.append({"name": ast.unparse(n.value), "line": n.lineno})
        if isinstance(n, ast.Call):
            name = n.func.attr if isinstance(n.func, ast.Attribute) else n.func.id if isinstance(n.func, ast.Name) else ""
            if name in CALLS and not LINKS & {x.attr for x in ast.walk(n.func) if isinstance(x, ast.Attribute)}:
                calls.append({"name": name, "line": n.lineno})
        elif isinstance(n, ast.Attribute) and n.attr in ("value", "duty_cycle", "direction", "pull"):
            calls.append({"name": n.attr, "line": n.lineno})
        elif isinstance(n, ast.Import):
            imports += [{"name": a.name, "line": n.lineno} for a in n.names]
        elif isinstance(n, ast.ImportFrom):
            imports.append({"name": n.module or "", "line": n.lineno})
    known = sorted({*OURS, *PLAIN, *("u" + p for p in PLAIN), "__future__"})
    absent = [i for i in imports if i["name"] not in known]
    notes = mistakes.found(tree, setup["language"])
    return {"calls": calls, "absent": absent, "imports": imports, "idle": idle, "notes": notes}


def where(error):
    """The line of the program at which an error came up."""
    at, tb = 0, error.__traceback__
    while tb:
        if tb.tb_frame.f_code.co_filename == FILE:
            at = tb.tb_lineno
        tb = tb.tb_next
    return at


def meant(error, scope):
    """What a name that is not there was probably meant to be."""
    name = getattr(error, "name", None)
    if not name:
        return ""
    if isinstance(error, AttributeError) and getattr(error, "obj", None) is not None:
        if callable(getattr(error.obj, name, None)):
            return f"{name}(…)"
        places = [dir(error.obj)]
    elif isinstance(error, ImportError):
        places = [dir(m) for m in OURS.values()]
    else:
        places = [scope, dir(builtins)]
    for has in places:
        near = difflib.get_close_matches(name, [h for h in has if not h.startswith("_")], 1, 0.6)
        if near:
            return near[0]
    return ""


def report(**what):
    talk_out.write("end " + json.dumps(what) + "\n")
    talk_out.flush()


def main():
    try:
        tree = ast.parse(setup["text"], FILE)
        compile(tree, FILE, "exec")
    except SyntaxError as e:
        return report(how="syntax", said=e.msg, line=e.lineno or 0, column=e.offset or 0, text=(e.text or "").rstrip())
    except (ValueError, RecursionError, MemoryError) as e:
        return report(how="syntax", said=str(e) or "it is nested too deeply", line=0, column=0, text="")
    seen = look(tree)
    if setup["look"]:
        return report(how="look", **seen)
    code = compile(ast.fix_missing_locations(Steps().visit(tree)), FILE, "exec")
    scope = {"__name__": "__main__", "_step": step, "_here": lambda: line, "_back": back}
    builtins.__import__, builtins.print, builtins.input, builtins.const = bring, say, ask, lambda x: x
    for name in ("open", "exec", "eval", "compile", "breakpoint", "help", "exit", "quit"):
        if name not in ("exec", "eval"):
            builtins.__dict__.pop(name, None)
    sys.setrecursionlimit(150)
    try:
        call("sync")
        exec(code, scope)
        while timers or any(handlers.values()):  # what rings goes on after the last line
            call("pause", max(0, min(t.at for t in timers) - now) if timers else 10000000)
            for t in [t for t in timers if t.at <= now]:
                t.ring()
        report(how="done")
    except (Over, SystemExit, KeyboardInterrupt):
        report(how="done")
    except BaseException as e:
        report(how="crash", said=f"{type(e).__name__}: {e}", line=where(e), name=getattr(e, "name", "") or "", meant=meant(e, scope))


main()
