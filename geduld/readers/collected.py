"""The hand-ins of a class as they were collected, in one folder or one zip: which files are whose."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import PurePosixPath

from geduld.readers.bundle import (
    go_together,
    is_hidden,
    is_program,
    program_in,
    unpacked,
    without_root,
    zip_files,
)
from geduld.readers.files import no_program
from geduld.readers.owners import Owner, owners, plain_name
from geduld.readers.reading import NOTATION, PYTHON
from geduld.worlds.recording import RECORDINGS

MOST_ENTRIES, MOST_BYTES = 4_000, 40_000_000
ZIP = ".zip"
_ANY_PROGRAM = ("main", "__main__", "program", "robot", "code", "test", "solution", "untitled", "unnamed")


@dataclass(frozen=True)
class Collected:
    """What one student handed in: the program or the recorded run, and the folder or file that it stood in.

    `files` is the number of programs in it, `trouble` a sentence where there is none that can be kept as it is.
    """

    student: str
    source: str
    data: bytes
    language: str = NOTATION
    recorded: bool = False
    files: int = 1
    trouble: str = ""


def class_zip(data: bytes) -> dict[str, bytes]:
    """The files in a zip of a whole class, by their paths; of what is neither program, recording nor zip the name only.

    Raises ValueError with a sentence for one that cannot be opened or is too large. Nothing is written anywhere.
    """
    return unpacked(data, lambda path: None if is_hidden(path) else _is_read(path), MOST_ENTRIES, MOST_BYTES, "files")


def collected(files: Mapping[str, bytes], name: str, alone: bool = True) -> list[Collected]:
    """Whose programs are in a folder or a zip called `name`: a class's, or one student's.

    Each folder, and each file beside folders, is a student; a zip among them is one student's program. Files that
    import each other are one program of the student `name`. So is a single program whose name tells nobody, and, with
    `alone` false (other zips came with it), any single program. Raises ValueError where they are too large together.
    """
    files = {path: data for path, data in files.items() if not is_hidden(path)}
    told, root = _inside(files, name)
    programs = {path: data for path, data in told.items() if is_program(path)}
    if _is_one_program(told, programs):
        return [_one(plain_name(root), name, told)]
    found, left = [], MOST_BYTES
    for item in _of_a_class(told):
        found.append(item)
        left -= len(item.data)
        if left < 0:  # zips in a zip say nothing of what is in them
            raise ValueError(f"The programs in it have more than {MOST_BYTES:,} bytes.")
    if len(found) == 1 and (not alone or PurePosixPath(found[0].source).stem.lower() in _ANY_PROGRAM):
        only = found[0]
        return [Collected(plain_name(root), name, only.data, only.language, only.recorded, only.files, only.trouble)]
    return found or [_one(plain_name(root), name, told)]


def one_program(files: Mapping[str, bytes], name: str) -> Collected:
    """All of a folder or a zip called `name` as what one student handed in."""
    return _one(plain_name(name), name, {path: data for path, data in files.items() if not is_hidden(path)})


def _inside(files: Mapping[str, bytes], name: str) -> tuple[dict[str, bytes], str]:
    """Paths without the folders that all of them stand in; and who owns all of it, if one does.

    The last of these folders in whose name a student is told beside ids is that student's.
    """
    found, root = dict(files), name
    while found and all("/" in path for path in found):
        tops = {path.split("/", 1)[0] for path in found}
        if len(tops) != 1:
            break
        (top,) = tops
        owner = owners([top])[top]
        if owner.added and owner.student:
            root = owner.student
        found = without_root(found, once=True)
    return found, root


def _is_one_program(told: Mapping[str, bytes], programs: Mapping[str, bytes]) -> bool:
    """Whether files are one program: of several one at the top is the main one, or imports another one or a folder."""
    tops = [path for path in programs if "/" not in path]
    if not tops or len(programs) < 2 or any(PurePosixPath(path).suffix.lower() == ZIP for path in told):
        return False
    mains = any(PurePosixPath(path).stem.lower() in ("main", "__main__") for path in tops)
    return mains or go_together(programs)


def _of_a_class(told: Mapping[str, bytes]) -> Iterator[Collected]:
    """A hand-in for each folder, and for each file or group of files beside them."""
    folders: dict[str, dict[str, bytes]] = {}
    singles: dict[str, bytes] = {}
    for path, data in told.items():
        first, _, rest = path.partition("/")
        if rest:
            folders.setdefault(first, {})[rest] = data
        elif _is_read(path):
            singles[path] = data
    if singles:  # a folder of pictures beside programs is nobody's hand-in
        folders = {folder: own for folder, own in folders.items() if any(map(_is_read, own))}
    names = _unlike(owners(folders))
    for folder, own in sorted(folders.items()):
        yield _one(names[folder], folder, own)
    yield from _of_files(singles)


def _unlike(whose: Mapping[str, Owner]) -> dict[str, str]:
    """A name for each owner; two students of one name are told apart by their ids."""
    counted: dict[str, int] = {}
    for owner in whose.values():
        counted[owner.student] = counted.get(owner.student, 0) + 1
    return {
        key: owner.student if counted[owner.student] == 1 or not owner.id else f"{owner.student} {owner.id}"
        for key, owner in whose.items()
    }


def _of_files(singles: Mapping[str, bytes]) -> Iterator[Collected]:
    """Files that stand side by side: each a student's, or several a student's where ids stand beside the names."""
    stems = {path: PurePosixPath(path).stem for path in singles}
    whose = owners(set(stems.values()))
    groups: dict[tuple[str, str, str], dict[str, bytes]] = {}
    newest: dict[tuple[str, str], str] = {}
    for path, data in singles.items():
        owner = whose[stems[path]]
        key = (owner.student, owner.id) if owner.added else (path, "")
        newest[key] = max(newest.get(key, ""), owner.when)
        groups.setdefault((*key, owner.when), {})[path] = data
    names = _unlike({"\n".join(key): whose[stems[min(groups[*key, when])]] for key, when in sorted(newest.items())})
    for key, when in sorted(newest.items()):
        own = groups[*key, when]
        source = min(own)
        inner = {
            (whose[stems[path]].own or stems[path]) + PurePosixPath(path).suffix: data for path, data in own.items()
        }
        yield _one(names["\n".join(key)], source, inner)


def _one(student: str, source: str, own: Mapping[str, bytes]) -> Collected:
    """What a student handed in: a program, a recorded run, or neither."""
    files: dict[str, bytes] = {}
    for path, data in own.items():
        if PurePosixPath(path).suffix.lower() != ZIP:
            files[path] = data
            continue
        try:
            inside = zip_files(data)
        except ValueError as problem:
            return Collected(student, source, no_program(str(problem)), PYTHON, files=0, trouble=str(problem))
        stem = path.removesuffix(path[-len(ZIP) :])
        files |= {f"{stem}/{inner}": text for inner, text in inside.items()}
        if sum(map(len, files.values())) > MOST_BYTES:
            trouble = f"There are more than {MOST_BYTES:,} bytes in it."
            return Collected(student, source, no_program(trouble), PYTHON, files=0, trouble=trouble)
    programs = {path: data for path, data in files.items() if is_program(path)}
    recordings = [path for path in files if PurePosixPath(path).suffix.lower() in RECORDINGS]
    if not programs and len(recordings) == 1:
        return Collected(student, source, files[recordings[0]], NOTATION, True)
    data, language = program_in(programs)
    trouble = "" if programs else "There is no program in it."
    return Collected(student, source, data, language, files=len(programs), trouble=trouble)


def _is_read(path: str) -> bool:
    return is_program(path) or PurePosixPath(path).suffix.lower() in (*RECORDINGS, ZIP)
