"""Wordbooks: what the functions of a class's robot library are called, and what they mean."""
