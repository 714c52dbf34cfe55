"""Readings as they come: lines that a board prints, read as a recording is, batch by batch."""
