# The spotlight gets brighter while the one button is held, and darker while the other is.
from machine import PWM, Pin
import time

brighter = Pin(0, Pin.IN, Pin.PULL_UP)  # both read 0 while they are held
darker = Pin(1, Pin.IN, Pin.PULL_UP)
spotlight = PWM(Pin(2), freq=1000, duty_u16=32768)

duty = 128  # 0 to 255

while True:
    if brighter.value() == 0 and duty < 255:
        duty += 1
    if darker.value() == 0 and duty > 0:
        duty -= 1
    spotlight.duty_u16(duty * 257)
    time.sleep_ms(8)  # two seconds from one end to the other
