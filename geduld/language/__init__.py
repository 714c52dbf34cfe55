"""The notation: text to plan and back."""
