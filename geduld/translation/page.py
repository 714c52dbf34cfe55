"""The lines of a translated program, and how far each is indented."""

from __future__ import annotations

from dataclasses import dataclass, field

from geduld.translation.languages import Language


@dataclass
class Page:
    """Lines that are written one after another, `level` blocks deep."""

    language: Language
    lines: list[str] = field(default_factory=list)
    level: int = 0
    _known: dict[int, set[str]] = field(default_factory=dict)
    _declared: list[tuple[int, str]] = field(default_factory=list)

    def add(self, text: str) -> None:
        """A line."""
        self.lines.append(("    " * self.level + text).rstrip())

    def do(self, text: str) -> None:
        """A plain statement."""
        self.add(text + self.language.end)

    def opened(self, head: str) -> None:
        """The line that begins a block: `if C`, `while C`, `else`."""
        word, _, test = head.partition(" ")
        self._begin(word, test)

    def _begin(self, word: str, test: str) -> None:
        test = f"({test})" if test and self.language.closes else test
        self.add(f"{word} {test}".rstrip() + self.language.opens)
        self.level += 1

    def branch(self, number: int, test: str) -> None:
        """The line that begins a branch: the first of them, another with a test, or the last without one."""
        self._begin("else" if not test else self.language.otherwise if number else "if", test)

    def closed(self) -> None:
        """The end of a block."""
        self._leave()
        if self.language.closes:
            self.add(self.language.closes)

    def forever(self) -> None:
        """A loop that is left by a break."""
        self.opened(f"while {self.language.true}")

    def declare(self, name: str, value: str) -> None:
        """Gives a variable its value, and declares it where no block around has."""
        if not self.language.declares or any(name in names for names in self._known.values()):
            self.do(f"{name} = {value}")
            return
        self._known.setdefault(self.level, set()).add(name)
        self._declared.append((self.level, name))
        self.do(f"{self.language.declares}{name} = {value}")

    def place(self) -> tuple[int, int, int]:
        """Where the page is, to go back to."""
        return len(self.lines), self.level, len(self._declared)

    def back(self, place: tuple[int, int, int]) -> None:
        """Takes back what was written since."""
        count, level, declared = place
        del self.lines[count:]
        while self.level > level:
            self._leave()
        for at, name in self._declared[declared:]:
            self._known.get(at, set()).discard(name)
        del self._declared[declared:]

    def _leave(self) -> None:
        self._known.pop(self.level, None)
        self.level -= 1

    def says_something(self, first: int) -> bool:
        """Whether any line from the `first` on is more than a comment."""
        return any(not line.strip().startswith(self.language.comment.strip()) for line in self.lines[first:])

    def runs_on(self) -> bool:
        """Whether what stands behind the last line can be reached."""
        last = self.lines[-1].strip().removesuffix(self.language.end)
        return last not in ("break", self.language.ends)
