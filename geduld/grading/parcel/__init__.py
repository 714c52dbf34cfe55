"""Parcels: an exercise with all it needs, as a folder of open files in one zip."""
