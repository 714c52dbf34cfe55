"""The command line of the stand-in: python -m geduld.standin --rig R.json --floor F.json --to URL | --lines."""

from __future__ import annotations

import argparse
import sys
import time
from pathlib import Path

from geduld.errors import InputError, ProgramError
from geduld.readers.notation import runner_for
from geduld.rig.reader import read_rig
from geduld.run.world import FloorWorld
from geduld.standin.lines import FORMS, lines_of
from geduld.standin.sending import checked, posted, send
from geduld.worlds.floor.reader import read_floor

STANDING = 'behaviour "Stands"\nbegin:\n    wait 600 s\n'


def main() -> int:
    """Drives, and tells. Returns the exit code."""
    parser = argparse.ArgumentParser(prog="python -m geduld.standin", description="A robot to practise with.")
    parser.add_argument("--rig", type=Path, required=True)
    parser.add_argument("--floor", type=Path, required=True)
    parser.add_argument("--program", type=Path, help="the behaviour that it drives (default: it stands still)")
    where = parser.add_mutually_exclusive_group(required=True)
    where.add_argument("--to", metavar="URL", help="send the lines there, as Geduld's page of the rig says")
    where.add_argument("--lines", action="store_true", help="print the lines, as a board on a cable does")
    parser.add_argument("--key", default="", help="the key of the rig")
    parser.add_argument("--rate", type=float, default=50.0, metavar="HZ", help="lines a second, 20 to 100 (default 50)")
    parser.add_argument("--form", choices=sorted(FORMS), default="json")
    parser.add_argument("--seed", type=int, default=1, help="the chance of its sensors")
    parser.add_argument("--seconds", type=float, default=60.0, help="how long it drives (default 60 s)")
    options = parser.parse_args()
    if not 1 <= options.rate <= 1000 or not 0 < options.seconds <= 600:
        parser.error("the rate is 1 to 1000 Hz, and it drives for at most 600 s")
    try:
        rig = read_rig(options.rig)
        text = options.program.read_text() if options.program else STANDING
        world = FloorWorld(read_floor(options.floor), rig, seed=options.seed, limit_us=round(options.seconds * 1e6))
        _, trace = world.run(runner_for(text, rig), text)
        lines = lines_of(trace, rig, options.rate, options.form)
        if options.lines:
            start = time.monotonic()
            for at, line in lines:
                time.sleep(max(0.0, start + at - time.monotonic()))
                print(line, flush=True)
            return 0
        address = checked(options.to)
        sent = send(lines, lambda batch, first: posted(address, options.key, batch, first), _tell)
        print(f"{sent:,} lines were sent.")
    except (InputError, ProgramError, OSError) as problem:
        print(problem, file=sys.stderr)
        return 2
    except (KeyboardInterrupt, BrokenPipeError):
        pass
    return 0


def _tell(said: str) -> None:
    print(said, file=sys.stderr, flush=True)


if __name__ == "__main__":
    sys.exit(main())
