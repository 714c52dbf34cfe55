"""The notation over HTTP: what the web highlights, completes and offers."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from geduld.checks.patterns import PATTERNS
from geduld.language import words
from geduld.language.quantities import UNITS


class CheckSentenceSerializer(serializers.Serializer):
    """A sentence of checks as it is offered: see `geduld.checks.pattern.Form`."""

    label = serializers.CharField()  # type: ignore[assignment]
    detail = serializers.CharField()
    insert = serializers.CharField()
    needs = serializers.CharField(allow_blank=True)


class NotationWordsSerializer(serializers.Serializer):
    """The notation's words by their role, and the sentences of checks."""

    steps = serializers.ListField(child=serializers.CharField())
    words = serializers.ListField(child=serializers.CharField())
    functions = serializers.ListField(child=serializers.CharField())
    units = serializers.ListField(child=serializers.CharField())
    sentences = CheckSentenceSerializer(many=True)


class Notation(APIView):
    """The notation's words, for highlighting and completion."""

    @extend_schema(responses=NotationWordsSerializer)
    def get(self, request: Request) -> Response:
        """Words by their role, and the sentences of checks as forms."""
        others = (*words.OTHER_WORDS, *words.CHECK_WORDS, *words.WAYS, *" ".join(words.PIVOTS).split())
        own = (word for pattern in PATTERNS.values() for word in pattern.words)
        return Response(
            NotationWordsSerializer(
                {
                    "steps": words.STEP_WORDS,
                    "words": list(dict.fromkeys((*others, *own))),
                    "functions": list(words.FUNCTIONS),
                    "units": list(UNITS),
                    "sentences": [form for pattern in PATTERNS.values() for form in pattern.forms],
                }
            ).data
        )
