"""Wordbooks over HTTP: what the words of a class's robot library mean, each to be tried on the spot."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.decorators import action
from rest_framework.request import Request
from rest_framework.response import Response

from geduld.binding.library import library_of
from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.trying import Tried, try_word
from geduld.rig.reader import rig_from_json
from geduld.translation.translate import translate
from geduld.wordbook.binder import good_wordbook, read_wordbook
from geduld.wordbook.bound import PART, BoundBook, BoundWord
from geduld.wordbook.printing import format_wordbook
from geduld.wordbook.reading import parse_wordbook
from geduld.wordbook.tree import LANGUAGES
from server.config.apart import TookTooLong, TooLong, in_turn
from server.config.owned import OwnedField, teacher_of
from server.config.rows import BrokenRow
from server.config.versions import unchanged, version_of
from server.shelf.answers import HintSerializer
from server.shelf.models import Rig, Trace, Wordbook
from server.shelf.on_shelf import SHELF_FIELDS, OnShelfSerializer, OnShelfViewSet
from server.shelf.services import core_rig, library_texts
from server.shelf.unpacked import core_trace

MOST_SECONDS = 5.0


@extend_schema_field({"type": ["number", "string", "null"]})
class DefaultField(serializers.JSONField):
    """What is given for a parameter where a program gives nothing."""


class ParameterSerializer(serializers.Serializer):
    """A parameter of a word: its name, what is given for it, and in which unit or on which scale."""

    name = serializers.CharField()
    what = serializers.CharField(help_text="number, part, text, line or function")
    unit = serializers.CharField(allow_blank=True)
    scale = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    default = DefaultField(allow_null=True)


class WordSerializer(serializers.Serializer):
    """A word as it can be tried. `name` is dotted for the words of objects."""

    name = serializers.CharField()
    line = serializers.IntegerField()
    gives = serializers.CharField(allow_blank=True, help_text="number, truth, text, or empty for a word that acts")
    unit = serializers.CharField(allow_blank=True)
    parameters = ParameterSerializer(many=True)


class WordbookSerializer(BrokenRow, OnShelfSerializer):
    """A wordbook. `started_from` is the version of the text that a change started from."""

    in_place = {"hints": [], "words": [], "language": "python", "parts": []}  # noqa: RUF012
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")

    rig = OwnedField(queryset=Rig.objects.all())
    title = serializers.CharField(read_only=True)
    text = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, required=False)
    version = serializers.SerializerMethodField()
    started_from = serializers.CharField(required=False, write_only=True, max_length=64)
    language = serializers.SerializerMethodField()
    hints = serializers.SerializerMethodField()
    words = serializers.SerializerMethodField()
    used_by = serializers.SerializerMethodField()

    class Meta:
        model = Wordbook
        fields = (
            "id", "rig", "title", "text", "language", "hints", "words", "used_by", "updated", "version",
            "started_from", "broken", *SHELF_FIELDS,
        )  # fmt: skip

    def get_version(self, book: Wordbook) -> str:
        """Which text this is, for changes that start from it."""
        return version_of(book.text)

    @extend_schema_field(serializers.ChoiceField(choices=LANGUAGES))
    def get_language(self, book: Wordbook) -> str:
        """The language of the programs that it is for."""
        return _bound(book).book.language

    @extend_schema_field(HintSerializer(many=True))
    def get_hints(self, book: Wordbook) -> list[dict[str, Any]]:
        """What is wrong with it."""
        return [hint.as_json() for hint in _bound(book).hints]

    @extend_schema_field(WordSerializer(many=True))
    def get_words(self, book: Wordbook) -> list[dict[str, Any]]:
        """The words that can be tried."""
        return words_of(_bound(book))

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_used_by(self, book: Wordbook) -> list[str]:
        """The exercises that name it."""
        return [exercise.title for exercise in book.exercises.all()] if book.pk else []

    def create(self, values: dict[str, Any]) -> Wordbook:
        """It is called what its text says."""
        values.pop("started_from", None)
        values["title"] = _title(values.get("text", ""), "words")
        made: Wordbook = super().create(values)
        return made

    def update(self, book: Wordbook, values: dict[str, Any]) -> Wordbook:
        """Keeps the text. Raises Changed when it was changed elsewhere in the meantime."""
        started_from = values.pop("started_from", None)
        if "text" in values:
            unchanged("text", values["text"], book.text, started_from)
            values["title"] = _title(values["text"], book.title)
        changed: Wordbook = super().update(book, values)
        return changed


def _title(text: str, otherwise: str) -> str:
    return parse_wordbook(text).tree.title[:100] or otherwise


def _bound(book: Wordbook) -> BoundBook:
    return read_wordbook(book.text, core_rig(book.rig))


def words_of(book: BoundBook) -> list[dict[str, Any]]:
    """The words of a wordbook in the form of `WordSerializer`."""
    found = [_word(name, word) for name, word in book.words.items() if word.constant is None]
    for thing in book.things.values():
        part = {"name": thing.given[0].name, "what": PART, "unit": "", "scale": None, "default": thing.given[0].default}
        for name, word in thing.words.items():
            told = _word(f"{thing.name}.{name}", word)
            found.append({**told, "parameters": [part, *told["parameters"]]})
    return sorted(found, key=lambda word: word["line"])


def _word(name: str, word: BoundWord) -> dict[str, Any]:
    parameters = [
        {
            "name": one.name,
            "what": one.what,
            "unit": one.unit.word if one.unit else "",
            "scale": [one.scale.low, one.scale.high] if one.scale else None,
            "default": one.default,
        }
        for one in word.given or ()
    ]
    unit = word.unit.word if word.unit else ""
    return {"name": name, "line": word.line, "gives": word.what, "unit": unit, "parameters": parameters}


class TrySerializer(serializers.Serializer):
    """A word to try, with the text of the wordbook as it is being written: at `at` seconds of a trace."""

    text = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False)
    word = serializers.CharField(max_length=200)
    values = serializers.ListField(child=serializers.JSONField(), max_length=20)
    trace = OwnedField(queryset=Trace.objects.all())
    at = serializers.FloatField(min_value=0, max_value=1e6)

    def validate_values(self, values: list[Any]) -> list[Any]:
        """Numbers and texts."""
        if not all(isinstance(value, str | int | float) for value in values):
            raise serializers.ValidationError("A word is given numbers and texts.")
        return values


class GivenCommandSerializer(serializers.Serializer):
    """A command that a word gave, `after` seconds from its call, in the part's unit."""

    part = serializers.CharField()
    after = serializers.FloatField()
    value = serializers.FloatField(allow_null=True)
    unit = serializers.CharField(allow_blank=True)


class TriedSerializer(serializers.Serializer):
    """What a word did: its value as the program has it, its commands, what it said, and how long it took in s."""

    value = serializers.CharField(allow_blank=True)
    commands = GivenCommandSerializer(many=True)
    said = serializers.ListField(child=serializers.CharField())
    lasted = serializers.FloatField()
    problem = serializers.CharField(allow_blank=True)


class TranslateSerializer(serializers.Serializer):
    """A behaviour to write out with the wordbook's words, as it is being written."""

    text = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False)


class TranslationSerializer(serializers.Serializer):
    """A program in the class's language, and what its words cannot say, with the lines of the behaviour."""

    text = serializers.CharField(allow_blank=True)
    left_out = HintSerializer(many=True)


class WordbookViewSet(OnShelfViewSet):
    """The teacher's wordbooks."""

    queryset = Wordbook.objects.select_related("rig").prefetch_related("exercises")
    serializer_class = WordbookSerializer
    searched = ("title", "rig__name", "text")

    @extend_schema(request=TrySerializer, responses=TriedSerializer)
    @action(detail=True, methods=["post"], url_path="try")
    def try_(self, request: Request, pk: str | None = None) -> Response:
        """Calls one word."""
        book = self.get_object()
        asked = TrySerializer(data=request.data, context=self.get_serializer_context())
        asked.is_valid(raise_exception=True)
        values = asked.validated_data
        try:
            told = in_turn(
                teacher_of(request), tried_json, book.rig.source, values["text"], values["word"], values["values"],
                values["trace"].pk, values["at"], limit_s=MOST_SECONDS,
            )  # fmt: skip
        except TookTooLong:
            raise TooLong from None
        return Response(told)

    @extend_schema(request=TranslateSerializer, responses=TranslationSerializer)
    @action(detail=True, methods=["post"])
    def translate(self, request: Request, pk: str | None = None) -> Response:
        """Writes a behaviour out in the class's language. Raises ProgramError for one with errors."""
        book = self.get_object()
        asked = TranslateSerializer(data=request.data, context=self.get_serializer_context())
        asked.is_valid(raise_exception=True)
        try:
            told = in_turn(
                teacher_of(request), translation_json, book.rig.source, book.text, asked.validated_data["text"],
                library_texts(book.rig), limit_s=MOST_SECONDS,
            )  # fmt: skip
        except TookTooLong:
            raise TooLong from None
        return Response(told)

    @extend_schema(responses=WordbookSerializer)
    @action(detail=True, methods=["post"])
    def tidy(self, request: Request, pk: str | None = None) -> Response:
        """Brings the text into its standard form; one with errors stays as it is."""
        book = self.get_object()
        parsed = parse_wordbook(book.text)
        if parsed.good:
            book.text = format_wordbook(parsed.tree)
            book.save()
        return Response(self.get_serializer(book).data)


def translation_json(source: Any, words: str, text: str, libraries: tuple[str, ...]) -> dict[str, Any]:
    """A behaviour written out, in the form of `TranslationSerializer`."""
    rig = rig_from_json(source)
    found = translate(text, rig, good_wordbook(words, rig), library_of(libraries))
    return {"text": found.text, "left_out": [hint.as_json() for hint in found.left_out]}


def tried_json(source: Any, text: str, word: str, values: list[Any], trace: int, at: float) -> dict[str, Any]:
    """What a word did, in the form of `TriedSerializer`."""
    rig = rig_from_json(source)
    found: Tried = try_word(text, rig, word, values, core_trace(Trace.objects.get(pk=trace)), round(at * 1e6))
    commands = []
    for name, after, value in found.commands:
        part = rig.parts[name]
        told = part.unit.from_base(value) if part.unit else value
        commands.append(
            {"part": name, "after": after / 1e6, "value": told if told == told else None, "unit": part.unit_word}
        )
    return {
        "value": found.value,
        "commands": commands,
        "said": list(found.said),
        "lasted": found.lasted_us / 1e6,
        "problem": found.problem,
    }
