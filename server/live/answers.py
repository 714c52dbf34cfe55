"""What live readings answer, for the description of the interface."""

from __future__ import annotations

from rest_framework import serializers

from server.shelf.answers import maybe_numbers, numbers


class LiveReadingSerializer(serializers.Serializer):
    """A channel's last value and how it behaved, in the part's unit; null where there is no reading."""

    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    contact = serializers.BooleanField()
    value = serializers.FloatField(allow_null=True)
    raw = serializers.FloatField(allow_null=True, help_text="the converter's number, where the rig knows it")
    text = serializers.CharField(allow_null=True, help_text="the last message of a radio")
    least = serializers.FloatField(allow_null=True)
    greatest = serializers.FloatField(allow_null=True)
    noise = serializers.FloatField()
    absent = serializers.FloatField(help_text="the share of samples without a reading, 0 to 1")
    times = numbers(help_text="of the strip, in s before now")
    values = maybe_numbers()


class LiveSerializer(serializers.Serializer):
    """What comes from a robot."""

    heard = serializers.BooleanField(help_text="whether anything came since the server was started")
    connected = serializers.BooleanField(help_text="whether something came within the last 2 s")
    silent_for = serializers.FloatField(allow_null=True, help_text="s since something came")
    lines = serializers.IntegerField()
    unread = serializers.IntegerField(help_text="lines that could not be read")
    last_lines = serializers.ListField(child=serializers.CharField())
    rate = serializers.FloatField(allow_null=True)
    clock = serializers.FloatField(help_text="how much came since the feed began, in s of its own time")
    recording = serializers.BooleanField()
    seconds = serializers.FloatField(help_text="how much is kept")
    has_key = serializers.BooleanField()
    readings = LiveReadingSerializer(many=True)


class KeySerializer(serializers.Serializer):
    """A new key; it is told once."""

    key = serializers.CharField()


class TakenSerializer(serializers.Serializer):
    """How many lines were new."""

    taken = serializers.IntegerField()
