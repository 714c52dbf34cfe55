"""Programs in other languages as our own generators: words, waits, loops, limits, whatever language they came from."""
