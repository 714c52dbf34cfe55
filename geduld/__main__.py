"""`python -m geduld`."""

import sys

from geduld.cli.main import main

if __name__ == "__main__":
    sys.exit(main())
