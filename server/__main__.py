"""Starts the server: brings the database up to date, loads the demonstration data, serves, prints the link."""

from __future__ import annotations

import argparse
import os
import socket
import sys
import threading
from pathlib import Path


def main() -> int:
    """Runs until it is interrupted. 2 when it cannot start, with one line that says why."""
    parser = argparse.ArgumentParser(prog="./start", description="Starts Geduld.")
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (default 127.0.0.1)")
    parser.add_argument("--port", type=int, default=8000, help="port to listen on (default 8000)")
    parser.add_argument("--data", type=Path, help="folder for the database (default data/)")
    parser.add_argument("--no-demo", action="store_true", help="do not load the demonstration data")
    options = parser.parse_args()
    listener = _listen(options.host, options.port)
    if listener is None:
        return 2
    if options.data:
        os.environ["GEDULD_DATA"] = str(options.data.resolve())
    if options.host not in ("127.0.0.1", "localhost", "::1"):
        os.environ.setdefault("GEDULD_HOSTS", "*")
    _serve(listener, options)
    return 0


def _listen(host: str, port: int) -> socket.socket | None:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    # Small answers must not wait for the client's delayed acknowledgement: dragging feels it.
    listener.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    try:
        listener.bind((host, port))
        listener.listen(128)
    except (OSError, OverflowError) as problem:
        reason = getattr(problem, "strerror", None) or "not a port"
        other = port + 1 if 0 < port < 65_535 else 8001
        print(f"Port {port} on {host} cannot be used: {reason}. Try: ./start --port {other}", file=sys.stderr)
        return None
    return listener


def _serve(listener: socket.socket, options: argparse.Namespace) -> None:
    from django.core.management import call_command
    from waitress.server import create_server

    from server.config.wsgi import application

    call_command("migrate", verbosity=0, interactive=False)
    from geduld.worlds.floor.warm import warm
    from server.accounts.links import demo_teacher, make_token
    from server.config.settings import ROOT
    from server.demo import load_demo
    from server.shelf.models import Rig

    teacher = demo_teacher()
    if not options.no_demo and not Rig.objects.exists():
        load_demo(ROOT / "demo", teacher)
    # The floor's physics takes a second to load: it may do that before anyone asks for a floor.
    threading.Thread(target=warm, daemon=True).start()
    server = create_server(application, sockets=[listener], threads=8, max_request_body_size=70_000_000)
    host = f"[{options.host}]" if ":" in options.host else options.host
    link = f"http://{host}:{listener.getsockname()[1]}/sign-in/{make_token(teacher)}"
    print(f"Geduld is ready. Open this link; it signs you in once:\n  {link}")
    print("Stop it with Ctrl+C.", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        print("Geduld has stopped.")


if __name__ == "__main__":
    sys.exit(main())
