"""Serves: brings the database up to date, loads the demonstration, takes up what was left, prints the link."""

from __future__ import annotations

import argparse
import contextlib
import os
import resource
import signal
import socket
import threading
from typing import Any

from server.serving.folder import (
    DATABASE,
    give_up_spared,
    has_no_room,
    in_use,
    is_small,
    looked_at,
    prepared,
    secret_key,
    the_only_server,
)
from server.serving.health import look_through
from server.serving.names import in_address, reached_as
from server.serving.nightly import copy_nightly
from server.serving.trouble import Trouble
from server.serving.upgrade import upgrade

THREADS = 64
MOST_CONNECTIONS = 1_000
IDLE_S = 30
LARGEST_BODY = 205_000_000


def serve(options: argparse.Namespace) -> None:
    """Runs until it is interrupted. Raises Trouble when it cannot start."""
    listener = _listen(options.host, options.port)
    names = reached_as(options.host, options.name)
    os.environ.setdefault("GEDULD_HOSTS", ",".join(map(in_address, names)))
    if options.behind_tls:
        os.environ["GEDULD_TLS"] = "1"
    from server.config.settings import DATA

    folder = prepared(DATA)
    secret_key(folder)
    # Before anything is written: who is told to stop closes the database, and leaves no journal beside it.
    signal.signal(signal.SIGTERM, _interrupt)
    try:
        if has_no_room(folder):
            print("The disk is full: little can be saved. Empty the trash, or make room on the disk.", flush=True)
            give_up_spared(folder)
        with in_use(folder):
            looked_at(folder / DATABASE, whole=is_small(folder / DATABASE))
        upgraded = upgrade(folder)
        if upgraded:
            print(upgraded)
        with in_use(folder), the_only_server(folder):
            _serve(listener, options, names[0])
    except KeyboardInterrupt:
        with contextlib.suppress(BrokenPipeError):
            print("Geduld has stopped.", flush=True)


def _listen(host: str, port: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    # Small answers must not wait for the client's delayed acknowledgement: dragging feels it.
    listener.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    try:
        listener.bind((host, port))
        listener.listen(1024)
    except (OSError, OverflowError) as problem:
        listener.close()
        reason = getattr(problem, "strerror", None) or "not a port"
        other = port + 1 if 0 < port < 65_535 else 8001
        raise Trouble(f"Port {port} on {host} cannot be used: {reason}. Try: ./start --port {other}") from None
    return listener


def _serve(listener: socket.socket, options: argparse.Namespace, name: str) -> None:
    from django.db import DatabaseError

    from server.config.settings import DATA
    from server.config.wsgi import application

    try:
        link = _prepare(options)
    except DatabaseError as problem:
        where = f"python -m server restore FILE --data {DATA}"
        raise Trouble(f"The database in {DATA} cannot be used ({problem}). Restore a backup: {where}") from None
    from server.config.apart import stop_all
    from server.config.space import spare

    if not has_no_room(DATA):
        spare()
    if options.nightly:
        copy_nightly(DATA)
    if not is_small(DATA / DATABASE):
        look_through(DATA / DATABASE)
    server = _server(application, listener, options.behind_tls)
    number = listener.getsockname()[1]
    port = "" if options.behind_tls else f":{number}"
    scheme = "https" if options.behind_tls else "http"
    opened = f"{scheme}://{in_address(name)}{port}/sign-in/{link}"
    try:
        if options.behind_tls:
            print(f"It waits for its proxy at http://{in_address(options.host)}:{number}")
        print(f"Geduld is ready. Open this link; it signs you in once:\n  {opened}")
        print("Stop it with Ctrl+C.", flush=True)
        server.run()
    finally:
        stop_all()


def _interrupt(number: int, frame: Any) -> None:
    raise KeyboardInterrupt


def _prepare(options: argparse.Namespace) -> str:
    """What is done before the first request: the token of the link that is printed."""
    from django.core.exceptions import ValidationError
    from django.core.management import call_command

    call_command("migrate", verbosity=0, interactive=False)
    from server.accounts.links import FIRST_TEACHER, first_teacher, make_token
    from server.config.settings import ROOT
    from server.config.space import can_shrink
    from server.demo import load_demo
    from server.marks.jobs import start, take_up
    from server.marks.services import KINDS, grade
    from server.shelf.models import Rig
    from server.shelf.trash import empty_old

    can_shrink()
    empty_old()
    try:
        teacher = first_teacher(options.teacher or FIRST_TEACHER)
    except ValidationError as problem:
        raise Trouble(f"--teacher {options.teacher}: {' '.join(problem.messages)}") from None
    new = not options.no_demo and not Rig.with_trash.exists()
    shown = load_demo(ROOT / "demo", teacher) if new else None
    # The floor's physics takes a second to load: the processes that need it may do that before anyone asks. What was
    # handed in and not looked at, as Geduld was stopped, is looked at then.
    threading.Thread(target=_warm_up, daemon=True).start()
    left = take_up(KINDS)
    if left:
        print(f"{left} pieces of work that were going on when Geduld was stopped are taken up again.")
    if shown is not None:
        start("grade", shown, grade)  # who is new here sees a class that is graded
    return make_token(teacher)


def _warm_up() -> None:
    from django.db import connection

    from server.classes.tries import take_up
    from server.config.apart import start

    start()
    take_up()
    connection.close()


def _server(application: Any, listener: socket.socket, behind_tls: bool) -> Any:
    from waitress.server import create_server

    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = 4 * MOST_CONNECTIONS
    if soft < wanted:
        most = wanted if hard == resource.RLIM_INFINITY else min(wanted, hard)
        resource.setrlimit(resource.RLIMIT_NOFILE, (most, hard))
    proxied: dict[str, Any] = {}
    if behind_tls:
        proxied = {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": "x-forwarded-proto x-forwarded-for"}
    return create_server(
        application,
        sockets=[listener],
        threads=THREADS,
        max_request_body_size=LARGEST_BODY,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=5,
        asyncore_use_poll=True,
        ident="",
        **proxied,
    )
