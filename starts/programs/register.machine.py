# A score board: red points on the first eight lamps, green ones on the next. Here both
# teams score until one has eight.
from machine import Pin
import random
import time

data = Pin(0, Pin.OUT)
clock = Pin(1, Pin.OUT)
latch = Pin(2, Pin.OUT)


def show(red, green):
    """Lights as many lamps of each team as it has points."""
    bits = ((1 << green) - 1) << 8 | (1 << red) - 1
    latch.off()
    for place in range(15, -1, -1):
        data.value(bits >> place & 1)
        clock.on()
        clock.off()
    latch.on()  # all lamps change at once


while True:
    red = green = 0
    show(red, green)
    time.sleep_ms(500)
    while red < 8 and green < 8:
        if random.randint(0, 1):
            red += 1
        else:
            green += 1
        show(red, green)
        time.sleep_ms(400)
    time.sleep_ms(2000)
