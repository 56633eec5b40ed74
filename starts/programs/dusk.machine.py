# A lamp at the bird table comes on at dusk. Between the two limits it stays as it is, so
# that its own light, or a cloud, does not make it flicker.
from machine import ADC, Pin
import time

dusk_sensor = ADC(Pin(26))  # reads more in more light, 0 to 65535
lamp = Pin(1, Pin.OUT)
dark = 19000  # below it the lamp comes on
bright = 29000  # above it the lamp goes off

while True:
    light = dusk_sensor.read_u16()
    if light < dark:
        lamp.on()
    if light > bright:
        lamp.off()
    time.sleep_ms(50)
