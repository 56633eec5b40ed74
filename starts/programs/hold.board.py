# The spotlight gets brighter while the one button is held, and darker while the other is.
import board
import digitalio
import pwmio
import time


def button(pin):
    """A button to ground: it reads False while it is held."""
    contact = digitalio.DigitalInOut(pin)
    contact.switch_to_input(pull=digitalio.Pull.UP)
    return contact


brighter = button(board.GP0)
darker = button(board.GP1)
spotlight = pwmio.PWMOut(board.GP2, frequency=1000, duty_cycle=32768)

duty = 128  # 0 to 255

while True:
    if not brighter.value and duty < 255:
        duty += 1
    if not darker.value and duty > 0:
        duty -= 1
    spotlight.duty_cycle = duty * 257
    time.sleep(0.008)  # two seconds from one end to the other
