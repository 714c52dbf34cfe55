"""Reads programs in Python."""
