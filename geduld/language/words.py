"""The notation's own words, which no part, value or routine may be called."""

from __future__ import annotations

from geduld.language.quantities import UNITS

STEP_WORDS = (
    "drive", "turn", "stop", "wait", "repeat", "leave", "if", "by", "do", "side", "set", "start", "reset", "send",
    "note", "finish",
)  # fmt: skip
OTHER_WORDS = (
    "behaviour", "check", "for", "rig", "let", "begin", "at", "on", "off", "until", "held", "patience",
    "otherwise", "keep", "going", "times", "while", "else", "to", "all", "unless", "lane", "braking", "coasting",
    "follows", "from", "over", "under", "slack", "with", "about", "include", "library", "just", "message",
    "and", "or", "not", "is", "between", "pressed", "released", "absent", "clock", "pi", "reference", "mark",
)  # fmt: skip
# Words of checks that no pattern has for itself: of the line above the sentence, and of the places that it may name.
CHECK_WORDS = (
    "points", "point", "mean", "each", "least", "cases", "private", "fading", "nothing", "within",
    "inside", "of", "cart", "heading", "keeps", "sent", "noted", "finished", "gripped", "placed", "dropped",
    "carried", "stalled", "line", "waiting", "still", "partner",
)  # fmt: skip
OVER_CASES = ("mean", "least", "each")
POSE = ("cart.x", "cart.y", "heading")
FUNCTIONS = {"abs": (1, 1), "min": (2, 8), "max": (2, 8), "clamp": (3, 3), "round": (1, 1), "scale": (5, 5)}

RESERVED = frozenset((*STEP_WORDS, *OTHER_WORDS, *FUNCTIONS, *UNITS))
STATES = {"pressed": True, "released": False, "on": True, "off": False}
JUST = ("just pressed", "just released")
STOP_STYLES = ("braking", "coasting")
CONTROLS = STOP_STYLES  # what a motor can be told to do besides having a power, as checks ask for it
OTHERS = ("reference", "partner")  # whose run a check may ask for beside the program's own
TOLD = (
    "sent",
    "noted",
    "finished",
    "gripped",
    "placed",
    "dropped",
    "carried",
    "stalled",
)  # what a record tells of a text
WAYS = ("time", "encoder")
PIVOTS = ("centre", "left wheel", "right wheel")


def why_not_a_name(word: str) -> str | None:
    """Why `word` cannot name a part or a value, or None when it can."""
    if word in UNITS:
        return f'"{word}" is a unit'
    if word in RESERVED:
        return f'"{word}" is a word of the notation'
    if not word.isidentifier():
        return f'"{word}" is not a name: a name is letters, digits and _, and starts with a letter'
    return None
