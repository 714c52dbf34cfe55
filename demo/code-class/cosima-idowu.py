import barrow as b


class Dock:
    """Everything the cart has to do, one method a step."""

    fast, slow = 45, 20

    def __init__(self, left, right):
        self.wheels = [b.Wheel(left), b.Wheel(right)]

    def drive(self, share):
        for wheel in self.wheels:
            wheel.spin(share)

    def stop(self):
        for wheel in self.wheels:
            wheel.hold()

    def wait_for_knob(self):
        count = 0
        while count < 6:
            count = count + 1 if b.knob_turn() > 634 else 0
            b.rest(0.01)

    def run(self):
        self.wait_for_knob()
        self.drive(self.fast)
        while True:
            gap = b.ahead()
            if gap >= 0 and gap < 40:
                break
        self.drive(self.slow)
        while not b.bumped():
            b.rest(0.005)
        self.stop()
        b.pour(80)
        b.rest(1.5)
        b.pour(0)


if __name__ == "__main__":
    Dock("M1", "M2").run()
