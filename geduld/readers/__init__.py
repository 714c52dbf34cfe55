"""Readers: each turns a text in one language into a program that can be run, judged and shown."""
