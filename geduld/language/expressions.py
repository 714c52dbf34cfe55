"""Reads expressions: `not`, `and`, `or`, comparisons, arithmetic, numbers with units."""

from __future__ import annotations

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.lexer import Token
from geduld.language.mending import ODD_UNIT
from geduld.language.messages import Problem, Span, error, listed, nearest
from geduld.language.quantities import UNITS
from geduld.language.words import CONTROLS, FUNCTIONS, JUST, STATES, TOLD

COMPARISONS = ("<", "<=", ">", ">=", "=", "!=")
_OR, _AND, _COMPARISON, _SUM, _PRODUCT = range(1, 6)
_RANKS = {"or": _OR, "and": _AND, "+": _SUM, "-": _SUM, "*": _PRODUCT, "/": _PRODUCT}
_RANKS |= dict.fromkeys((*COMPARISONS, "is", "between", "follows", "keeps"), _COMPARISON)
MOST_DEPTH = 40
MOST_SIGNS = 100
_EXAMPLE = "Write for example: range < 40 cm"


def expression(cursor: Cursor) -> tree.Expression:
    """An expression, as far as it goes."""
    cursor.depth += 1
    if cursor.depth > MOST_DEPTH:
        message = f"Parentheses or signs stand inside each other more than {MOST_DEPTH} deep."
        remedy = "Give a part of it a name with let."
        raise Problem(error("too-deep", cursor.token.span, message, remedy))
    result = _climb(cursor, _OR)
    cursor.depth -= 1
    return result


def single_condition(cursor: Cursor) -> tree.Expression:
    """A condition that joins none: `and` behind it belongs to the sentence around it. Raises Problem."""
    return _climb(cursor, _COMPARISON)


def arithmetic(cursor: Cursor) -> tree.Expression:
    """Sums and products, without comparisons."""
    return _climb(cursor, _SUM)


def _climb(cursor: Cursor, least: int) -> tree.Expression:
    """An expression of signs that bind at least so tightly, by climbing over their ranks."""
    first, texts = cursor.position, cursor.texts
    compared = texts[first] == "not" and least <= _COMPARISON
    left = _not(cursor) if compared else _signed(cursor)
    count = 0
    while True:
        rank = _RANKS.get(texts[cursor.position], 0)
        if rank < least or (compared and rank >= _COMPARISON):
            return left
        if rank == _COMPARISON:
            left, compared = _compared(cursor, left, cursor.tokens[first].span), True
            continue
        count += 1
        cursor.signs += 1
        if count > MOST_DEPTH or cursor.signs > MOST_SIGNS:
            what = (
                f"{MOST_DEPTH} values are chained in one expression"
                if count > MOST_DEPTH
                else f"{MOST_SIGNS} values are joined on one line"
            )
            message = f"More than {what}."
            remedy = "Give a part of it a name with let."
            raise Problem(error("too-deep", cursor.token.span, message, remedy))
        sign = cursor.next().text
        left = tree.Binary(sign, left, _climb(cursor, rank + 1), span=cursor.since(cursor.tokens[first]))
        compared = compared or rank <= _AND


def _not(cursor: Cursor) -> tree.Expression:
    start = cursor.token.span
    turned = 0
    while cursor.take("not"):
        turned += 1
        if turned > MOST_DEPTH:
            raise Problem(error("too-deep", start, "Too many times not in a row.", "Keep one, or none."))
    result = _climb(cursor, _COMPARISON)
    for _ in range(turned):
        result = tree.Not(result, span=cursor.since(start))
    return result


def _compared(cursor: Cursor, left: tree.Expression, start: Span) -> tree.Expression:
    if cursor.at("is"):
        return _state(cursor, left)
    if cursor.take("follows"):
        wanted = arithmetic(cursor)
        cursor.expect("within", "behind what is followed", "Write for example: drive follows range * 2 %/cm within 5 %")
        return tree.Follows(left, wanted, arithmetic(cursor), span=cursor.since(start))
    if cursor.take("keeps"):
        wanted = arithmetic(cursor)
        cursor.expect("+-", "and the tolerance", "Write for example: left keeps 200 deg/s +- 10 %")
        return tree.Keeps(left, wanted, arithmetic(cursor), span=cursor.since(start))
    if cursor.take("between"):
        low = arithmetic(cursor)
        cursor.expect("and", "between the two ends", "Write for example: range between 10 cm and 20 cm")
        high = arithmetic(cursor)
        return tree.Between(left, low, high, span=cursor.since(start))
    sign = cursor.next().text
    if sign == "=" and cursor.text == "=":
        remedy = "Write one = sign."
        raise Problem(error("unexpected", cursor.token.span, 'Equality is written with one "=".', remedy, ""))
    right = arithmetic(cursor)
    if sign == "=" and cursor.take("+-"):
        tolerance = arithmetic(cursor)
        return tree.Near(left, right, tolerance, span=cursor.since(start))
    if cursor.text in COMPARISONS:
        message = "Two comparisons stand in a row."
        remedy = "Write: range between 10 cm and 20 cm, or join two comparisons with and."
        raise Problem(error("chained-comparison", cursor.token.span, message, remedy))
    return tree.Binary(sign, left, right, span=cursor.since(start))


def _state(cursor: Cursor, value: tree.Expression) -> tree.Expression:
    start = value.span
    cursor.next()
    states = (*STATES, "absent", *CONTROLS, *JUST)
    token = cursor.token
    if token.kind == "text":
        cursor.next()
        return tree.Says(value, token.text[1:-1], span=cursor.since(start))
    if cursor.take("within"):
        distance = arithmetic(cursor)
        example = 'Write for example: cart is within 4 cm of mark "A"'
        if not cursor.take("of", "mark"):
            raise cursor.unexpected('"of mark"', example)
        return tree.Within(value, distance, _quoted(cursor, example), span=cursor.since(start))
    if cursor.take("inside"):
        corridor = _quoted(cursor, 'Write for example: cart is inside "aisle"')
        return tree.Inside(value, corridor, span=cursor.since(start))
    if token.kind == "number" or token.text == "-":
        wanted = arithmetic(cursor)
        cursor.expect("+-", "and the tolerance", "Write for example: heading is 90 deg +- 5 deg")
        return tree.Towards(value, wanted, arithmetic(cursor), span=cursor.since(start))
    for state in JUST:
        if cursor.take(*state.split()):
            return tree.Is(value, state, span=cursor.since(start))
    if token.kind == "word" and token.text in states:
        cursor.next()
        return tree.Is(value, token.text, span=cursor.since(start))
    like = nearest(token.text, states) if token.kind == "word" else None
    remedy = f"Write {listed(states)} behind is."
    message = f'"{token.text}" cannot stand behind "is".' if token.text else 'Something is missing behind "is".'
    raise Problem(error("unknown-state", token.span, message, remedy, like))


def _quoted(cursor: Cursor, example: str) -> str:
    text = cursor.take_kind("text")
    if text is None:
        raise cursor.unexpected("a name in quotation marks", example)
    return text.text[1:-1]


def _signed(cursor: Cursor) -> tree.Expression:
    if cursor.text != "-":
        return _primary(cursor)
    start = cursor.next().span
    cursor.depth += 1
    if cursor.depth > MOST_DEPTH:
        raise Problem(error("too-deep", start, "Too many minus signs in a row.", "Keep one, or none."))
    value = _signed(cursor)
    cursor.depth -= 1
    return tree.Minus(value, span=cursor.since(start))


def _primary(cursor: Cursor) -> tree.Expression:
    token = cursor.token
    if token.kind == "number":
        return number(cursor)
    if token.kind == "text":
        cursor.next()
        return tree.Text(token.text[1:-1], span=token.span)
    if cursor.take("("):
        inner = expression(cursor)
        cursor.expect(")", "to close the parenthesis", "Put a ) behind it.")
        return inner
    if token.kind == "word":
        return _name_or_call(cursor)
    if token.text in (".", ","):
        raise cursor.unexpected("a value", "Numbers are written like 0.5, with a point and a digit before it.")
    raise cursor.unexpected("a value", _EXAMPLE)


def _name_or_call(cursor: Cursor) -> tree.Expression:
    token = cursor.next()
    if cursor.at("("):
        return _call(cursor, token.text)
    if token.text in FUNCTIONS and token.text not in UNITS:
        message = f"{token.text} needs its values in parentheses."
        raise Problem(error("unexpected", token.span, message, f"Write for example: {token.text}(range)"))
    if token.text == "partner" and cursor.text in TOLD:
        word = cursor.next().text
        return tree.Told(
            word, _quoted(cursor, f'Write for example: partner {word} "done"'), True, span=cursor.since(token)
        )
    if token.text in TOLD and cursor.token.kind == "text":
        return tree.Told(token.text, cursor.next().text[1:-1], span=cursor.since(token))
    if token.text == "line" and cursor.token.kind == "number":
        return _line(cursor, token)
    name = dotted(cursor, token)
    return tree.Name(name, span=cursor.since(token))


def _line(cursor: Cursor, start: Token) -> tree.Expression:
    """`line 12 is waiting`."""
    number = cursor.next()
    if not (number.text.isdigit() and cursor.take("is", "waiting")):
        raise cursor.unexpected('"is waiting" behind a line\'s number', "Write for example: line 12 is waiting")
    return tree.Told("line", number.text, span=cursor.since(start))


def dotted(cursor: Cursor, first: Token) -> str:
    """A name with its properties: `wheel.diameter`."""
    name = first.text
    while cursor.take("."):
        part = cursor.take_kind("word")
        if part is None:
            raise cursor.unexpected("a property", "Write for example: wheel.diameter")
        name += f".{part.text}"
    return name


def _call(cursor: Cursor, function: str) -> tree.Expression:
    start = cursor.last_span
    cursor.expect("(", f"behind {function}", f"Write for example: {function}(range)")
    values = [expression(cursor)]
    if function == "scale":
        values += _scale(cursor)
    while cursor.take(","):
        values.append(expression(cursor))
    cursor.expect(")", "to close the parenthesis", "Put a ) behind the last value.")
    span = cursor.since(start)
    least, most = FUNCTIONS.get(function, (1, 8))
    if not least <= len(values) <= most:
        wanted = str(least) if least == most else f"{least} to {most}"
        message = f"{function} takes {wanted} values, and {len(values)} are given."
        raise Problem(error("value-count", span, message, "Add or take away a value."))
    return tree.Call(function, tuple(values), span=span)


def _scale(cursor: Cursor) -> list[tree.Expression]:
    """The four ends of `scale(x, from A to B, to C to D)`."""
    example = "Write for example: scale(knob, from 0 % to 100 %, to 10 deg to 90 deg)"
    values = []
    for word in ("from", "to"):
        cursor.expect(",", f"before {word}", example)
        cursor.expect(word, "behind the comma", example)
        values.append(arithmetic(cursor))
        cursor.expect("to", "between the two ends", example)
        values.append(arithmetic(cursor))
    return values


def number(cursor: Cursor) -> tree.Number:
    """A number with its unit: `40 cm`, `2 %/cm`, `3`."""
    token = cursor.next()
    unit = ""
    if cursor.text in UNITS:
        unit = cursor.next().text
        while cursor.text == "/" and _unit_here(cursor, 1):
            cursor.next()
            unit += "/" + cursor.next().text
    elif cursor.token.kind == ODD_UNIT:
        unit = cursor.next().text
    elif cursor.token.kind == "word" and cursor.token.column == token.end:
        raise cursor.unknown_unit()
    return tree.Number(token.text, unit, span=cursor.since(token))


def _unit_here(cursor: Cursor, ahead: int = 0) -> bool:
    index = cursor.position + ahead
    return index < len(cursor.tokens) and cursor.tokens[index].text in UNITS
