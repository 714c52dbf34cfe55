"""Virtual time: runs a bound plan in a world and keeps the record."""
