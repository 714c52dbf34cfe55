"""Recordings: files that are looked at before they become traces, and what is done with traces."""
