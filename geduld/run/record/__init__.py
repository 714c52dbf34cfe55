"""What a run did: its record, how it is written down, and how far it can be trusted."""
