# A lamp at the bird table comes on at dusk. Between the two limits it stays as it is, so
# that its own light, or a cloud, does not make it flicker.
import analogio
import board
import digitalio
import time

dusk_sensor = analogio.AnalogIn(board.GP26)  # reads more in more light, 0 to 65535
lamp = digitalio.DigitalInOut(board.GP1)
lamp.switch_to_output(value=False)
dark = 19000  # below it the lamp comes on
bright = 29000  # above it the lamp goes off

while True:
    light = dusk_sensor.value
    if light < dark:
        lamp.value = True
    if light > bright:
        lamp.value = False
    time.sleep(0.05)
