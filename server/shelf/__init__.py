"""Rigs, traces and behaviours."""
