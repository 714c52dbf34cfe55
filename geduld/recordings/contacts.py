"""Words that recordings have for a contact that is pressed, and for one that is not."""

from __future__ import annotations

PRESSED = ("1", "true", "yes", "on", "high", "pressed", "closed", "ja", "gedrückt")
RELEASED = ("0", "false", "no", "off", "low", "released", "open", "nein", "aus", "frei", "offen")
CONTACT_WORDS = dict.fromkeys(PRESSED, 1.0) | dict.fromkeys(RELEASED, 0.0)
