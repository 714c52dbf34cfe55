from cart import Motor, touched, pause, gap


class Cart:
    turn = 0.5

    def __init__(self, left, right, pace=30):
        self.left = Motor(left)
        self.right = Motor(port=right)
        self.pace = pace
        self.moves = 0

    def go(self, factor=1.0):
        self.left.power(self.pace * factor)
        self.right.power(self.pace * factor)
        self.moves += 1

    def stop(self):
        self.left.stop()
        self.right.stop()

    def spin(self, seconds=None):
        self.left.power(-self.pace)
        self.right.power(self.pace)
        pause(seconds or self.turn)
        self.stop()


class Careful(Cart):
    def go(self, factor=1.0):
        super().go(factor / 2)


robot = Careful("M1", "M2", pace=44)
robot.go()
while not touched():
    if 0 < gap() < 40:
        robot.go(0.5)
    else:
        robot.go()
robot.stop()
robot.spin()
robot.spin(seconds=0.3)
