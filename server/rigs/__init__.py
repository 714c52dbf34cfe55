"""Rigs at work: what was measured of them, what that says, and what they were before."""
