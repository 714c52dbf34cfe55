"""Bound steps turned into a generator of requests, and what drives it in whatever world."""
