"""Finds anything of a teacher's by its name."""
