"""Geduld: author, simulate, check and grade robot behaviours. This is the core, without web or database."""
