from cart import wheels, touched, scraped, halt, glow, pause

pressed_before = False
count = 0
on = False
for i in range(400):
    now_pressed = touched() or scraped()
    if now_pressed and not pressed_before:
        count += 1
        on = not on
        glow(1 if on else 0)
    pressed_before = now_pressed
    if count >= 3:
        halt()
        break
    wheels(10 * (count + 1), 10 * (count + 1))
    pause(0.05)
else:
    wheels(-10, -10)
    pause(1)
    halt()
