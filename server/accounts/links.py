"""Makes and redeems sign-in links."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from server.accounts.models import SignInLink

DEMO_TEACHER = "demo"
VALID_FOR = timedelta(hours=12)


def demo_teacher() -> User:
    """The demonstration teacher, made at the first call."""
    teacher, made = User.objects.get_or_create(username=DEMO_TEACHER, defaults={"first_name": "Demonstration teacher"})
    if made:
        teacher.set_unusable_password()
        teacher.save()
    return teacher


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def make_token(teacher: User) -> str:
    """A new one-time token; older ones that were not used are void."""
    token = secrets.token_urlsafe(24)
    with transaction.atomic():
        SignInLink.objects.filter(teacher=teacher).delete()
        SignInLink.objects.create(teacher=teacher, token_hash=_hash(token), expires=timezone.now() + VALID_FOR)
    return token


def redeem(token: str) -> User | None:
    """The teacher of a token that is valid and unused; the token is used up by this."""
    with transaction.atomic():
        link = SignInLink.objects.filter(token_hash=_hash(token)).select_related("teacher").first()
        if link is None:
            return None
        link.delete()
    return link.teacher if link.expires > timezone.now() else None
