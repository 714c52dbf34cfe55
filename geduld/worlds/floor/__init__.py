"""Floors: simulated places."""
