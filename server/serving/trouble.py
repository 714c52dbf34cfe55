"""What keeps a command of the server from being done."""

from __future__ import annotations


class Trouble(Exception):
    """One line for whoever gave the command: what happened, and what to do."""
