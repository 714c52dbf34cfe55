"""Files in one zip, and out of it again. A zip that comes from somewhere is hostile until it has been looked through.

Refused are: more files or bytes than an exercise has, whatever the zip says of itself; names that lead out of the
folder, or that two systems would read as two things; links; passwords; and files of other kinds than an exercise has.
"""

from __future__ import annotations

import io
import re
import stat
import tempfile
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO

from geduld.errors import ExerciseError, Place
from geduld.grading.parcel.writing import EXERCISE
from geduld.language.messages import listed
from geduld.readers.reading import ENDINGS
from geduld.worlds.recording import RECORDINGS

MOST_ENTRIES = 5_000
MOST_UNPACKED_BYTES = 300_000_000
MOST_NAME = 200
KNOWN = (".json", ".txt", ".md", *RECORDINGS, *ENDINGS)
_WHEN = (1980, 1, 1, 0, 0, 0)  # the same files are the same zip, whenever they are packed
_CHUNK = 1 << 20
_FORBIDDEN = re.compile(r'[\x00-\x1f\x7f<>:"|?*\\]')
_DEVICES = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)(\..*)?", re.IGNORECASE)


def zipped(files: Mapping[str, bytes]) -> bytes:
    """A zip of some files, by their names."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            entry = zipfile.ZipInfo(name, _WHEN)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = (stat.S_IFREG | 0o644) << 16
            archive.writestr(entry, data)
    return out.getvalue()


def unzip(source: Path | IO[bytes], folder: Path) -> Path:
    """Unpacks a zip into an empty folder, and gives the folder in it that holds the exercise.

    What systems put into zips by themselves is left out. Raises ExerciseError, which names the entry, for a zip that is
    refused; what was unpacked until then stays in the folder.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            _unpack(archive, folder)
    except RuntimeError:  # what zipfile raises for a password
        raise _refused("zip-password", "This zip has a password, so it cannot be opened.") from None
    except (zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, EOFError, NotImplementedError, ValueError, OSError):
        raise _refused("zip-damaged", "This zip cannot be opened: it is damaged, or no zip.") from None
    return _found(folder)


@contextmanager
def opened(path: Path) -> Iterator[Path]:
    """The folder of an exercise: the path itself; of a zip, what is in it for as long as it is looked at."""
    if not path.is_file():
        yield path
        return
    with tempfile.TemporaryDirectory() as folder:
        yield unzip(path, Path(folder))


def _unpack(archive: zipfile.ZipFile, folder: Path) -> None:
    entries = archive.infolist()
    if len(entries) > MOST_ENTRIES:
        raise _refused(
            "zip-too-large", f"This zip has {len(entries):,} entries; an exercise has {MOST_ENTRIES:,} at most."
        )
    if sum(entry.file_size for entry in entries) > MOST_UNPACKED_BYTES:
        raise _too_large()
    left, seen = MOST_UNPACKED_BYTES, dict[str, str]()
    for entry in entries:
        name = _name(entry)
        if entry.is_dir() or name is None:
            continue
        if name.casefold() in seen:
            raise _refused("zip-name", "Two files have this name, so nobody knows which of them is meant.", name)
        seen[name.casefold()] = name
        path = folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        # The size that an entry says of itself may be a lie: what comes is counted.
        with archive.open(entry) as file, path.open("xb") as out:
            while chunk := file.read(_CHUNK):
                left -= len(chunk)
                if left < 0:
                    raise _too_large()
                out.write(chunk)


def _name(entry: zipfile.ZipInfo) -> str | None:
    """An entry's name as a path in the folder; None for what a system has put there by itself."""
    written = entry.orig_filename if "\x00" in entry.orig_filename else entry.filename
    name = written.removesuffix("/")
    steps = name.split("/")
    if name.startswith("/") or ".." in steps or _FORBIDDEN.search(name) or len(name) > MOST_NAME:
        raise _refused("zip-name", "This name leads out of the folder, or is none that every system can keep.", written)
    if any(not step or step == "." or step.endswith((" ", ".")) or _DEVICES.fullmatch(step) for step in steps):
        raise _refused("zip-name", "This name is none that every system can keep.", written)
    kind = stat.S_IFMT(entry.external_attr >> 16)
    if kind not in (0, stat.S_IFREG, stat.S_IFDIR):
        raise _refused("zip-link", "This is a link or a device, and no file.", written)
    if any(step.startswith((".", "__MACOSX")) for step in steps) or steps[-1].lower() in ("thumbs.db", "desktop.ini"):
        return None
    if not entry.is_dir() and PurePosixPath(name).suffix.lower() not in KNOWN:
        raise _refused("zip-kind", f"An exercise has no such file. It has {listed(KNOWN)}.", written)
    return name


def _found(folder: Path) -> Path:
    """The folder in which the exercise stands: the zip's own, or the only one in it."""
    if (folder / EXERCISE).is_file():
        return folder
    inner = [path for path in folder.iterdir() if path.is_dir()]
    if len(inner) == 1 and (inner[0] / EXERCISE).is_file():
        return inner[0]
    raise _refused("no-exercise", f"There is no {EXERCISE} in this zip.")


def _too_large() -> ExerciseError:
    return _refused("zip-too-large", f"What is in this zip has more than {MOST_UNPACKED_BYTES // 1_000_000} MB.")


def _refused(code: str, message: str, entry: str = "") -> ExerciseError:
    remedy = "Take a zip that Geduld has made, or zip the folder of an exercise. Nothing was kept of this one."
    return ExerciseError(code, message, remedy, Place(entry[:200]))
