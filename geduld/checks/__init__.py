"""Checks: sentences over a run's record, with verdicts, margins and evidence."""
