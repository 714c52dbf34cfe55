"""Runs in worlds where what is done changes what is read: time only goes forward."""
