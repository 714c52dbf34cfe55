"""What answers when a program reads a sensor."""
