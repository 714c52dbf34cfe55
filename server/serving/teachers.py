"""Makes teachers and their links from the command line."""

from __future__ import annotations

from server.serving.folder import DATABASE
from server.serving.trouble import Trouble


def teacher_link(does: str, name: str, may_invite: bool) -> str:
    """The path of a link that signs a teacher in once: of a new one, or of one there is.

    Raises Trouble where there is no such teacher, or one already, or no database yet.
    """
    import django

    from server.config import settings

    if not (settings.DATA / DATABASE).exists():
        raise Trouble(f"There is no database in {settings.DATA} yet. Run ./start first.")
    import os

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    django.setup()
    from django.contrib.auth.models import User
    from django.core.exceptions import ValidationError

    from server.accounts.links import make_token
    from server.accounts.teachers import make_teacher

    if does == "add":
        try:
            teacher = make_teacher(name, is_staff=may_invite)
        except ValidationError as problem:
            raise Trouble(" ".join(problem.messages)) from None
    else:
        found = User.objects.filter(username__iexact=name).first() or User.objects.filter(first_name=name).first()
        if found is None:
            known = ", ".join(User.objects.order_by("first_name").values_list("first_name", flat=True))
            raise Trouble(f'There is no teacher called "{name}". There are: {known or "none"}.')
        teacher = found
    return (
        f"Open this behind Geduld's address; it signs {teacher.first_name} in once:\n  /sign-in/{make_token(teacher)}"
    )
