"""Calibration: what a tape measured, what it says about the rig, and what to measure next."""
