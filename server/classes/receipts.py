"""Receipts: a short fingerprint of what came from whom and when, which only this server can make."""

from __future__ import annotations

import base64
import hashlib
import hmac
from datetime import datetime

from django.utils.crypto import salted_hmac

LENGTH = 12


def fingerprint(exercise: str, student: str, number: int, received: datetime, data: bytes) -> str:
    """The fingerprint of one try: a keyed hash over the codes, the number, the instant and the bytes."""
    digest = hashlib.sha256(data).hexdigest()
    said = "|".join((exercise, student, str(number), received.isoformat(), digest))
    made = salted_hmac("geduld.receipt", said, algorithm="sha256").digest()
    letters = base64.b32encode(made).decode()[:LENGTH]
    return "-".join(letters[at : at + 4] for at in range(0, LENGTH, 4))


def is_of(told: str, exercise: str, student: str, number: int, received: datetime, data: bytes) -> bool:
    """Whether a fingerprint is that of a try."""
    return hmac.compare_digest(told.strip().upper(), fingerprint(exercise, student, number, received, data))
