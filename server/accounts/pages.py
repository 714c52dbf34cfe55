"""The few pages that are shown before anybody is signed in: they need no script."""

from __future__ import annotations

_HEAD = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<meta name="robots" content="noindex"><title>{title} · Geduld</title><style>
:root {{ color-scheme: light dark; --paper: #faf8f3; --ink: #23231f; --leaf: #2c6e3f; --on-leaf: #fff }}
@media (prefers-color-scheme: dark) {{
  :root {{ --paper: #1d1e1b; --ink: #ecebe4; --leaf: #8fcf9f; --on-leaf: #10240f }} }}
body {{ font: 18px/1.5 "DejaVu Sans", sans-serif; max-width: 32em; margin: 12vh auto; padding: 0 1.2em;
  background: var(--paper); color: var(--ink) }}
h1 {{ font-size: 1.5em; line-height: 1.25 }}
button {{ font: inherit; font-weight: 600; padding: .55em 1.3em; border: 0; border-radius: 4px; cursor: pointer;
  background: var(--leaf); color: var(--on-leaf) }}
button:focus-visible {{ outline: 3px solid var(--ink); outline-offset: 2px }}
</style></head><body><main><h1>{title}</h1>"""
_TAIL = "</main></body></html>"


def _page(title: str, body: str) -> str:
    return _HEAD.format(title=title) + body + _TAIL


def sign_in_page(csrf: str) -> str:
    """The button that redeems the link; `csrf` is the token of the form."""
    return _page(
        "Open Geduld",
        "<p>This link signs you in once, in this browser. Whoever presses the button first is signed in.</p>"
        f'<form method="post"><input type="hidden" name="csrfmiddlewaretoken" value="{csrf}">'
        "<button autofocus>Sign in</button></form>",
    )


def used_page() -> str:
    """What is shown for a link that is used up, too old, or none."""
    title = "This sign-in link has been used or is too old"
    return _page(title, "<p>Each link opens Geduld once. Run ./start again: it prints a new one.</p>")


def too_many_page() -> str:
    """What is shown to who guesses."""
    return _page("Too many wrong links", "<p>Wait a minute, then open the link again.</p>")
