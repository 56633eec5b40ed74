# A score board: red points on the first eight lamps, green ones on the next. Here both
# teams score until one has eight.
import board
import digitalio
import random
import time


def output(pin):
    line = digitalio.DigitalInOut(pin)
    line.switch_to_output(value=False)
    return line


data = output(board.GP0)
clock = output(board.GP1)
latch = output(board.GP2)


def show(red, green):
    """Lights as many lamps of each team as it has points."""
    bits = ((1 << green) - 1) << 8 | (1 << red) - 1
    latch.value = False
    for place in range(15, -1, -1):
        data.value = bits >> place & 1 == 1
        clock.value = True
        clock.value = False
    latch.value = True  # all lamps change at once


while True:
    red = green = 0
    show(red, green)
    time.sleep(0.5)
    while red < 8 and green < 8:
        if random.randint(0, 1):
            red += 1
        else:
            green += 1
        show(red, green)
        time.sleep(0.4)
    time.sleep(2)
