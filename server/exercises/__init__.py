"""Exercises, their cases and the hand-ins for them."""
