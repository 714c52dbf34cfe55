"""A file's bytes as text: unpacked, in whatever encoding it was written."""

from __future__ import annotations

import codecs
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from geduld.errors import TraceError

MOST_BYTES = 200_000_000
ENCODINGS = {"utf-8": "UTF-8", "utf-16-le": "UTF-16", "utf-16-be": "UTF-16, big end first", "cp1252": "Latin-1"}
_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))
_GZIP = b"\x1f\x8b"
_SAMPLE = 4_000
# Noise on a cable makes single bytes that are no text; a text in another encoding has more of them.
_NOISE = 0.002


@dataclass(frozen=True)
class Text:
    """A file's text; `encoding` is how it was written (a key of ENCODINGS), `packed` whether it was gzip."""

    text: str
    encoding: str
    packed: bool = False

    @cached_property
    def _plain(self) -> str:
        """The text with LF at the end of each line."""
        return self.text.replace("\r\n", "\n").replace("\r", "\n") if "\r" in self.text else self.text

    def lines(self) -> Iterator[str]:
        """Its lines without their ends, whichever of CR, LF or both those are."""
        # one by one: all of them as a list would take several times as much room as the text
        text, start = self._plain, 0
        while (end := text.find("\n", start)) >= 0:
            yield text[start:end]
            start = end + 1
        if start < len(text):
            yield text[start:]


def too_large() -> TraceError:
    """What is said of a file that is not read, because it is too large."""
    message = f"A recording has at most {MOST_BYTES // 1_000_000} MB."
    return TraceError("trace-too-large", message, "Record for a shorter time, or cut the file up.")


def text_of(data: bytes, encoding: str = "") -> Text:
    """The text in a file. `encoding` is a key of ENCODINGS; it is found out where it is not given.

    Bytes that are no text become the sign for that, so that only their rows are lost. Raises TraceError.
    """
    packed = data.startswith(_GZIP)
    data = _unpacked(data) if packed else data
    if len(data) >= MOST_BYTES:
        raise too_large()
    for mark, name in _MARKS:
        if data.startswith(mark):
            return Text(data[len(mark) :].decode(name, "replace"), name, packed)
    name = encoding or _encoding(data)
    return Text(data.decode(name, "replace"), name, packed)


def _unpacked(data: bytes) -> bytes:
    """What a gzip file holds, as long as it is not more than may be read: a small file can hold very much."""
    unpacked = bytearray()
    while data.startswith(_GZIP):
        unpacker = zlib.decompressobj(wbits=31)
        try:
            unpacked += unpacker.decompress(data, MOST_BYTES - len(unpacked))
        except zlib.error:
            message = "This gzip file is damaged."
            raise TraceError("not-gzip", message, "Copy it from the robot again, or unpack it yourself.") from None
        if unpacker.unconsumed_tail or len(unpacked) >= MOST_BYTES:
            raise too_large()
        data = unpacker.unused_data  # a file may hold several packets, one after the other
    return bytes(unpacked)


def _encoding(data: bytes) -> str:
    sample = data[:_SAMPLE]
    halves = sample[0::2].count(0), sample[1::2].count(0)
    if max(halves) > len(sample) / 2 * 0.6:
        return "utf-16-le" if halves[1] > halves[0] else "utf-16-be"
    try:
        data.decode("utf-8")
        return "utf-8"
    except UnicodeDecodeError:
        strange = data.decode("utf-8", "replace").count("�")
    letters = sum(data.count(bytes([code])) for code in range(0xA0, 0x100))
    return "utf-8" if strange <= max(1, _NOISE * len(data)) and strange < letters else "cp1252"
