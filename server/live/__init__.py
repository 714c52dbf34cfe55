"""Readings as they come from robots: over the network with a key, or from a browser that reads a cable."""
