# Seedling shelf: warns when it is too warm or too cold, when the soil is dry, and when the
# water tank is empty. While all is well, a quiet lamp says so.
from machine import ADC, PWM, Pin
import time

thermometer = ADC(Pin(26))  # reads more when it is warmer
daylight = ADC(Pin(27))  # reads more in more light
soil = ADC(Pin(28))  # reads less in wetter soil
tank_float = Pin(0, Pin.IN, Pin.PULL_UP)  # reads 0 while it floats up
all_well = Pin(1, Pin.OUT)
alarm_lamp = Pin(2, Pin.OUT)
buzzer = PWM(Pin(3), freq=880, duty_u16=0)

COLD, WARM = 15000, 45000  # of 65535
DRY = 42000
DAY = 20000

told = time.ticks_ms()

while True:
    warmth = thermometer.read_u16()
    dry = soil.read_u16() > DRY
    empty = tank_float.value() == 1
    trouble = warmth < COLD or warmth > WARM or dry or empty

    all_well.value(not trouble)
    alarm_lamp.value(trouble)
    # Nobody wants to be woken by a dry pot: by night it is only the lamp.
    by_day = daylight.read_u16() > DAY
    beep = trouble and by_day and time.ticks_ms() % 2000 < 100
    buzzer.duty_u16(32768 if beep else 0)

    if time.ticks_diff(time.ticks_ms(), told) >= 1000:
        told = time.ticks_ms()
        print("warmth", warmth, "dry" if dry else "moist", "tank empty" if empty else "tank full")
    time.sleep_ms(20)
