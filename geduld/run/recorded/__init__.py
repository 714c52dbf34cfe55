"""Runs on recordings: all that will be read is known before the run."""
