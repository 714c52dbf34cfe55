"""The server's command line: serves, or makes and restores a backup."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

from server.serving.trouble import Trouble

CANNOT = 2


def main() -> int:
    """Runs one command. 2 when it cannot be done, with one line that says why and what to do."""
    options = _parser().parse_args()
    os.umask(0o077)  # what is kept is its owner's alone
    if options.data:
        os.environ["GEDULD_DATA"] = str(options.data.resolve())
    try:
        if options.command == "backup":
            from server.serving.backup import backup

            print(backup(options.file))
        elif options.command == "restore":
            from server.serving.backup import restore

            print(restore(options.file))
        elif options.command == "teacher":
            from server.serving.teachers import teacher_link

            print(teacher_link(options.does, options.name_of, options.may_invite))
        else:
            from server.serving.serve import serve

            serve(options)
    except Trouble as trouble:
        print(trouble, file=sys.stderr)
        return CANNOT
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="./start", description="Starts Geduld.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
    parser.add_argument("--port", type=int, default=8000, help="port to listen on (default 8000)")
    parser.add_argument(
        "--name",
        action="append",
        default=[],
        help="a name under which browsers reach it, such as geduld.school.example (may be given again)",
    )
    parser.add_argument("--behind-tls", action="store_true", help="a proxy on this machine speaks https for it")
    parser.add_argument("--nightly", action="store_true", help="copy all that is kept into DATA/nightly every night")
    parser.add_argument("--data", type=Path, help="folder for the database (default data/)")
    parser.add_argument("--teacher", metavar="NAME", help="name of the first teacher, at the first start")
    parser.add_argument("--no-demo", action="store_true", help="do not load the demonstration data")
    commands = parser.add_subparsers(dest="command", title="other commands")
    # A command repeats --data, so that it may stand behind it too; what stood before it is not lost.
    for name, summary in (
        ("backup", "write all that is kept into one file, also while it runs"),
        ("restore", "put what is in a backup in the place of what is kept"),
    ):
        command = commands.add_parser(name, help=summary, description=summary)
        command.add_argument("file", type=Path, metavar="FILE")
        command.add_argument("--data", type=Path, default=argparse.SUPPRESS, help="folder of the database")
    teacher = commands.add_parser(
        "teacher",
        help="make a teacher, or a new sign-in link for one",
        description="Makes a teacher, or a new sign-in link for one who cannot sign in. Also while Geduld runs.",
    )
    teacher.add_argument("does", choices=("add", "link"), help="add a new teacher, or make a link for one there is")
    teacher.add_argument("name_of", metavar="NAME")
    teacher.add_argument("--may-invite", action="store_true", help="the new one may invite others")
    teacher.add_argument("--data", type=Path, default=argparse.SUPPRESS, help="folder of the database")
    return parser


if __name__ == "__main__":
    sys.exit(main())
