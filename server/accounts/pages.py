"""The few pages that are shown before anybody is signed in: they need no script."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

_HEAD = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta name="robots" content="noindex"><title>{title} · Geduld</title><style>
:root {{ color-scheme: light dark; --paper: #faf8f3; --ink: #23231f; --leaf: #2c6e3f; --on-leaf: #fff; --clay: #a23a25;
  --rule: #8d8a7d; --sheet: #fffdf8 }}
@media (prefers-color-scheme: dark) {{
  :root {{ --paper: #1d1e1b; --ink: #ecebe4; --leaf: #8fcf9f; --on-leaf: #10240f; --clay: #f29a83; --rule: #8d8a7d;
    --sheet: #26271f }} }}
body {{ font: 18px/1.5 "DejaVu Sans", sans-serif; max-width: 32em; margin: 10vh auto; padding: 0 1.2em;
  background: var(--paper); color: var(--ink) }}
h1 {{ font-size: 1.5em; line-height: 1.25 }}
label {{ display: block; margin: .8em 0 .2em; font-weight: 600 }}
input {{ font: inherit; width: 100%; box-sizing: border-box; padding: .45em .6em; border: 1px solid var(--rule);
  border-radius: 4px; background: var(--sheet); color: var(--ink) }}
button {{ font: inherit; font-weight: 600; margin-top: 1.2em; padding: .55em 1.3em; border: 0; border-radius: 4px;
  cursor: pointer; background: var(--leaf); color: var(--on-leaf) }}
:focus-visible {{ outline: 3px solid var(--leaf); outline-offset: 2px }}
.trouble {{ color: var(--clay); font-weight: 600 }}
a {{ color: var(--leaf) }}
small {{ display: block; font-size: .85em }}
</style></head><body><main><h1>{title}</h1>"""
_TAIL = "</main></body></html>"


def _page(title: str, body: str) -> str:
    return _HEAD.format(title=escape(title)) + body + _TAIL


def _troubles(troubles: Sequence[str]) -> str:
    return "".join(f'<p class="trouble" role="alert">{escape(trouble)}</p>' for trouble in troubles)


def _form(csrf: str, fields: str, button: str) -> str:
    hidden = f'<input type="hidden" name="csrfmiddlewaretoken" value="{csrf}">'
    return f'<form method="post">{hidden}{fields}<button>{button}</button></form>'


def _name(name: str, hint: str = "") -> str:
    return (
        f'<label for="name">Name</label><input id="name" name="name" value="{escape(name)}" maxlength="60" required '
        f'autocomplete="username" autofocus>{hint}'
    )


def _password(word: str, kind: str) -> str:
    return (
        f'<label for="password">{word}</label><input id="password" name="password" type="password" maxlength="500" '
        f'required autocomplete="{kind}">'
    )


def password_page(csrf: str, name: str = "", troubles: Sequence[str] = ()) -> str:
    """The form for name and password."""
    fields = _name(name) + _password("Password", "current-password")
    more = (
        "<p>Forgotten it? A colleague who may invite others makes you a new link, and so does "
        "<code>python -m server teacher link NAME</code> on the machine that Geduld runs on. "
        'Students hand in at <a href="/hand-in">the hand-in page</a>.</p>'
    )
    return _page("Sign in to Geduld", _troubles(troubles) + _form(csrf, fields, "Sign in") + more)


def invitation_page(csrf: str, name: str = "", troubles: Sequence[str] = ()) -> str:
    """The form with which an invited teacher makes an account."""
    hint = "<small>Colleagues see it. Your school's name for you will do; no mail address is needed.</small>"
    fields = _name(name, hint) + _password("A password of at least 10 characters", "new-password")
    return _page("You are invited to Geduld", _troubles(troubles) + _form(csrf, fields, "Make my account"))


def sign_in_page(csrf: str) -> str:
    """The button that redeems the link; `csrf` is the token of the form."""
    return _page(
        "Open Geduld",
        "<p>This link signs you in once, in this browser. Whoever presses the button first is signed in.</p>"
        + _form(csrf, "", "Sign in"),
    )


def used_page() -> str:
    """What is shown for a link that is used up, too old, or none."""
    title = "This sign-in link has been used or is too old"
    return _page(title, "<p>Each link opens Geduld once. Run ./start again: it prints a new one.</p>")


def not_invited_page() -> str:
    """What is shown for an invitation that is used up, too old, or none."""
    title = "This invitation has been used or is too old"
    return _page(title, "<p>Ask the colleague who sent it for a new one.</p>")


def too_many_page() -> str:
    """What is shown to who guesses."""
    return _page("Too many wrong tries", "<p>Wait a minute, then try again.</p>")
