"""Prints a wordbook as text. Reading that text gives the same tree; comments and blank lines stay."""

from __future__ import annotations

from geduld.language.formatter import Printer, expression_text
from geduld.language.tree import Expression, Step
from geduld.wordbook import tree as words


def format_wordbook(book: words.Wordbook) -> str:
    """A wordbook in its standard form."""
    out = _Printer()
    out.line(0, f'wordbook "{book.title}"', book.before, book.comment)
    for head in book.heads:
        out.line(0, _head(head), head.before, head.comment)
    above = None
    for word in book.words:
        if above is None or words.stands_alone(word) or words.stands_alone(above):
            out.gap(word.before)
        above = word
        if isinstance(word, words.Thing):
            out.line(0, f"object {word.name}{_given(word.parameters)}:", word.before, word.comment)
            for inner in word.words:
                out.word(1, inner)
            out.comments(1, word.trailing)
        else:
            out.word(0, word)
    out.comments(0, book.trailing)
    return out.text().replace(words.PARAMETER, "")


def marked_steps(word: words.Word) -> list[str]:
    """The lines of a word's steps; its parameters have the mark PARAMETER behind their names."""
    out = _Printer()
    if word.body is not None:
        out.block(0, word.body)
    return out.lines


def marked_value(word: words.Word) -> str:
    """A word's value as text, with its parameters marked likewise."""
    return "" if word.value is None else _value(word.value)


class _Printer(Printer):
    """A wordbook as it grows."""

    def word(self, level: int, word: words.Word) -> None:
        """A word with its steps, or its value."""
        given = "" if word.parameters is None else _given(word.parameters)
        head = f"word {word.name}{given}{_answer(word.answer)}"
        if word.value is not None:
            self.line(level, f"{head} = {_value(word.value)}", word.before, word.comment)
        elif word.body is not None:
            self.line(level, f"{head}:", word.before, word.comment)
            self.block(level + 1, word.body)

    def step(self, level: int, step: Step) -> None:
        """A step of the notation, or one that only words have."""
        text = _own(step)
        if text:
            self.line(level, text, step.before, step.comment)
        else:
            super().step(level, step)


def _own(step: Step) -> str:
    """A step that only words have, as text; empty for the notation's own."""
    match step:
        case words.SetLine():
            return f"line {expression_text(step.pin)} at {expression_text(step.level)}"
        case words.SendGiven():
            return f"{step.what} {step.name}"
        case words.EachTime():
            return f"each time {expression_text(step.condition)}, {step.name}"
    return ""


def _head(head: words.Head) -> str:
    first = head.values[0]
    match head.what:
        case "for":
            return f'for rig "{first}"'
        case "header":
            return f'header "{first}"'
        case "whole":
            return f"whole numbers of {first} bits"
        case "starts":
            then = f", then again and again {head.values[1]}" if len(head.values) > 1 else ""
            return f"starts with {first}{then}"
    return f"{head.what} {first}"


def _given(parameters: tuple[words.Parameter, ...]) -> str:
    return f"({', '.join(_parameter(parameter) for parameter in parameters)})"


def _parameter(parameter: words.Parameter) -> str:
    text = parameter.name
    if parameter.unit:
        text += f" in {parameter.unit}"
    if parameter.scale:
        text += " from {} to {}".format(*parameter.scale)
    return text if parameter.default is None else f"{text} = {parameter.default}"


def _answer(answer: words.Answer) -> str:
    said = [f"in {answer.unit}"] if answer.unit else []
    said += ["from {} to {}".format(*answer.scale)] if answer.scale else []
    said += ["whole"] if answer.whole else []
    said += [f"as {answer.kind}"] if answer.kind else []
    said += [f"absent is {answer.absent}"] if answer.absent is not None else []
    said += [f"takes {expression_text(answer.takes)}"] if answer.takes else []
    return f" {', '.join(said)}" if said else ""


def _value(value: Expression) -> str:
    return f"line {expression_text(value.pin)}" if isinstance(value, words.Line) else expression_text(value)
