"""Reads steps: one line each, with the block under it where it has one."""

from __future__ import annotations

from geduld.language import tree
from geduld.language.cursor import Cursor
from geduld.language.expressions import arithmetic, dotted, expression
from geduld.language.lexer import Line, Token
from geduld.language.mending import MOST_ERRORS, mended
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest
from geduld.language.nodes import changed, node
from geduld.language.quantities import UNITS
from geduld.language.words import PIVOTS, STEP_WORDS, STOP_STYLES, WAYS, why_not_a_name


@node
class _OpenDo(tree.Step):
    """A `do` whose `unless` has not come yet."""

    body: tree.Block


class StepReader:
    """Reads blocks of lines as steps; a line with an error costs only itself, and its hint is kept."""

    def __init__(self, hints: list[Hint]) -> None:
        self.hints = hints
        self.readers = {
            "stop": self._stop,
            "wait": self._wait,
            "repeat": self._repeat,
            "leave": self._leave,
            "if": self._if,
            "set": self._set,
            "start": self._start,
            "reset": self._reset,
            "send": self._send,
            "note": self._note,
            "finish": self._finish,
            "turn": self._turn,
            "by": self._by,
            "do": self._do,
            "side": self._side,
        }

    def block(self, line: Line, cursor: Cursor) -> tree.Block:
        """The block under a line that ends in a colon."""
        self._colon(cursor)
        if not line.children:
            span = cursor.last_span
            raise Problem(
                error("empty-block", span, "Nothing stands under this line.", "Indent its steps by 4 spaces.")
            )
        return self.steps(line.children)

    def _colon(self, cursor: Cursor) -> None:
        if not cursor.take(":"):
            if cursor.token.kind == "end":
                message = "A colon is missing at the end of this line."
                self.hints.append(error("missing-colon", cursor.token.span, message, "Put a : there.", ":"))
                return
            raise cursor.unexpected("a colon", "Put a : at the end of the line, behind a complete condition.")
        cursor.expect_end()

    def steps(self, lines: list[Line]) -> tree.Block:
        """Lines of one block, as steps."""
        steps: list[tree.Step] = []
        for line in lines:
            if line.tokens[0].text == "else":
                self._else(line, steps)
                continue
            if line.tokens[0].text == "unless":
                self._unless(line, steps)
                continue
            if steps and isinstance(steps[-1], _OpenDo):
                self._missing_unless(steps)
            try:
                step = self._step(line)
            except Problem as problem:
                self.hints.append(problem.hint)
                if (mended_step := self._read_on(line, problem.hint)) is None:
                    continue
                step = mended_step
            steps.append(step)
        if steps and isinstance(steps[-1], _OpenDo):
            self._missing_unless(steps)
        trailing = lines[-1].trailing if lines else ()
        return tree.Block(tuple(steps), trailing)

    def _read_on(self, line: Line, hint: Hint) -> tree.Step | None:
        """Reads a line that has an error as if it were mended, for the errors behind it: a step if it becomes one."""
        for _ in range(MOST_ERRORS):
            again = mended(line, hint)
            if again is None:
                break
            line = again
            try:
                return self._step(line)
            except Problem as problem:
                if problem.hint.order[:2] <= hint.order[:2]:
                    break
                hint = problem.hint
                self.hints.append(hint)
        self._look_inside(line)
        return None

    def _look_inside(self, line: Line) -> None:
        """Reads the block of a line that has an error, so that errors inside it are said as well."""
        if line.children:
            self.steps([child for child in line.children if child.tokens[0].text != "otherwise"])

    def _else(self, line: Line, steps: list[tree.Step]) -> None:
        previous = steps[-1] if steps else None
        try:
            if not isinstance(previous, tree.If) or previous.branches[-1].condition is None:
                message = "This else has no if right above it."
                raise Problem(error("lonely-else", line.tokens[0].span, message, "Put it behind the if's block."))
            cursor = Cursor(line)
            cursor.next()
            condition = expression(cursor) if cursor.take("if") else None
            body = self.block(line, cursor)
        except Problem as problem:
            self.hints.append(problem.hint)
            self._look_inside(line)
            return
        branch = tree.Branch(condition, body, line.before, line.comment, span=line.tokens[0].span)
        steps[-1] = changed(previous, branches=(*previous.branches, branch))

    def _unless(self, line: Line, steps: list[tree.Step]) -> None:
        opened = steps.pop() if steps and isinstance(steps[-1], _OpenDo) else None
        try:
            if not isinstance(opened, _OpenDo):
                message = "This unless has no do right above it."
                raise Problem(error("lonely-unless", line.tokens[0].span, message, "Put it behind the do's block."))
            cursor = Cursor(line)
            cursor.next()
            condition = expression(cursor)
            held = arithmetic(cursor) if cursor.take(",", "held") else None
            handler = self.block(line, cursor)
        except Problem as problem:
            self.hints.append(problem.hint)
            self._look_inside(line)
            return
        steps.append(
            tree.Do(
                opened.body,
                condition,
                handler,
                line.before,
                line.comment,
                held,
                span=opened.span,
                before=opened.before,
                comment=opened.comment,
            )
        )

    def _missing_unless(self, steps: list[tree.Step]) -> None:
        message = "This do has no unless behind its block."
        remedy = "Write unless and a condition, for example: unless nose is pressed:"
        self.hints.append(error("do-without-unless", steps.pop().span, message, remedy))

    def _side(self, line: Line, cursor: Cursor) -> tree.Step:
        example = "Write: side by side:, and under it: lane travel: and lane spray:"
        for word in ("by", "side"):
            cursor.expect(word, "behind side", example)
        self._colon(cursor)
        lanes: list[tree.Lane] = []
        for child in line.children:
            try:
                lanes.append(self._lane(child, [lane.name for lane in lanes], example))
            except Problem as problem:
                self.hints.append(problem.hint)
                self._look_inside(child)
        if len(line.children) < 2:
            message = "Side by side needs two lanes or more."
            raise Problem(error("one-lane", cursor.last_span, message, example))
        return tree.Side(tuple(lanes), line.children[-1].trailing)

    def _lane(self, line: Line, names: list[str], example: str) -> tree.Lane:
        cursor = Cursor(line)
        cursor.expect("lane", "at the start of each line under side by side", example)
        name = new_name(cursor, "lane travel:")
        if name.text in names:
            raise Problem(error("name-taken", name.span, "Two lanes have this name.", "Give each its own."))
        body = self.block(line, cursor)
        return tree.Lane(name.text, body, line.before, line.comment, span=line.tokens[0].span)

    def _do(self, line: Line, cursor: Cursor) -> tree.Step:
        return _OpenDo(self.block(line, cursor))

    def _step(self, line: Line) -> tree.Step:
        cursor = Cursor(line)
        first = line.tokens[0]
        if first.text in self.readers:
            cursor.next()
            step = self.readers[first.text](line, cursor)
        else:
            step = self._action(line, cursor)
        if line.children and not _owns_block(step):
            message = "These lines are indented, but the line above them does not open a block."
            child = line.children[0]
            span = Span(child.number, 1, child.number, max(2, child.indent + 1))
            self.hints.append(error("indent", span, message, "Line them up with the line above."))
            self._look_inside(line)
        last = line.tokens[-1]
        span = Span(first.line, first.column, last.line, last.end)
        return changed(step, span=span, before=line.before, comment=line.comment)

    def _stop(self, line: Line, cursor: Cursor) -> tree.Step:
        token = cursor.take_kind("word")
        if token is None:
            raise cursor.unexpected("a motor, drive or all", "Write for example: stop drive")
        by = _one_of(cursor, STOP_STYLES, "Write for example: stop drive by braking") if cursor.take("by") else ""
        cursor.expect_end()
        return tree.Stop(token.text, by)

    def _wait(self, line: Line, cursor: Cursor) -> tree.Step:
        if cursor.take("until"):
            return tree.Wait(self._until(line, cursor)[0])
        if cursor.token.kind == "end":
            raise cursor.unexpected("a time", "Write for example: wait 0.5 s, or: wait until nose is pressed")
        start = cursor.token.span
        quantity = arithmetic(cursor)
        cursor.expect_end()
        return tree.Wait(tree.For(quantity, span=cursor.since(start)))

    def _until(self, line: Line, cursor: Cursor) -> tuple[tree.Until, bool]:
        """The condition behind `until`, and whether `keep going` stands behind it."""
        start = cursor.token.span
        condition = expression(cursor)
        held = patience = None
        keep_going = False
        while cursor.take(","):
            if cursor.take("held"):
                held = arithmetic(cursor)
            elif cursor.take("patience"):
                patience = arithmetic(cursor)
            elif cursor.take("keep", "going"):
                keep_going = True
            else:
                raise cursor.unexpected("held, patience or keep going", "Write for example: , patience 5 s")
        opens = cursor.take("otherwise") and cursor.take(":")
        cursor.expect_end()
        span = cursor.since(start)
        until = tree.Until(condition, held, patience, span=span)
        return self._otherwise(line, until, opens), keep_going

    def _otherwise(self, line: Line, until: tree.Until, opens: bool) -> tree.Until:
        if opens:
            message = "Otherwise stands on a line of its own."
            remedy = "Move it to the next line, indented by 4 spaces, and its steps under it."
            raise Problem(error("otherwise-place", until.span, message, remedy))
        found = [child for child in line.children if child.tokens[0].text == "otherwise"]
        if not found:
            return until
        head = found[0]
        if until.patience is None:
            message = "Otherwise belongs to a patience, and this line has none."
            remedy = "Put , patience 5 s at the end of the line above, or delete otherwise."
            raise Problem(error("otherwise-without-patience", head.tokens[0].span, message, remedy))
        if len(line.children) > 1:
            extra = next(child for child in line.children if child is not head)
            message = "Beside otherwise nothing else stands under this line."
            raise Problem(error("indent", extra.tokens[0].span, message, "Line it up with the step above."))
        cursor = Cursor(head)
        cursor.next()
        body = self.block(head, cursor)
        return changed(until, otherwise=body, otherwise_comments=(head.before, head.comment))

    def _repeat(self, line: Line, cursor: Cursor) -> tree.Step:
        form, value = "", None
        if cursor.take("while"):
            form, value = "while", expression(cursor)
        elif cursor.take("until"):
            form, value = "until", expression(cursor)
        elif not cursor.at(":") and cursor.token.kind != "end":
            form, value = "times", arithmetic(cursor)
            cursor.expect("times", "behind the number", "Write for example: repeat 3 times:")
        return tree.Repeat(form, value, self.block(line, cursor))

    def _leave(self, line: Line, cursor: Cursor) -> tree.Step:
        cursor.expect_end()
        return tree.Leave()

    def _if(self, line: Line, cursor: Cursor) -> tree.Step:
        condition = expression(cursor)
        body = self.block(line, cursor)
        return tree.If((tree.Branch(condition, body, span=line.tokens[0].span),))

    def _set(self, line: Line, cursor: Cursor) -> tree.Step:
        name = new_name(cursor, "set n to n + 1")
        if cursor.at("="):
            raise cursor.unexpected('"to"', "Write for example: set n to n + 1")
        cursor.expect("to", "behind the name", "Write for example: set n to n + 1")
        value = expression(cursor)
        cursor.expect_end()
        return tree.Set(name.text, value, name.span)

    def _start(self, line: Line, cursor: Cursor) -> tree.Step:
        example = "start timer t"
        cursor.expect("timer", "behind start", f"Write for example: {example}")
        name = new_name(cursor, example)
        cursor.expect_end()
        return tree.StartTimer(name.text, name.span)

    def _reset(self, line: Line, cursor: Cursor) -> tree.Step:
        token = cursor.take_kind("word")
        if token is None:
            raise cursor.unexpected("what to reset", "Write for example: reset left.angle")
        name = dotted(cursor, token)
        span = cursor.since(token.span)
        cursor.expect_end()
        return tree.Reset(name, span)

    def _send(self, line: Line, cursor: Cursor) -> tree.Step:
        return tree.Send(cursor.quoted('send "at the barrel"'))

    def _note(self, line: Line, cursor: Cursor) -> tree.Step:
        return tree.Note(cursor.quoted('note "at the barrel"'))

    def _finish(self, line: Line, cursor: Cursor) -> tree.Step:
        text = cursor.take_kind("text")
        cursor.expect_end()
        return tree.Finish(text.text[1:-1] if text else None)

    def _by(self, line: Line, cursor: Cursor) -> tree.Step:
        value = arithmetic(cursor)
        slack = arithmetic(cursor) if cursor.take(",", "slack") else None
        self._colon(cursor)
        bands = []
        for child in line.children:
            try:
                bands.append(self._band(child))
            except Problem as problem:
                self.hints.append(problem.hint)
                self._look_inside(child)
        if not line.children:
            message = "No band stands under this by."
            raise Problem(error("empty-block", cursor.last_span, message, _BANDS))
        return tree.By(value, slack, tuple(bands), line.children[-1].trailing)

    def _band(self, line: Line) -> tree.Band:
        cursor = Cursor(line)
        low = high = None
        form = cursor.token.text if cursor.token.kind == "word" else "between"
        if form in ("over", "under", "absent"):
            cursor.next()
            edge = None if form == "absent" else arithmetic(cursor)
            low, high = (edge, None) if form == "over" else (None, edge)
        else:
            form, low = "between", arithmetic(cursor)
            cursor.expect("to", "between the band's two edges", _BANDS)
            high = arithmetic(cursor)
            if isinstance(low, tree.Number) and isinstance(high, tree.Number) and not low.unit:
                low = changed(low, unit=high.unit)
        ends = _ends(cursor, form)
        if not cursor.at(":"):
            raise cursor.unexpected("a colon", _BANDS)
        span = line.tokens[0].span
        if line.children or cursor.position + 1 == len(line.tokens):
            return tree.Band(form, low, high, self.block(line, cursor), line.before, line.comment, ends, span=span)
        body = tree.Block((self._step(Line(line.number, line.indent, line.tokens[cursor.position + 1 :])),))
        return tree.Band(form, low, high, body, line.before, line.comment, ends, span=span)

    def _turn(self, line: Line, cursor: Cursor) -> tree.Step:
        example = "Write for example: turn left at 30 % for 0.8 s"
        if not (cursor.at("left") or cursor.at("right")):
            raise cursor.unexpected("left or right", example)
        side = cursor.next().text
        cursor.expect("at", "behind the side", example)
        value = arithmetic(cursor)
        about = ""
        if cursor.take("about"):
            about = _one_of(cursor, PIVOTS, "Write for example: turn left at 30 % about left wheel for 90 deg")
        ending, keep_going = self._ending(line, cursor)
        return tree.Action("turn", (value,), ending, keep_going, turn=side, about=about)

    def _action(self, line: Line, cursor: Cursor) -> tree.Step:
        target = cursor.next()
        if target.kind != "word" or target.text == "otherwise":
            raise _not_a_step(target)
        word = cursor.text
        if word in ("", "with"):
            return _perform(target, cursor)
        if word not in ("at", "follows", "from", "on", "off"):
            raise _not_an_action(cursor, target)
        cursor.next()
        if word == "from":
            return _ramp(target, cursor)
        if word in ("on", "off"):
            ending, keep_going = self._ending(line, cursor)
            return tree.Action(target.text, (), ending, keep_going, state=word)
        follows = word == "follows"
        values = [arithmetic(cursor)]
        if target.text == "drive" and cursor.at(",") and not _ending_word(cursor, 1):
            cursor.next()
            values.append(arithmetic(cursor))
        ending, keep_going = self._ending(line, cursor)
        if follows and ending is None:
            message = "Follows needs an ending: without one it would never go on."
            remedy = "Write for example: drive follows knob until nose is pressed"
            raise Problem(error("follows-without-ending", line.tokens[1].span, message, remedy))
        return tree.Action(target.text, tuple(values), ending, keep_going, follows=follows)

    def _ending(self, line: Line, cursor: Cursor) -> tuple[tree.For | tree.Until | None, bool]:
        if cursor.take("until"):
            return self._until(line, cursor)
        start, ending = cursor.token.span, None
        if cursor.take("for"):
            if cursor.token.kind == "end":
                message = "This timed step has no time."
                remedy = "Write how long it lasts, for example: for 1.5 s"
                raise Problem(error("missing-time", cursor.last_span, message, remedy))
            quantity = arithmetic(cursor)
            by = _one_of(cursor, WAYS, "Write for example: for 30 cm by encoder") if cursor.take("by") else ""
            ending = tree.For(quantity, by, span=cursor.since(start))
        keep_going = cursor.take(",", "keep", "going")
        cursor.expect_end()
        return ending, keep_going


_BANDS = "Write bands such as: over 40 cm: drive at 60 %, 12 to 40 cm: drive at 25 %, under 12 cm: stop drive"


def _ends(cursor: Cursor, form: str) -> str:
    """`, both ends` or `, upper end` behind a band's edges."""
    if not cursor.take(","):
        return ""
    ends = "both ends" if cursor.take("both", "ends") else "upper end" if cursor.take("upper", "end") else ""
    if not ends or form not in ("between", "under") or (form == "under" and ends == "both ends"):
        wanted = (
            '"upper end"' if form == "under" else '"both ends" or "upper end", behind a band with an edge above it,'
        )
        raise cursor.unexpected(wanted, "Write for example: 12 cm to 40 cm, both ends: drive at 25 %")
    return ends


def _perform(target: Token, cursor: Cursor) -> tree.Step:
    values: list[tree.Expression] = []
    if cursor.take("with"):
        values.append(arithmetic(cursor))
        while cursor.take(","):
            values.append(arithmetic(cursor))
    cursor.expect_end()
    return tree.Perform(target.text, tuple(values))


def _ramp(target: Token, cursor: Cursor) -> tree.Step:
    example = "Write for example: nozzle from 20 deg to 160 deg over 2 s"
    start = arithmetic(cursor)
    cursor.expect("to", "and where it ends", example)
    stop = arithmetic(cursor)
    cursor.expect("over", "and how long it takes", example)
    over = arithmetic(cursor)
    keep_going = cursor.take(",", "keep", "going")
    cursor.expect_end()
    return tree.Ramp(target.text, start, stop, over, keep_going)


def _one_of(cursor: Cursor, choices: tuple[str, ...], example: str) -> str:
    """One of a few words, or pairs of words, that may stand here."""
    for choice in choices:
        if cursor.take(*choice.split()):
            return choice
    raise cursor.unexpected(listed(choices), example)


def new_name(cursor: Cursor, example: str, or_unit: bool = False) -> Token:
    """A name the author chooses; a reserved word is an error, a unit too unless `or_unit`."""
    token = cursor.take_kind("word")
    if token is None:
        raise cursor.unexpected("a name", f"Write for example: {example}")
    why = why_not_a_name(token.text)
    if why and not (or_unit and token.text in UNITS):
        raise Problem(error("reserved-name", token.span, f"{why}, so it cannot be used.", "Choose another name."))
    return token


def _not_a_step(token: Token) -> Problem:
    if token.text == "otherwise":
        message = "This otherwise does not stand under a line with a patience."
        return Problem(error("lonely-otherwise", token.span, message, "Indent it under the line it belongs to."))
    like = nearest(token.text, STEP_WORDS) if token.kind == "word" else None
    message = f'"{token.text.strip(chr(34))}" does not start a step.'
    if like:
        return Problem(error("unknown-step", token.span, message, f"Did you mean {like}?", like))
    remedy = "A step is, for example: drive at 40 % for 2 s, wait 1 s, stop drive, repeat 3 times:, if range < 40 cm:"
    return Problem(error("unknown-step", token.span, message, remedy))


def _not_an_action(cursor: Cursor, target: Token) -> Problem:
    token = cursor.token
    if target.text == "let":
        message = "A let names something that stays as it is, for the whole program; it is not a step."
        remedy = "Write it above begin:, at the left edge; or, for a value that changes: set near to 40 cm"
        return Problem(error("let-inside", target.span, message, remedy))
    like = nearest(target.text, STEP_WORDS)
    if like and target.text != "drive":
        message = f'"{target.text}" does not start a step.'
        return Problem(error("unknown-step", target.span, message, f"Did you mean {like}?", like))
    if token.text == "=":
        remedy = f"Write: {target.text} at …, to command a part, or: set {target.text} to …, to change a value."
        return Problem(error("unexpected", token.span, 'A step does not use "=".', remedy))
    remedy = f"Write for example: {target.text} at 40 % for 2 s"
    return cursor.unexpected(f'"at" behind {target.text}', remedy)


def _ending_word(cursor: Cursor, ahead: int) -> bool:
    index = cursor.position + ahead
    return index < len(cursor.tokens) and cursor.tokens[index].text in ("keep", "held", "patience")


def _owns_block(step: tree.Step) -> bool:
    if isinstance(step, tree.Wait | tree.Action) and isinstance(step.ending, tree.Until):
        return step.ending.otherwise is not None
    return isinstance(step, tree.Repeat | tree.If | tree.By | tree.Side | _OpenDo)
