"""Brings a plan and a rig together: names, dimensions, and what the rig cannot do."""
