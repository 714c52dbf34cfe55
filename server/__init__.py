"""The web server: keeps rigs, traces, behaviours, exercises and marks, and calls the core."""
