"""Who the teachers are: new ones, their passwords, their sessions."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import login
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.http import HttpRequest

from geduld.readers.owners import plain_name
from server.accounts.models import Invitation, Presence

BACKEND = "django.contrib.auth.backends.ModelBackend"
MOST_NAME = 60


def sign_in_as(request: HttpRequest, teacher: User) -> None:
    """Begins a session."""
    login(request, teacher, backend=BACKEND)
    request.session.save()
    known = Presence.objects.filter(teacher=teacher)
    known.exclude(session_key__in=Session.objects.values("session_key")).delete()
    Presence.objects.get_or_create(session_key=request.session.session_key, defaults={"teacher": teacher})


def end_sessions(teacher: User) -> None:
    """Ends all sessions of a teacher."""
    with transaction.atomic():
        keys = list(Presence.objects.filter(teacher=teacher).values_list("session_key", flat=True))
        Session.objects.filter(session_key__in=keys).delete()
        Presence.objects.filter(teacher=teacher).delete()


def named(name: str) -> str:
    """A name as it is kept: without spaces around it. Raises ValidationError for one that cannot be had."""
    name = plain_name(name)
    if not 2 <= len(name) <= MOST_NAME or not name.isprintable():
        raise ValidationError(f"A name has 2 to {MOST_NAME} characters.")
    return name


def known_by(name: str) -> str:
    """The name that the database has for what somebody signs in with: capitals do not matter, nor spaces around it.

    Accounts of earlier versions were shown under another name than the one they had: that one is good too.
    """
    name = plain_name(name)
    for field in ("username__iexact", "first_name__iexact"):
        found = list(User.objects.filter(**{field: name})[:2])
        if len(found) == 1:
            return found[0].username
    return name


def rename(teacher: User, name: str) -> None:
    """Gives a teacher another name, to be seen and to sign in by. Raises ValidationError where it cannot be had."""
    name = named(name)
    others = User.objects.exclude(pk=teacher.pk)
    if others.filter(username__iexact=name).exists() or others.filter(first_name__iexact=name).exists():
        raise ValidationError(f'There is a teacher called "{name}" already. Choose another name.')
    teacher.username = teacher.first_name = name
    try:
        with transaction.atomic():
            teacher.save(update_fields=["username", "first_name"])
    except IntegrityError:
        raise ValidationError(f'There is a teacher called "{name}" already. Choose another name.') from None


def set_password(teacher: User, password: str) -> None:
    """Gives a teacher another password, and ends all sessions. Raises ValidationError for a weak one."""
    validate_password(password, teacher)
    teacher.set_password(password)
    teacher.save()
    end_sessions(teacher)


def make_teacher(name: str, password: str = "", **more: Any) -> User:
    """A new teacher, who signs in by name and password, or by links alone.

    Raises ValidationError for a name that somebody has already, or a weak password.
    """
    name = named(name)
    teacher = User(username=name, first_name=name, **more)
    if User.objects.filter(username__iexact=name).exists():
        raise ValidationError(f'There is a teacher called "{name}" already. Choose another name.')
    if password:
        validate_password(password, teacher)
        teacher.set_password(password)
    else:
        teacher.set_unusable_password()
    try:
        with transaction.atomic():
            teacher.save()
    except IntegrityError:
        raise ValidationError(f'There is a teacher called "{name}" already. Choose another name.') from None
    return teacher


def accept(invited: Invitation, name: str, password: str) -> User | None:
    """The teacher that an invitation makes; it is used up by this. None when somebody was quicker.

    Raises ValidationError for a name or a password that cannot be had: then the invitation holds on.
    """
    with transaction.atomic():
        teacher = make_teacher(name, password)
        if not Invitation.objects.filter(pk=invited.pk).delete()[0]:
            transaction.set_rollback(True)
            return None
        return teacher
