"""Settings, addresses, and what all apps share."""
