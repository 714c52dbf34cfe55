import cart

LIMIT = 40.0


def main():
    cart.wheels(40, 40)
    while True:
        d = cart.gap()
        if d != -1 and d < LIMIT:
            break
    cart.halt()
    return 0


if __name__ == "__main__":
    main()
