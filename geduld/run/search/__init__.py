"""When a condition comes true in a recording."""
