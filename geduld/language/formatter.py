"""Prints a plan as text. Reading that text gives the same plan; comments and blank lines stay."""

from __future__ import annotations

from collections.abc import Iterable

from geduld.language import tree

_RANK = {"or": 1, "and": 2, "+": 5, "-": 5, "*": 6, "/": 6}
_COMPARISON = 4
ALONE = 3  # the rank of what stands beside an `and` that is not its own


def format_plan(plan: tree.Plan) -> str:
    """A behaviour in its standard form: 4 spaces a level, one space around signs."""
    out = Printer()
    header, rig, begin = plan.header_comments
    out.line(0, f'{"library" if plan.is_library else "behaviour"} "{plan.title}"', *header)
    if plan.rig is not None:
        out.line(0, f'for rig "{plan.rig}"', *rig)
    if plan.includes:
        out.gap(plan.includes[0].before)
    for include in plan.includes:
        out.line(0, f'include "{include.name}"', include.before, include.comment)
    if plan.lets:
        out.gap(plan.lets[0].before)
    out.lets(plan.lets)
    for routine in plan.routines:
        out.gap(routine.before)
        given = f" with {', '.join(routine.parameters)}" if routine.parameters else ""
        out.line(0, f"to {routine.name}{given}:", routine.before, routine.comment)
        out.block(1, routine.body)
    if not plan.is_library:
        out.gap(begin[0])
        out.line(0, "begin:", *begin)
        out.block(1, plan.begin)
    out.comments(0, plan.trailing)
    return out.text()


class Printer:
    """A text as it grows, line by line, in its standard form."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def text(self) -> str:
        """The text so far, with one line end behind it."""
        return "\n".join(self.lines).strip("\n") + "\n"

    def gap(self, before: tuple[str, ...]) -> None:
        """One blank line, unless one comes anyway."""
        if self.lines and self.lines[-1] and not (before and before[0] == ""):
            self.lines.append("")

    def line(self, level: int, text: str, before: tuple[str, ...] = (), comment: str = "") -> None:
        """A line, with the comments in front of it and behind it."""
        self.comments(level, before)
        self.lines.append("    " * level + text + (f"  {comment}" if comment else ""))

    def comments(self, level: int, comments: Iterable[str]) -> None:
        """Comment lines; an empty one is a gap."""
        for comment in comments:
            if comment:
                self.lines.append("    " * level + comment)
            elif self.lines and self.lines[-1]:
                self.lines.append("")

    def lets(self, lets: tuple[tree.Let, ...]) -> None:
        """The lets of a text."""
        for let in lets:
            given = f"({', '.join(let.parameters)})" if let.parameters else ""
            self.line(0, f"let {let.name}{given} = {expression_text(let.value)}", let.before, let.comment)

    def block(self, level: int, block: tree.Block) -> None:
        """The steps of a block."""
        for step in block.steps:
            self.step(level, step)
        self.comments(level, block.trailing)

    def step(self, level: int, step: tree.Step) -> None:
        """A step with the blocks under it."""
        if isinstance(step, tree.If):
            self._branches(level, step)
            return
        if isinstance(step, tree.Do):
            self.line(level, "do:", step.before, step.comment)
            self.block(level + 1, step.body)
            held = f", held {expression_text(step.held)}" if step.held else ""
            head = f"unless {expression_text(step.condition)}{held}:"
            self.line(level, head, step.unless_before, step.unless_comment)
            self.block(level + 1, step.handler)
            return
        if isinstance(step, tree.Side):
            self.line(level, "side by side:", step.before, step.comment)
            for lane in step.lanes:
                self.line(level + 1, f"lane {lane.name}:", lane.before, lane.comment)
                self.block(level + 2, lane.body)
            self.comments(level + 1, step.trailing)
            return
        if isinstance(step, tree.By):
            self._bands(level, step)
            return
        self.line(level, _step_text(step), step.before, step.comment)
        if isinstance(step, tree.Repeat):
            self.block(level + 1, step.body)
            return
        ending = step.ending if isinstance(step, tree.Wait | tree.Action) else None
        if isinstance(ending, tree.Until) and ending.otherwise is not None:
            self.line(level + 1, "otherwise:", *ending.otherwise_comments)
            self.block(level + 2, ending.otherwise)

    def _bands(self, level: int, step: tree.By) -> None:
        slack = f", slack {expression_text(step.slack)}" if step.slack else ""
        self.line(level, f"by {expression_text(step.value)}{slack}:", step.before, step.comment)
        for band in step.bands:
            edges = [expression_text(edge) for edge in (band.low, band.high) if edge]
            head = " to ".join(edges) if band.form == "between" else " ".join([band.form, *edges])
            head += f", {band.ends}" if band.ends else ""
            inline = _inline(band.body)
            self.line(level + 1, f"{head}: {inline}" if inline else f"{head}:", band.before, band.comment)
            if not inline:
                self.block(level + 2, band.body)
        self.comments(level + 1, step.trailing)

    def _branches(self, level: int, step: tree.If) -> None:
        for index, branch in enumerate(step.branches):
            word = "if" if index == 0 else "else if"
            head = f"{word} {expression_text(branch.condition)}:" if branch.condition else "else:"
            before = step.before if index == 0 else branch.before
            self.line(level, head, before, step.comment if index == 0 else branch.comment)
            self.block(level + 1, branch.body)


def _inline(body: tree.Block) -> str:
    """A body of one plain step as text behind its band's colon; empty when it needs lines of its own."""
    if len(body.steps) != 1 or body.trailing:
        return ""
    step = body.steps[0]
    ending = step.ending if isinstance(step, tree.Wait | tree.Action) else None
    opens = isinstance(step, tree.Repeat | tree.If | tree.By | tree.Do | tree.Side)
    opens = opens or (isinstance(ending, tree.Until) and ending.otherwise is not None)
    return "" if opens or step.before or step.comment else _step_text(step)


def _step_text(step: tree.Step) -> str:
    match step:
        case tree.Action():
            return _action(step)
        case tree.Stop():
            return f"stop {step.target}" + (f" by {step.by}" if step.by else "")
        case tree.Wait():
            if isinstance(step.ending, tree.For):
                return f"wait {expression_text(step.ending.quantity)}"
            return "wait" + _ending(step.ending, False)
        case tree.Repeat():
            value = f" {expression_text(step.value)}" if step.value else ""
            return {
                "": "repeat:",
                "times": f"repeat{value} times:",
                "while": f"repeat while{value}:",
                "until": f"repeat until{value}:",
            }[step.form]
        case tree.Set():
            return f"set {step.name} to {expression_text(step.value)}"
        case tree.StartTimer():
            return f"start timer {step.name}"
        case tree.Reset():
            return f"reset {step.name}"
        case tree.Send():
            return f'send "{step.text}"'
        case tree.Note():
            return f'note "{step.text}"'
        case tree.Finish():
            return "finish" if step.why is None else f'finish "{step.why}"'
        case tree.Leave():
            return "leave"
        case tree.Perform():
            values = ", ".join(expression_text(value) for value in step.values)
            return f"{step.name} with {values}" if values else step.name
        case tree.Ramp():
            ends = f"from {expression_text(step.start)} to {expression_text(step.stop)}"
            going = ", keep going" if step.keep_going else ""
            return f"{step.target} {ends} over {expression_text(step.over)}{going}"
    raise TypeError(f"not a step: {step!r}")


def _action(step: tree.Action) -> str:
    head = f"turn {step.turn}" if step.target == "turn" else step.target
    values = ", ".join(expression_text(value) for value in step.values)
    what = f"{head} {step.state}" if step.state else f"{head} {'follows' if step.follows else 'at'} {values}"
    what += f" about {step.about}" if step.about else ""
    return what + _ending(step.ending, step.keep_going)


def _ending(ending: tree.For | tree.Until | None, keep_going: bool) -> str:
    text = ""
    if isinstance(ending, tree.For):
        text = f" for {expression_text(ending.quantity)}" + (f" by {ending.by}" if ending.by else "")
    elif isinstance(ending, tree.Until):
        text = f" until {expression_text(ending.condition)}"
        if ending.held:
            text += f", held {expression_text(ending.held)}"
        if ending.patience:
            text += f", patience {expression_text(ending.patience)}"
    return text + (", keep going" if keep_going else "")


def expression_text(expression: tree.Expression, rank: int = 0) -> str:
    """An expression as text, with the parentheses it needs where its surroundings bind as `rank`."""
    text, own = _text_and_rank(expression)
    return f"({text})" if own < rank else text


def _text_and_rank(expression: tree.Expression) -> tuple[str, int]:
    match expression:
        case tree.Number():
            space = "" if not expression.unit else " "
            return f"{expression.text}{space}{expression.unit}", 9
        case tree.Text():
            return f'"{expression.text}"', 9
        case tree.Name():
            return expression.name, 9
        case tree.Call():
            values = [expression_text(value) for value in expression.values]
            if expression.function == "scale":
                x, low, high, start, stop = values
                return f"scale({x}, from {low} to {high}, to {start} to {stop})", 9
            return f"{expression.function}({', '.join(values)})", 9
        case tree.Minus():
            return f"-{expression_text(expression.value, 7)}", 7
        case tree.Not():
            return f"not {expression_text(expression.value, 3)}", 3
        case tree.Binary():
            return _binary(expression)
        case tree.Between():
            low, high = expression_text(expression.low, 5), expression_text(expression.high, 5)
            return f"{expression_text(expression.value, 5)} between {low} and {high}", _COMPARISON
        case tree.Near():
            wanted, around = expression_text(expression.wanted, 5), expression_text(expression.tolerance, 5)
            return f"{expression_text(expression.value, 5)} = {wanted} +- {around}", _COMPARISON
        case tree.Follows():
            wanted, around = expression_text(expression.wanted, 5), expression_text(expression.tolerance, 5)
            return f"{expression_text(expression.value, 5)} follows {wanted} within {around}", _COMPARISON
        case tree.Within():
            value, distance = expression_text(expression.value, 5), expression_text(expression.distance, 5)
            return f'{value} is within {distance} of mark "{expression.mark}"', _COMPARISON
        case tree.Inside():
            return f'{expression_text(expression.value, 5)} is inside "{expression.corridor}"', _COMPARISON
        case tree.Towards():
            wanted, around = expression_text(expression.wanted, 5), expression_text(expression.tolerance, 5)
            return f"{expression_text(expression.value, 5)} is {wanted} +- {around}", _COMPARISON
        case tree.Keeps():
            wanted, around = expression_text(expression.wanted, 5), expression_text(expression.tolerance, 5)
            return f"{expression_text(expression.value, 5)} keeps {wanted} +- {around}", _COMPARISON
        case tree.Told():
            if expression.word == "line":
                return f"line {expression.text} is waiting", _COMPARISON
            whose = "partner " if expression.of_partner else ""
            return f'{whose}{expression.word} "{expression.text}"', 9
        case tree.Is():
            return f"{expression_text(expression.value, 5)} is {expression.state}", _COMPARISON
        case tree.Says():
            return f'{expression_text(expression.value, 5)} is "{expression.text}"', _COMPARISON
    raise TypeError(f"not an expression: {expression!r}")


def _binary(expression: tree.Binary) -> tuple[str, int]:
    rank = _RANK.get(expression.sign, _COMPARISON)
    left = rank + 1 if rank == _COMPARISON else rank
    return (
        f"{expression_text(expression.left, left)} {expression.sign} {expression_text(expression.right, rank + 1)}"
    ), rank
