"""Exercises, hand-ins and marks."""
