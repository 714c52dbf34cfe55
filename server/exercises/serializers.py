"""Exercises, cases and hand-ins as JSON."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.errors import GeduldError
from geduld.grading.exercise import MOST_CASES
from geduld.language.source import MOST_TEXT_BYTES
from geduld.readers.files import begins_unclear, files_in, may_begin
from server.config.apart import in_turn
from server.config.owned import OwnedField
from server.config.rows import BrokenRow
from server.config.versions import unchanged, version_of
from server.exercises.models import Case, Exercise, HandIn, partner_rig
from server.exercises.receiving import begin_with
from server.exercises.texts import checks_in, looked_through
from server.shelf.answers import HintSerializer
from server.shelf.doings import DoingsField, doings_csv, doings_of
from server.shelf.models import Behaviour, Floor, Rig, Trace, Wordbook
from server.shelf.on_shelf import SHELF_FIELDS, OnShelfSerializer
from server.shelf.services import core_rig, library_texts
from server.shelf.worlds import FaultsField, try_world

MOST_BRIEF = 20_000
MOST_SECONDS = 20.0
TEXTS = ("brief", "reference", "checks")


def _text() -> serializers.CharField:
    return serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, required=False)


class CaseSerializer(BrokenRow, serializers.ModelSerializer):
    """A case: a trace of the exercise's own rig or a floor, with inputs, a seed and a limit."""

    in_place = {"doings": []}  # noqa: RUF012
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")

    exercise = OwnedField(queryset=Exercise.objects.all())
    trace = OwnedField(queryset=Trace.objects.defer("data"), required=False, allow_null=True)
    floor = OwnedField(queryset=Floor.objects.all(), required=False, allow_null=True)
    doings = DoingsField(required=False)
    seed = serializers.IntegerField(required=False, allow_null=True, min_value=0, max_value=2**32 - 1)
    faults = FaultsField(required=False)
    limit_us = serializers.IntegerField(required=False, allow_null=True, min_value=1000, max_value=10**12)
    lasts_us = serializers.IntegerField(required=False, allow_null=True, min_value=1000, max_value=600_000_000)
    partner = OwnedField(queryset=Behaviour.objects.all(), required=False, allow_null=True)
    delay_us = serializers.IntegerField(required=False, min_value=1000, max_value=10_000_000)
    lost = serializers.FloatField(required=False, min_value=0, max_value=100)
    duration_us = serializers.IntegerField(read_only=True)

    class Meta:
        model = Case
        fields = (
            "id",
            "exercise",
            "name",
            "trace",
            "follow",
            "floor",
            "start",
            "doings",
            "seed",
            "faults",
            "limit_us",
            "lasts_us",
            "partner",
            "delay_us",
            "lost",
            "duration_us",
            "broken",
        )

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """One world that the exercise's rig can run in; a trace must be recorded with this rig."""
        kept = self.instance
        exercise = values["exercise"] if kept is None else values.get("exercise", kept.exercise)
        if self.instance is None and exercise.cases.count() >= MOST_CASES:
            raise serializers.ValidationError({"exercise": [f"An exercise has at most {MOST_CASES} cases."]})
        rig = core_rig(exercise.rig)
        if "doings" in values:
            values["inputs"] = doings_csv(values.pop("doings"), rig)
        kept = ("trace", "follow", "floor", "start", "inputs", "seed", "faults", "limit_us", "lasts_us", "partner")
        now = {**{name: getattr(self.instance, name, None) for name in kept}, **values}
        trace = now["trace"]
        if sum(now[place] is not None for place in ("trace", "floor", "lasts_us")) != 1:
            message = "A case has a trace or a floor, one of them, or a time that it lasts."
            raise serializers.ValidationError({"trace": [message]})
        if trace is not None and trace.rig_id != exercise.rig_id:
            raise serializers.ValidationError({"trace": ["This trace was recorded with another rig."]})
        world = {**now, "limit": (now["limit_us"] or 0) / 1e6, "lasts": (now["lasts_us"] or 0) / 1e6}
        in_turn(exercise.owner_id, try_world, exercise.rig.source, world, limit_s=MOST_SECONDS)
        return values


class CheckTitleSerializer(serializers.Serializer):
    """A check by its title, its points, and whether students do not see it."""

    title = serializers.CharField()
    points = serializers.FloatField()
    private = serializers.BooleanField()


class TextProblemsSerializer(serializers.Serializer):
    """The hints about an exercise's texts."""

    reference = HintSerializer(many=True)
    checks = HintSerializer(many=True)


class TextVersionsSerializer(serializers.Serializer):
    """Which texts these are, for changes that start from them."""

    brief = serializers.CharField()
    reference = serializers.CharField()
    checks = serializers.CharField()


class ExerciseSerializer(BrokenRow, OnShelfSerializer):
    """An exercise with its cases, and the hints about its reference and its checks.

    `versions` tell the texts apart; `started_from` names for each text that is changed the version that the change
    started from: another one is not replaced.
    """

    in_place = {"cases": [], "check_titles": [], "problems": {"reference": [], "checks": []}}  # noqa: RUF012
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")
    brief = serializers.CharField(allow_blank=True, max_length=MOST_BRIEF, trim_whitespace=False, required=False)
    versions = serializers.SerializerMethodField()
    started_from = serializers.DictField(child=serializers.CharField(max_length=64), required=False, write_only=True)

    rig = OwnedField(queryset=Rig.objects.all())
    reference = serializers.CharField(
        allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, required=False
    )
    checks = serializers.CharField(allow_blank=True, max_length=MOST_TEXT_BYTES, trim_whitespace=False, required=False)
    late_per_day = serializers.FloatField(required=False, min_value=0, max_value=1)
    late_at_most = serializers.FloatField(required=False, min_value=0, max_value=1)
    round_to = serializers.FloatField(required=False, min_value=0, max_value=100)
    cases = CaseSerializer(many=True, read_only=True)
    wordbooks = OwnedField(queryset=Wordbook.objects.all(), many=True, required=False)
    hand_in_count = serializers.SerializerMethodField()
    check_titles = serializers.SerializerMethodField()
    problems = serializers.SerializerMethodField()

    class Meta:
        model = Exercise
        fields = (
            "id", "title", "brief", "rig", "reference", "checks", "over_cases", "due", "late_per_day",
            "late_at_most", "round_to", "cases", "wordbooks", "hand_in_count", "check_titles", "problems", "updated",
            "versions", "started_from", "broken", *SHELF_FIELDS,
        )  # fmt: skip

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """A change of the rig must suit the cases, which were recorded with it."""
        rig = values.get("rig")
        if self.instance is not None and rig is not None and rig != self.instance.rig:
            for case in self.instance.cases.select_related("trace").defer("trace__data"):
                if case.trace is not None and case.trace.rig_id != rig.pk:
                    said = f'The case "{case.name}" is a trace that was recorded with another rig.'
                    raise serializers.ValidationError({"rig": [said, "Delete it first."]})
                doings_of(case.inputs, core_rig(rig))
        for book in values.get("wordbooks", ()):
            if book.rig_id != (rig or getattr(self.instance, "rig", None)).pk:  # type: ignore[union-attr]
                raise serializers.ValidationError({"wordbooks": [f'"{book.title}" is for another rig.']})
        now = {name: values.get(name, getattr(self.instance, name, "")) for name in ("reference", "checks")}
        if rig is None:
            assert self.instance is not None  # a new one names its rig
            rig = self.instance.rig
        # What is said of the texts takes a while for long ones: it is worked out here, before anything is locked.
        with suppress(GeduldError):
            other = partner_rig(self.instance.cases.all()) if self.instance is not None else None
            looked_through(rig, library_texts(rig), now["reference"], now["checks"], other)
        return values

    def create(self, values: dict[str, Any]) -> Exercise:
        """Nothing was there that it could have started from."""
        values.pop("started_from", None)
        made: Exercise = super().create(values)
        return made

    def update(self, exercise: Exercise, values: dict[str, Any]) -> Exercise:
        """Keeps what is changed. Raises Changed for a text that was changed elsewhere in the meantime."""
        started_from = values.pop("started_from", {})
        for name in TEXTS:
            if name in values:
                unchanged(name, values[name], getattr(exercise, name), started_from.get(name))
        changed: Exercise = super().update(exercise, values)
        return changed

    def get_hand_in_count(self, exercise: Exercise) -> int:
        """How many hand-ins it has."""
        counted: int | None = getattr(exercise, "hand_ins_counted", None)
        return exercise.hand_ins.count() if counted is None else counted

    @extend_schema_field(TextVersionsSerializer)
    def get_versions(self, exercise: Exercise) -> dict[str, str]:
        """Which texts these are, for changes that start from them."""
        return {name: version_of(getattr(exercise, name)) for name in TEXTS}

    @extend_schema_field(CheckTitleSerializer(many=True))
    def get_check_titles(self, exercise: Exercise) -> list[dict[str, Any]]:
        """Each check's title and points, and whether students see it."""
        return self._texts(exercise)[0]

    @extend_schema_field(TextProblemsSerializer)
    def get_problems(self, exercise: Exercise) -> dict[str, Any]:
        """The hints about the reference and the checks."""
        return self._texts(exercise)[1]

    def _texts(self, exercise: Exercise) -> tuple[list[dict[str, Any]], dict[str, Any]]:
        # DRF's own context is a dict, whatever its type says: what is read for one row serves the next.
        libraries = self.context.setdefault("libraries", {})  # type: ignore[attr-defined]
        if exercise.rig_id not in libraries:
            libraries[exercise.rig_id] = library_texts(exercise.rig)
        library, other = libraries[exercise.rig_id], partner_rig(exercise.cases.all())
        return looked_through(exercise.rig, library, exercise.reference, exercise.checks, other)


class ExerciseRowSerializer(BrokenRow, OnShelfSerializer):
    """An exercise as lists show it: its numbers, and nothing of its texts."""

    in_place = {"rig_name": "", "check_count": 0}  # noqa: RUF012
    broken = serializers.CharField(read_only=True, allow_null=True, help_text="why it cannot be read, or null")
    rig_name = serializers.SerializerMethodField()
    check_count = serializers.SerializerMethodField()
    case_count = serializers.IntegerField()
    hand_in_count = serializers.IntegerField(source="hand_ins_counted")

    class Meta:
        model = Exercise
        fields = (
            "id", "title", "rig", "rig_name", "check_count", "case_count", "hand_in_count", "updated", "broken",
            *SHELF_FIELDS,
        )  # fmt: skip

    def get_rig_name(self, exercise: Exercise) -> str:
        """What its rig is called."""
        return core_rig(exercise.rig).name

    def get_check_count(self, exercise: Exercise) -> int:
        """How many checks it has."""
        return checks_in(exercise.checks)


class HandInFilesSerializer(serializers.Serializer):
    """The files with which a program of several may begin, and the one with which it does: empty where nobody knows."""

    may_begin = serializers.ListField(child=serializers.CharField())
    begins = serializers.CharField(allow_blank=True)


class HandInSerializer(serializers.ModelSerializer):
    """A hand-in, with its text as far as it is text."""

    text = serializers.SerializerMethodField()
    files = serializers.SerializerMethodField()
    begins = serializers.CharField(required=False, write_only=True, max_length=300)

    class Meta:
        model = HandIn
        fields = ("id", "exercise", "student", "recorded", "language", "received", "text", "files", "begins")
        read_only_fields = ("exercise", "student", "recorded", "language")

    def get_text(self, hand_in: HandIn) -> str:
        """The program's text; what is not UTF-8 is shown with marks. A recording's is left out: it may be long."""
        shown = getattr(hand_in, "shown", None)
        data = hand_in.data if shown is None and not hand_in.recorded else shown
        return bytes(data or b"").decode("utf-8", "replace")

    @extend_schema_field(HandInFilesSerializer)
    def get_files(self, hand_in: HandIn) -> dict[str, Any]:
        """The files of a program that has several."""
        text = "" if hand_in.recorded else self.get_text(hand_in)
        files = files_in(text)
        if not files or not files[0].name:
            return {"may_begin": [], "begins": ""}
        return {"may_begin": may_begin(files), "begins": "" if begins_unclear(text) else files[0].name}

    def update(self, instance: HandIn, validated_data: dict[str, Any]) -> HandIn:
        """When it came, and with which of its files it begins."""
        begins = validated_data.pop("begins", None)
        if begins is not None:
            begin_with(instance, begins)
        updated: HandIn = super().update(instance, validated_data)
        return updated
