"""The robot as described: parts on ports, sizes, directions, timing."""
