"""Grading and the mark sheet."""
