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
from server.shelf.models import Rig, Trace
from server.shelf.services import core_rig, library_for


class CaseSerializer(serializers.ModelSerializer):
    """A case: a trace of the exercise's own rig."""

    exercise = OwnedField(queryset=Exercise.objects.all())
    trace = OwnedField(queryset=Trace.objects.defer("data"))
    duration_us = serializers.IntegerField(source="trace.duration_us", read_only=True)

    class Meta:
        model = Case
        fields = ("id", "exercise", "name", "trace", "limit_us", "duration_us")

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """The trace must be recorded with the exercise's rig."""
        exercise = values.get("exercise") or self.instance.exercise
        trace = values.get("trace")
        if trace is not None and trace.rig_id != exercise.rig_id:
            raise serializers.ValidationError({"trace": ["This trace was recorded with another rig."]})
        return values


class ExerciseSerializer(serializers.ModelSerializer):
    """An exercise with its cases, and the hints about its reference and its checks."""

    rig = OwnedField(queryset=Rig.objects.all())
    reference = serializers.CharField(allow_blank=True, max_length=MOST_BYTES, trim_whitespace=False, required=False)
    checks = serializers.CharField(allow_blank=True, max_length=MOST_BYTES, trim_whitespace=False, required=False)
    cases = CaseSerializer(many=True, read_only=True)
    hand_in_count = serializers.IntegerField(source="hand_ins.count", read_only=True)
    check_titles = serializers.SerializerMethodField()
    problems = serializers.SerializerMethodField()

    class Meta:
        model = Exercise
        fields = (
            "id", "title", "brief", "rig", "reference", "checks", "over_cases", "cases", "hand_in_count",
            "check_titles", "problems", "updated",
        )  # fmt: skip

    @extend_schema_field(serializers.ListField(child=serializers.DictField()))
    def get_check_titles(self, exercise: Exercise) -> list[dict[str, Any]]:
        """Each check's title and points."""
        checks = checks_for(exercise.checks, core_rig(exercise.rig)).checks
        return [{"title": check.title, "points": check.points} for check in checks]

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
        fields = ("id", "exercise", "student", "received", "text")

    def get_text(self, hand_in: HandIn) -> str:
        """The program's text; what is not UTF-8 is shown with marks."""
        return bytes(hand_in.data).decode("utf-8", "replace")
