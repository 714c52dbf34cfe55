"""Exercises, cases and hand-ins as JSON."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from geduld.grading.exercise import checks_for
from geduld.hints.about import program_hints
from geduld.language.source import MOST_BYTES
from server.config.owned import OwnedField
from server.exercises.models import Case, Exercise, HandIn
from server.shelf.doings import DoingsField, doings_csv, doings_of
from server.shelf.models import Floor, Rig, Trace
from server.shelf.services import core_rig, library_for
from server.shelf.worlds import core_world


class CaseSerializer(serializers.ModelSerializer):
    """A case: a trace of the exercise's own rig or a floor, with inputs, a seed and a limit."""

    exercise = OwnedField(queryset=Exercise.objects.all())
    trace = OwnedField(queryset=Trace.objects.defer("data"), required=False, allow_null=True)
    floor = OwnedField(queryset=Floor.objects.all(), required=False, allow_null=True)
    doings = DoingsField(required=False, write_only=True)
    seed = serializers.IntegerField(required=False, allow_null=True, min_value=0, max_value=2**32 - 1)
    limit_us = serializers.IntegerField(required=False, allow_null=True, min_value=1000, max_value=10**12)
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
            "limit_us",
            "duration_us",
        )

    def to_representation(self, case: Case) -> dict[str, Any]:
        """With what hands do."""
        return {**super().to_representation(case), "doings": doings_of(case.inputs, core_rig(case.exercise.rig))}

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """One world that the exercise's rig can run in; a trace must be recorded with this rig."""
        exercise = values.get("exercise") or self.instance.exercise
        rig = core_rig(exercise.rig)
        if "doings" in values:
            values["inputs"] = doings_csv(values.pop("doings"), rig)
        kept = ("trace", "follow", "floor", "start", "inputs", "seed", "limit_us")
        now = {**{name: getattr(self.instance, name, None) for name in kept}, **values}
        trace = now["trace"]
        if (trace is None) == (now["floor"] is None):
            raise serializers.ValidationError({"trace": ["A case has a trace or a floor, one of them."]})
        if trace is not None and trace.rig_id != exercise.rig_id:
            raise serializers.ValidationError({"trace": ["This trace was recorded with another rig."]})
        core_world(rig, {**now, "limit": (now["limit_us"] or 0) / 1e6})
        return values


class ExerciseSerializer(serializers.ModelSerializer):
    """An exercise with its cases, and the hints about its reference and its checks."""

    rig = OwnedField(queryset=Rig.objects.all())
    reference = serializers.CharField(allow_blank=True, max_length=MOST_BYTES, trim_whitespace=False, required=False)
    checks = serializers.CharField(allow_blank=True, max_length=MOST_BYTES, trim_whitespace=False, required=False)
    late_per_day = serializers.FloatField(required=False, min_value=0, max_value=1)
    late_at_most = serializers.FloatField(required=False, min_value=0, max_value=1)
    round_to = serializers.FloatField(required=False, min_value=0, max_value=100)
    cases = CaseSerializer(many=True, read_only=True)
    hand_in_count = serializers.IntegerField(source="hand_ins.count", read_only=True)
    check_titles = serializers.SerializerMethodField()
    problems = serializers.SerializerMethodField()

    class Meta:
        model = Exercise
        fields = (
            "id", "title", "brief", "rig", "reference", "checks", "over_cases", "due", "late_per_day",
            "late_at_most", "round_to", "cases", "hand_in_count", "check_titles", "problems", "updated",
        )  # fmt: skip

    @extend_schema_field(serializers.ListField(child=serializers.DictField()))
    def get_check_titles(self, exercise: Exercise) -> list[dict[str, Any]]:
        """Each check's title and points, and whether students see it."""
        checks = checks_for(exercise.checks, core_rig(exercise.rig)).checks
        return [{"title": check.title, "points": check.points, "private": check.private} for check in checks]

    @extend_schema_field(serializers.DictField())
    def get_problems(self, exercise: Exercise) -> dict[str, Any]:
        """The hints about the reference and the checks."""
        rig, library = core_rig(exercise.rig), library_for(exercise.rig)
        return {
            "reference": [hint.as_json() for hint in program_hints(exercise.reference, rig, library)[1]],
            "checks": [hint.as_json() for hint in checks_for(exercise.checks, rig).hints],
        }


class HandInSerializer(serializers.ModelSerializer):
    """A hand-in, with its text as far as it is text."""

    text = serializers.SerializerMethodField()

    class Meta:
        model = HandIn
        fields = ("id", "exercise", "student", "recorded", "received", "text")
        read_only_fields = ("exercise", "student", "recorded")

    def get_text(self, hand_in: HandIn) -> str:
        """The program's text; what is not UTF-8 is shown with marks. A recording's is left out: it may be long."""
        return "" if hand_in.recorded else bytes(hand_in.data).decode("utf-8", "replace")
