"""Classes, assignments, and who has handed in what, for teachers."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.db import IntegrityError, transaction
from django.db.models import Count, QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from server.classes.alike import alike
from server.classes.codes import OF_EXERCISE, new_code, shown
from server.classes.models import Assignment, Extension, SchoolClass, Student, Try
from server.classes.roster import MOST_BYTES, add_students, names_in, new_student_code, rosters_in
from server.classes.tries import due_of, settle
from server.config.owned import OwnedField, OwnedViewSet, teacher_of
from server.exercises.models import Exercise

MOST_PASTED = 60_000


class StudentSerializer(serializers.Serializer):
    """A student, with the code as it is printed."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    code = serializers.CharField()
    sourced_id = serializers.CharField(allow_blank=True)


def _student(student: Student) -> dict[str, Any]:
    code = shown(student.code)
    return {"id": student.pk, "name": student.name, "code": code, "sourced_id": student.sourced_id}


class SchoolClassSerializer(serializers.ModelSerializer):
    """A class; names can be pasted when it is made."""

    size = serializers.IntegerField(read_only=True)
    names = serializers.CharField(write_only=True, required=False, allow_blank=True, max_length=MOST_PASTED)

    class Meta:
        model = SchoolClass
        fields = ("id", "name", "sourced_id", "size", "updated", "names")
        read_only_fields = ("sourced_id",)

    def create(self, values: dict[str, Any]) -> SchoolClass:
        """The class, with those whose names were pasted."""
        names = values.pop("names", "")
        made: SchoolClass = super().create(values)
        add_students(made, names_in(names))
        made.size = made.students.count()  # type: ignore[attr-defined]
        return made

    def update(self, row: SchoolClass, values: dict[str, Any]) -> SchoolClass:
        """Another name."""
        values.pop("names", None)
        changed: SchoolClass = super().update(row, values)
        return changed


class SchoolClassViewSet(OwnedViewSet):
    """The teacher's classes."""

    queryset = SchoolClass.objects.annotate(size=Count("students"))
    serializer_class = SchoolClassSerializer


def _class(request: Request, pk: int) -> SchoolClass:
    return get_object_or_404(SchoolClass, owner=teacher_of(request), pk=pk)


class NamesOfStudentsSerializer(serializers.Serializer):
    """Names that were pasted, one a line."""

    names = serializers.CharField(max_length=MOST_PASTED)


class StudentsView(APIView):
    """The students of a class."""

    @extend_schema(responses=StudentSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """By their names, with their codes."""
        return Response([_student(student) for student in _class(request, pk).students.all()])

    @extend_schema(request=NamesOfStudentsSerializer, responses={201: StudentSerializer(many=True)})
    def post(self, request: Request, pk: int) -> Response:
        """Adds who is not there yet; all of them are told."""
        asked = NamesOfStudentsSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        found = _class(request, pk)
        add_students(found, names_in(asked.validated_data["names"]))
        return Response([_student(student) for student in found.students.all()], status=201)


class StudentChangeSerializer(serializers.Serializer):
    """Another name, or a new code."""

    name = serializers.CharField(max_length=100, required=False)
    new_code = serializers.BooleanField(required=False, default=False)


class StudentView(APIView):
    """One student of a class."""

    def _found(self, request: Request, pk: int, student: int) -> Student:
        return get_object_or_404(Student, school_class=_class(request, pk), pk=student)

    @extend_schema(request=StudentChangeSerializer, responses=StudentSerializer)
    def patch(self, request: Request, pk: int, student: int) -> Response:
        """Another name, or a new code; the one before is worth nothing any more."""
        found = self._found(request, pk, student)
        asked = StudentChangeSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        if "name" in asked.validated_data:
            found.name = asked.validated_data["name"]
            try:
                with transaction.atomic():
                    found.save()
            except IntegrityError:
                raise serializers.ValidationError({"name": ["Somebody of this class is called so."]}) from None
        if asked.validated_data["new_code"]:
            new_student_code(found)
        return Response(_student(found))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int, student: int) -> Response:
        """Takes a student out of the class, with the tries; hand-ins and marks stay."""
        self._found(request, pk, student).delete()
        return Response(status=204)


class RosterFileSerializer(serializers.Serializer):
    """A zip of OneRoster's files."""

    file = serializers.FileField()


class RosterView(APIView):
    """Classes from a school's register."""

    parser_classes = [MultiPartParser]  # noqa: RUF012

    @extend_schema(
        request={"multipart/form-data": RosterFileSerializer}, responses={201: SchoolClassSerializer(many=True)}
    )
    def post(self, request: Request) -> Response:
        """The classes in it: new ones, and those that there are, with who is new in them."""
        asked = RosterFileSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        file: UploadedFile = asked.validated_data["file"]
        if (file.size or 0) > MOST_BYTES:
            raise serializers.ValidationError({"file": [f"This zip has more than {MOST_BYTES:,} bytes."]})
        owner = teacher_of(request)
        made = []
        with transaction.atomic():
            for (sourced_id, title), listed in rosters_in(file.read()).items():
                found, _ = SchoolClass.objects.get_or_create(
                    owner_id=owner, sourced_id=sourced_id[:255], defaults={"name": title}
                )
                add_students(found, listed)
                found.size = found.students.count()  # type: ignore[attr-defined]
                made.append(found)
        return Response(SchoolClassSerializer(made, many=True).data, status=201)


class AssignmentSerializer(serializers.ModelSerializer):
    """An exercise that a class is to hand in."""

    exercise = OwnedField(queryset=Exercise.objects.all())
    school_class = OwnedField(queryset=SchoolClass.objects.all())
    class_name = serializers.CharField(source="school_class.name", read_only=True)
    code = serializers.SerializerMethodField()
    tries = serializers.IntegerField(min_value=1, max_value=100, allow_null=True, required=False)
    after_due = serializers.IntegerField(min_value=0, max_value=100, required=False)

    class Meta:
        model = Assignment
        fields = (
            "id",
            "exercise",
            "school_class",
            "class_name",
            "code",
            "tries",
            "after_due",
            "counts",
            "closed",
            "released",
        )
        read_only_fields = ("released",)

    def get_code(self, assignment: Assignment) -> str:
        """The code as it is written on the board."""
        return shown(assignment.code)

    def validate(self, values: dict[str, Any]) -> dict[str, Any]:
        """A class has one assignment of an exercise, and it stays what it is of."""
        if self.instance is not None:
            values.pop("exercise", None)
            values.pop("school_class", None)
        elif Assignment.objects.filter(exercise=values["exercise"], school_class=values["school_class"]).exists():
            raise serializers.ValidationError({"school_class": ["This class has this exercise already."]})
        return values

    def create(self, values: dict[str, Any]) -> Assignment:
        """With a code that nobody has."""
        for _ in range(20):
            try:
                with transaction.atomic():
                    return Assignment.objects.create(code=new_code(OF_EXERCISE), **values)
            except IntegrityError:
                continue
        raise serializers.ValidationError({"school_class": ["No code was free. Try again."]})

    def update(self, assignment: Assignment, values: dict[str, Any]) -> Assignment:
        """Other rules; where another try counts now, it is the hand-in."""
        counted = assignment.counts
        changed: Assignment = super().update(assignment, values)
        if changed.counts != counted:
            for student in Student.objects.filter(given__assignment=changed).distinct():
                settle(changed, student)
        return changed


class AssignmentViewSet(OwnedViewSet):
    """What the teacher's classes are to hand in."""

    queryset = Assignment.objects.select_related("exercise__rig", "school_class")
    serializer_class = AssignmentSerializer
    pagination_class = None

    def get_queryset(self) -> QuerySet[Any]:
        """Those of the teacher's own exercises; of one with `?exercise=`."""
        if getattr(self, "swagger_fake_view", False):
            return Assignment.objects.none()
        found = Assignment.objects.select_related("exercise__rig", "school_class")
        found = found.filter(exercise__owner=teacher_of(self.request), exercise__trashed__isnull=True)
        asked = self.request.query_params.get("exercise", "")
        return found.filter(exercise=int(asked)) if asked.isascii() and asked.isdigit() and len(asked) < 19 else found

    def perform_create(self, serializer: serializers.BaseSerializer) -> None:
        """It belongs to the exercise's owner."""
        serializer.save()


class StandingSerializer(serializers.Serializer):
    """Where one student of a class stands: `hand_in` and `points` are null where nothing came or counts yet."""

    student = StudentSerializer()
    tries = serializers.IntegerField()
    last = serializers.DateTimeField(allow_null=True)
    late = serializers.BooleanField()
    hand_in = serializers.IntegerField(allow_null=True)
    points = serializers.FloatField(allow_null=True, help_text="of the try that counts, by Geduld")
    fingerprint = serializers.CharField(allow_blank=True)
    due = serializers.DateTimeField(allow_null=True, help_text="more time than the others, where there is some")


class StandingsView(APIView):
    """Who has handed in, and who has not."""

    @extend_schema(responses=StandingSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Every student of the class, by name."""
        assignment = _assignment(request, pk)
        given: dict[int, list[Try]] = {}
        for item in Try.objects.filter(assignment=assignment).defer("data", "feedback", "picture").order_by("number"):
            given.setdefault(item.student_id, []).append(item)
        more = dict(Extension.objects.filter(assignment=assignment).values_list("student_id", "until"))
        students = assignment.school_class.students.all()
        return Response([_standing(assignment, student, given.get(student.pk, []), more) for student in students])


def _assignment(request: Request, pk: int) -> Assignment:
    found = Assignment.objects.select_related("exercise__rig", "school_class")
    return get_object_or_404(found, exercise__owner=teacher_of(request), exercise__trashed__isnull=True, pk=pk)


def _standing(assignment: Assignment, student: Student, given: list[Try], more: dict[int, Any]) -> dict[str, Any]:
    known = [item for item in given if item.points is not None]
    best = assignment.counts == Assignment.BEST and known
    chosen = max(known, key=lambda item: (item.points, -item.number)) if best else given[-1] if given else None
    return {
        "student": _student(student),
        "tries": len(given),
        "last": given[-1].received if given else None,
        "late": chosen is not None and chosen.late,
        "hand_in": chosen.hand_in_id if chosen else None,
        "points": chosen.points if chosen else None,
        "fingerprint": chosen.fingerprint if chosen else "",
        "due": more.get(student.pk),
    }


class ExtensionSerializer(serializers.Serializer):
    """More time for one student; null takes it back."""

    student = serializers.IntegerField(min_value=1)
    until = serializers.DateTimeField(allow_null=True)


class ExtensionView(APIView):
    """More time for one student."""

    @extend_schema(request=ExtensionSerializer, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Until when this student has time; lateness is counted from there."""
        assignment = _assignment(request, pk)
        asked = ExtensionSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        key, until = asked.validated_data["student"], asked.validated_data["until"]
        student = get_object_or_404(Student, school_class=assignment.school_class, pk=key)
        if assignment.exercise.due is None:
            raise serializers.ValidationError({"until": ["This exercise has no deadline to extend."]})
        with transaction.atomic():
            if until is None:
                Extension.objects.filter(assignment=assignment, student=student).delete()
            else:
                Extension.objects.update_or_create(assignment=assignment, student=student, defaults={"until": until})
            due = due_of(assignment, student)
            for item in Try.objects.filter(assignment=assignment, student=student).defer("data", "feedback", "picture"):
                Try.objects.filter(pk=item.pk).update(late=due is not None and item.received > due)
            settle(assignment, student)
        return Response(status=204)


class ReleaseView(APIView):
    """Gives marks back to students, each behind their own code."""

    @extend_schema(request=None, responses=AssignmentSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """From now on each student sees the points and what was said of each public check."""
        return self._set(request, pk, True)

    @extend_schema(responses={200: AssignmentSerializer})
    def delete(self, request: Request, pk: int) -> Response:
        """Takes them back."""
        return self._set(request, pk, False)

    def _set(self, request: Request, pk: int, given: bool) -> Response:
        assignment = _assignment(request, pk)
        assignment.released = timezone.now() if given else None
        assignment.save()
        return Response(AssignmentSerializer(assignment, context={"request": request}).data)


class AlikeSerializer(serializers.Serializer):
    """Hand-ins that are alike: in `how`, the same text but for names and spaces, or the same behaviour."""

    how = serializers.ChoiceField(choices=["text", "behaviour"])
    hand_ins = serializers.ListField(child=serializers.IntegerField())
    students = serializers.ListField(child=serializers.CharField())


class AlikeView(APIView):
    """Hand-ins of an exercise that are alike. Nobody is accused by that."""

    @extend_schema(responses={200: AlikeSerializer(many=True), 403: OpenApiTypes.OBJECT})
    def get(self, request: Request, pk: int) -> Response:
        """Groups of two and more."""
        exercise = get_object_or_404(Exercise, owner=teacher_of(request), pk=pk)
        return Response(alike(exercise))
