"""`python -m geduld.worlds.floor` compiles the physics kernel."""

from geduld.worlds.floor.warm import warm

warm()
