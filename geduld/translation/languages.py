"""How the two languages write what a translated behaviour needs."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Language:
    """One language's forms. `nothing` is a value that stands for none, where there is one; `divides_whole` says that a
    whole number through a whole number is whole; `declares` stands before a new variable.
    """

    comment: str
    nothing: str
    true: str
    both: str
    either: str
    opposite: str
    opens: str
    closes: str
    end: str
    absolute: str
    least: str
    most: str
    ends: str
    says: str
    same_text: str
    otherwise: str
    counts: str
    does_nothing: str
    declares: str
    divides_whole: bool

    def number(self, value: float) -> str:
        """A number as one writes it."""
        return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)

    def fraction(self, value: float) -> str:
        """A number to reckon with, that does not make a division whole."""
        told = self.number(value)
        return f"{told}.0" if self.divides_whole and told.lstrip("-").isdigit() else told

    def text(self, value: str) -> str:
        """A text in quotation marks."""
        return '"' + value.replace("\\", "\\\\").replace('"', '\\"') + '"'


PYTHON = Language(
    comment="# ",
    nothing="None",
    true="True",
    both="and",
    either="or",
    opposite="not ",
    opens=":",
    closes="",
    end="",
    absolute="abs",
    least="min",
    most="max",
    ends="sys.exit()",
    says="print",
    same_text="{} == {}",
    otherwise="elif",
    counts="for {0} in range({1})",
    does_nothing="pass",
    declares="",
    divides_whole=False,
)
C = Language(
    comment="// ",
    nothing="",
    true="1",
    both="&&",
    either="||",
    opposite="!",
    opens=" {",
    closes="}",
    end=";",
    absolute="fabs",
    least="fmin",
    most="fmax",
    ends="return 0",
    says="puts",
    same_text="{0} && strcmp({0}, {1}) == 0",
    otherwise="else if",
    counts="for int {0} = 0; {0} < {1}; {0}++",
    does_nothing="",
    declares="double ",
    divides_whole=True,
)
LANGUAGES = {"python": PYTHON, "c": C}
