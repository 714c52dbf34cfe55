"""Teachers and how they sign in."""
