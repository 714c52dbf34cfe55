"""Behaviours of the notation written out in a class's language, by its wordbook."""
