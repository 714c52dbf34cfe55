"""Syntax errors of Python programs, as many as can be told, each once and in plain words."""

from __future__ import annotations

import ast
import symtable
import warnings

from geduld.language.messages import Hint, Span, error

MOST_ERRORS = 12
_BLOCKS = ("body", "orelse", "handlers", "finalbody", "cases")  # where statements stand in others
_REMEDIES = {
    "expected ':'": ("A colon is missing at the end of this line.", "Put a : at its end.", ":"),
    "invalid syntax. Maybe you meant '==' or ':=' instead of '='?": (
        "Here = gives a value, where a comparison was meant.",
        "Write == to compare.",
        None,
    ),
    "unexpected indent": (
        "This line is indented, but no block begins above it.",
        "Line it up with the line above.",
        None,
    ),
    "unindent does not match any outer indentation level": (
        "This line is indented less than the lines above it, but not as much as any earlier block.",
        "Line it up with the line that it belongs beside.",
        None,
    ),
    "inconsistent use of tabs and spaces in indentation": (
        "Tabs and spaces are mixed at the start of this line.",
        "Use four spaces for each level, everywhere.",
        None,
    ),
}


def parsed(text: str) -> ast.Module:
    """The tree of a text. Raises SyntaxError, also for names that cannot be what the program says they are."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        module = ast.parse(text)
        symtable.symtable(text, "<program>", "exec")
    return module


def misplaced(module: ast.Module) -> list[Hint]:
    """Statements that stand where they mean nothing: `break` outside loops, `return` outside functions."""
    found: list[Hint] = []
    waiting: list[tuple[ast.AST, bool, bool]] = [(module, False, False)]
    while waiting:
        node, in_loop, in_function = waiting.pop()
        if isinstance(node, ast.Break | ast.Continue) and not in_loop:
            word = "break" if isinstance(node, ast.Break) else "continue"
            message = f"This {word} stands in no loop."
            found.append(error("syntax", _span(node), message, "Indent it into the loop, or take it away."))
        elif isinstance(node, ast.Return) and not in_function:
            message = "This return stands in no function."
            found.append(error("syntax", _span(node), message, "Indent it into the function, or take it away."))
        inner = isinstance(node, ast.FunctionDef)
        for name in _BLOCKS:
            loop = in_loop and not inner and not isinstance(node, ast.ClassDef)
            if isinstance(node, ast.While | ast.For):
                loop = in_loop if name == "orelse" else True
            waiting += [(child, loop, in_function or inner) for child in getattr(node, name, ())]
    return found


def _span(node: ast.stmt) -> Span:
    return Span(node.lineno, node.col_offset + 1, node.lineno, (node.end_col_offset or node.col_offset) + 1)


def syntax_errors(text: str) -> list[Hint]:
    """The syntax errors of a text: each is mended by leaving its line out, so that the next ones are seen."""
    lines = text.split("\n")
    found: list[Hint] = []
    seen: set[int] = set()
    for _ in range(MOST_ERRORS):
        try:
            parsed("\n".join(lines))
            break
        except SyntaxError as problem:
            line = min(max(1, problem.lineno or 1), len(lines))
            if line in seen:
                break
            seen.add(line)
            found.append(_told(problem, line))
            lines[line - 1] = _harmless(lines[line - 1])
        except (ValueError, RecursionError, MemoryError):
            message = "This text cannot be read as Python."
            found.append(error("syntax", Span(1, 1, 1, 2), message, "Save it again as plain text."))
            break
    return found


def _harmless(line: str) -> str:
    """A line that says nothing, with the same indentation, and a block where the line opened one."""
    lead = line[: len(line) - len(line.lstrip())]
    opens = line.rstrip().endswith(":") or line.split("(")[0].split(" ")[0].strip() in ("if", "while", "for", "def")
    words = line.split()
    if words and words[0] in ("elif", "else", "else:", "except", "except:", "finally:"):
        return f"{lead}{'else:' if words[0].startswith('el') else 'finally:'}"
    opens = opens or (bool(words) and words[0] in ("if", "while", "for", "def", "class", "try", "with"))
    return f"{lead}if 1:" if opens else f"{lead}pass"


def _told(problem: SyntaxError, line: int) -> Hint:
    column = max(1, problem.offset or 1)
    end = problem.end_offset if problem.end_lineno == line and problem.end_offset else column + 1
    span = Span(line, column, line, max(end, column + 1))
    said = problem.msg or "invalid syntax"
    known = _REMEDIES.get(said)
    if known:
        return error("syntax", span, *known)
    message = f"Python cannot read this line: {said}."
    if said == "invalid syntax":
        message = "Python cannot read this line."
    elif "was never closed" in said:
        return error("syntax", span, f"This bracket is never closed ({said[:3]}).", "Put the closing bracket.")
    elif "expected an indented block" in said:
        return error(
            "syntax", span, "Nothing stands under the line above.", "Indent its steps by four spaces, or write pass."
        )
    elif "unterminated" in said:
        return error("syntax", span, "This text has no closing quotation mark.", "Put one at its end.")
    return error("syntax", span, message, "Look for a missing bracket, colon or quotation mark here or just above.")
