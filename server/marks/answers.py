"""What marks and proofreading answer: for the description of the interface, which the web's types are made from."""

from __future__ import annotations

from rest_framework import serializers

from server.shelf.answers import JudgedSerializer, named


class SheetMarkSerializer(JudgedSerializer):
    """A check in one case, or in all; `at` in s."""

    check = serializers.CharField()
    case = serializers.CharField()
    at = serializers.FloatField(allow_null=True)


class SheetRowSerializer(serializers.Serializer):
    """A hand-in with its marks."""

    hand_in = serializers.IntegerField()
    student = serializers.CharField()
    graded = serializers.BooleanField()
    stale = serializers.BooleanField()
    problem = serializers.CharField(allow_blank=True)
    unread = serializers.ListField(
        child=serializers.CharField(), help_text="what Geduld does not read in the program; that is no mark of it"
    )
    failure = serializers.CharField(
        allow_blank=True, help_text="why Geduld itself failed when it was last graded; that is no mark"
    )
    received = serializers.DateTimeField()
    sourced_id = serializers.CharField(allow_blank=True, help_text="what the school's register calls the student")
    earned = serializers.FloatField()
    points = serializers.FloatField(help_text="those that count: earned, less what being late costs, rounded")
    late_days = serializers.IntegerField()
    because = serializers.CharField(allow_blank=True, help_text="how the points come from those earned")
    of = serializers.FloatField()
    marks = SheetMarkSerializer(many=True)
    given = serializers.DictField(
        child=serializers.FloatField(), help_text="the teacher's points in place of Geduld's, by check"
    )


class JobSerializer(serializers.Serializer):
    """Long work on the server."""

    state = serializers.ChoiceField(choices=["running", "done", "failed", "cancelled"])
    done = serializers.IntegerField()
    of = serializers.IntegerField()
    problem = serializers.CharField(allow_blank=True)
    resumed = serializers.BooleanField(help_text="whether it was taken up again after Geduld had been stopped")


class SheetSerializer(serializers.Serializer):
    """The mark sheet."""

    exercise = serializers.IntegerField()
    title = serializers.CharField()
    rows = SheetRowSerializer(many=True)
    job = JobSerializer(allow_null=True)


class MistakeSerializer(serializers.Serializer):
    """A usual mistake, and the line of the reference that it stands in."""

    kind = serializers.CharField()
    line = serializers.IntegerField()
    what = serializers.CharField()


class PlantedSerializer(MistakeSerializer):
    """One that was planted in the reference; `text` is the program with it."""

    outcome = serializers.ChoiceField(choices=["caught", "missed"])
    caught_by = serializers.ListField(child=serializers.CharField())
    points = serializers.FloatField()
    also = serializers.IntegerField()
    text = serializers.CharField()


class LostSerializer(serializers.Serializer):
    """A check that a rewrite loses."""

    check = serializers.CharField()
    because = serializers.CharField()


class RewriteSerializer(serializers.Serializer):
    """The reference said in another way."""

    what = serializers.CharField()
    text = serializers.CharField()
    lost = LostSerializer(many=True)


class HiddenSerializer(MistakeSerializer):
    """One that changes nothing in these cases."""

    text = serializers.CharField()


class LeftOutSerializer(MistakeSerializer):
    """One that could not be tried, and why."""

    why = serializers.CharField()


class ReferenceMarkSerializer(JudgedSerializer):
    """What a check says of the reference."""

    check = serializers.CharField()


class FoundSerializer(serializers.Serializer):
    """What proofreading found."""

    geduld = serializers.CharField()
    proves = serializers.BooleanField()
    score = serializers.FloatField()
    sentence = serializers.CharField()
    hidden = HiddenSerializer(many=True)
    left_out = LeftOutSerializer(many=True)
    no_place = serializers.ListField(child=serializers.CharField())
    reference = ReferenceMarkSerializer(many=True)
    mistakes = PlantedSerializer(many=True)
    rewrites = RewriteSerializer(many=True)


ProofSerializer = named(
    "Proof",
    "What proofreading found last, whether the exercise has changed since, and the work that is going on.",
    {
        "found": FoundSerializer(allow_null=True),
        "stale": serializers.BooleanField(),
        "job": JobSerializer(allow_null=True),
    },
)
