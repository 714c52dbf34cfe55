"""What a student hands in as a folder or a zip: one program, of one file or of several."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Callable, Mapping
from pathlib import Path, PurePosixPath

from geduld.readers.devices import rig_named
from geduld.readers.files import files_in, is_header, joined, no_program
from geduld.readers.reading import ENDINGS, NOTATION, PYTHON, C, language_of

MOST_FILES, MOST_BYTES = 200, 2_000_000
# What a damaged zip raises.
_TROUBLES = (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, UnicodeDecodeError)
_MAIN = re.compile(rb"\bmain\s*\([^;{]*\)\s*\{")
_FIRST_NAMES = ("main", "__main__")


def program_in(files: Mapping[str, bytes], begins: str = "") -> tuple[bytes, str]:
    """The program among some files, by their paths: its text, and its language.

    `begins` names the file with which it begins, where that was asked for. What is no program is left out. Where there
    is none, or nobody can tell with which file it begins, the text says so, and reading it gives that as its error.
    Behaviours for different rigs are one hand-in for devices that work together.
    """
    known = {name: data for name, data in without_root(files).items() if is_program(name)}
    chosen = language_of(begins) if begins in known else ""
    languages = sorted({language_of(name) for name in known} if not chosen else {chosen})
    if len(languages) != 1:
        names = ", ".join(sorted(known)[:6])
        why = f"There are programs in several languages in it: {names}." if known else "There is no program in it."
        return no_program(why), PYTHON
    language = languages[0]
    known = {name: data for name, data in known.items() if language_of(name) == language}
    if len(known) == 1:
        return next(iter(known.values())), language
    if language == NOTATION:
        rigs = [rig_named(data.decode("utf-8", "replace")) for data in known.values()]
        if "" in rigs or len(set(rigs)) < len(rigs):
            return no_program(f"There are several behaviours in it: {', '.join(sorted(known)[:6])}."), PYTHON
        return joined(known, min(known), NOTATION), NOTATION
    first = begins if begins in known else _first(known, language)
    return joined(known, first, language), language


def go_together(files: Mapping[str, bytes]) -> bool:
    """Whether one of the files at the top imports or includes another one, or one in a folder beside it."""
    tops = [path for path in files if "/" not in path]
    return any(
        _imports(files[one], other) or _includes(files[one], other) or _imports_from(files[one], other)
        for one in tops
        for other in files
        if one != other
    )


def _imports_from(data: bytes, name: str) -> bool:
    """Whether a file imports something of the folder that another one stands in."""
    folder, _, rest = name.partition("/")
    pattern = rb"^[ \t]*(?:import|from)\s+\.?" + re.escape(folder.encode()) + rb"\b"
    return bool(rest) and re.search(pattern, data, re.MULTILINE) is not None


def _includes(data: bytes, name: str) -> bool:
    return (
        re.search(rb"^\s*#\s*include\s*[<\"](?:[\w./]*/)?" + re.escape(name.encode()), data, re.MULTILINE) is not None
    )


def begins_with(data: bytes, begins: str, language: str) -> bytes:
    """A program of several files that begins with another of them. Raises KeyError when it has no such file."""
    files = {file.name: file.text.encode() for file in files_in(data.decode("utf-8", "replace"))}
    if begins not in files or not begins:
        raise KeyError(begins)
    return joined(files, begins, language)


def folder_files(folder: Path) -> dict[str, bytes]:
    """The files of a folder and of the folders in it, as many as a program may have, by their paths in it."""
    found: dict[str, bytes] = {}
    left = MOST_BYTES
    for path in sorted(folder.rglob("*")):
        name = path.relative_to(folder).as_posix()
        if not is_program(name) or path.is_symlink() or not path.is_file() or len(found) >= MOST_FILES or left <= 0:
            continue
        with path.open("rb") as file:
            found[name] = file.read(left)
        left -= len(found[name])
    return found


def zip_files(data: bytes) -> dict[str, bytes]:
    """The programs in a zip, by their paths: no more than a program may have. Raises ValueError as `unpacked`."""
    return unpacked(data, lambda path: is_program(path) or None, MOST_FILES, MOST_BYTES, "programs")


def unpacked(
    data: bytes, wanted: Callable[[str], bool | None], most: int, most_bytes: int, what: str
) -> dict[str, bytes]:
    """The files in a zip, by their paths: whole where `wanted` is True, a name alone where it is False, else left out.

    Raises ValueError with a sentence for one that cannot be opened or holds too much; `what` are its files in it.
    Nothing is written anywhere, and no more is unpacked than that, whatever the zip says of itself.
    """
    found: dict[str, bytes] = {}
    left = most_bytes
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            for entry in archive.infolist():
                name = tidy_path(entry_name(entry))
                read = None if entry.is_dir() else wanted(name)
                if read is None:
                    continue
                if len(found) >= most:
                    raise ValueError(f"There are more than {most:,} {what} in this zip.")
                found[name] = b""
                if read:
                    with archive.open(entry) as file:
                        found[name] = file.read(left + 1)
                left -= len(found[name])
                if left < 0:
                    raise ValueError(f"The {what} in this zip have more than {most_bytes:,} bytes.")
    except RuntimeError:  # what zipfile raises for a password
        raise ValueError("This zip has a password, so it cannot be opened.") from None
    except _TROUBLES:
        raise ValueError("This zip cannot be opened: it is damaged, or no zip.") from None
    return found


def entry_name(entry: zipfile.ZipInfo) -> str:
    """A name in a zip: many write UTF-8 and do not say so."""
    if not entry.flag_bits & 0x800:
        try:
            return entry.filename.encode("cp437").decode("utf-8")
        except UnicodeError:
            pass
    return entry.filename


def tidy_path(name: str) -> str:
    """A path in a zip without steps up, drives and roots."""
    steps = [step for step in name.replace("\\", "/").split("/") if step not in ("", ".", "..")]
    return "/".join(steps)


def is_program(name: str) -> bool:
    """Whether a path is that of a program, and of none that an editor or a system has put there."""
    return not is_hidden(name) and PurePosixPath(name).suffix.lower() in ENDINGS


def is_hidden(name: str) -> bool:
    """Whether a path is that of a file that an editor or a system has put there."""
    path = PurePosixPath(name)
    hidden = any(step.startswith((".", "__MACOSX", "__pycache__", "~$")) for step in path.parts)
    return hidden or path.name.lower() in ("thumbs.db", "desktop.ini")


def without_root(files: Mapping[str, bytes], once: bool = False) -> dict[str, bytes]:
    """Paths without the folders that all of them stand in, or without the first of these."""
    found = dict(files)
    while found and all("/" in name for name in found) and len({name.split("/", 1)[0] for name in found}) == 1:
        found = {name.split("/", 1)[1]: data for name, data in found.items()}
        if once:
            break
    return found


def _first(files: Mapping[str, bytes], language: str) -> str | None:
    """The file with which a program begins; None where nobody knows."""
    sources = [name for name in sorted(files) if not is_header(name)]
    if len(sources) == 1:
        return sources[0]
    if language == C:
        mains = [name for name in sources if _MAIN.search(files[name])]
        # Without a main it is one of the wordbook's own that begins, and all sources are one program.
        return mains[0] if len(mains) == 1 else None if mains or not sources else sources[0]
    named = [name for name in sources if PurePosixPath(name).stem in _FIRST_NAMES and "/" not in name]
    if len(named) == 1:
        return named[0]
    free = [name for name in sources if not any(_imports(files[other], name) for other in sources if other != name)]
    # A file that is on its own beside others is an old copy, or a try.
    going = [name for name in free if any(_imports(files[name], other) for other in sources if other != name)]
    return going[0] if len(going) == 1 else free[0] if len(free) == 1 else None


def _imports(data: bytes, name: str) -> bool:
    """Whether a file imports another, as far as its lines say so."""
    stem = re.escape(PurePosixPath(name).stem.encode())
    pattern = (
        rb"^[ \t]*(?:import\s[^\n]*\b"
        + stem
        + rb"\b|from\s+[\w.]*\b"
        + stem
        + rb"\s+import|from\s+[\w.]+\s+import\s[^\n]*\b"
        + stem
        + rb"\b)"
    )
    return re.search(pattern, data, re.MULTILINE) is not None
