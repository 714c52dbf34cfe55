"""Exercises that go from teacher to teacher: as a zip, as a copy, or by a link that only looks."""
