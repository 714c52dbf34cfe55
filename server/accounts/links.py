"""Makes and redeems links: those that sign in once, and those that invite."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from server.accounts.models import Invitation, SignInLink
from server.accounts.teachers import make_teacher

FIRST_TEACHER = "Demonstration teacher"
VALID_FOR = timedelta(hours=12)
INVITED_FOR = timedelta(days=7)


def first_teacher(name: str = FIRST_TEACHER) -> User:
    """The teacher who starts Geduld, and may invite others: made at the first call, with a name to sign in by.

    Raises ValidationError for a name that cannot be had.
    """
    teacher = User.objects.order_by("pk").first()
    if teacher is None:
        return make_teacher(name, is_staff=True)
    if not teacher.is_staff and not User.objects.filter(is_staff=True).exists():
        teacher.is_staff = True
        teacher.save()
    return teacher


def hash_of(token: str) -> str:
    """What is kept of a token."""
    return hashlib.sha256(token.encode()).hexdigest()


def make_token(teacher: User) -> str:
    """A new one-time token; older ones that were not used are void."""
    token = secrets.token_urlsafe(24)
    with transaction.atomic():
        SignInLink.objects.filter(teacher=teacher).delete()
        SignInLink.objects.create(teacher=teacher, token_hash=hash_of(token), expires=timezone.now() + VALID_FOR)
    return token


def is_good(token: str) -> bool:
    """Whether a token can be redeemed. Nothing is used up by asking."""
    return SignInLink.objects.filter(token_hash=hash_of(token), expires__gt=timezone.now()).exists()


def redeem(token: str) -> User | None:
    """The teacher of a token that is valid and unused; the token is used up by this.

    A wrong one is only looked up: who guesses keeps nobody else from writing.
    """
    link = SignInLink.objects.filter(token_hash=hash_of(token)).select_related("teacher").first()
    if link is None or not SignInLink.objects.filter(pk=link.pk).delete()[0]:
        return None
    return link.teacher if link.expires > timezone.now() else None


def invite(teacher: User, note: str = "") -> str:
    """The token of a link by which one more teacher makes an account."""
    token = secrets.token_urlsafe(24)
    expires = timezone.now() + INVITED_FOR
    Invitation.objects.create(made_by=teacher, note=note[:100], token_hash=hash_of(token), expires=expires)
    return token


def invitation(token: str) -> Invitation | None:
    """The invitation of a token, as long as it holds. Nothing is used up by asking."""
    return Invitation.objects.filter(token_hash=hash_of(token), expires__gt=timezone.now()).first()
