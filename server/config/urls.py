"""All addresses."""

from __future__ import annotations

from django.urls import URLPattern, URLResolver, include, path, re_path
from drf_spectacular.views import SpectacularJSONAPIView
from rest_framework.routers import SimpleRouter

from server.accounts.views import (
    Me,
    PasswordView,
    SessionsView,
    TeacherLinkView,
    TeacherSessionsView,
    TeachersView,
    join,
    sign_in,
    sign_in_by_password,
    sign_out,
)
from server.classes.handing_in import DeskView, TriesView
from server.classes.views import (
    AlikeView,
    AssignmentViewSet,
    ExtensionView,
    ReleaseView,
    RosterView,
    SchoolClassViewSet,
    StandingsView,
    StudentsView,
    StudentView,
)
from server.config.pages import app
from server.exercises.views import CaseViewSet, ExerciseViewSet, HandInViewSet
from server.finding.views import FindView
from server.live.views import CableView, DoView, Incoming, KeepLiveView, LiveKeyView, LiveView, MeaningView, PlayView
from server.marks.views import GradeView, MarksCsv, OverrideView, ProofView, RosterCsv, SheetView
from server.recordings.traces import (
    DrawingView,
    DrawView,
    LevelsView,
    MakeView,
    MetadataView,
    NotesView,
    NoteView,
    StretchView,
)
from server.recordings.views import RecordingViewSet
from server.rigs.describing import FitView, RenameView, RigCheck, RigWords
from server.rigs.practising import PractiseView
from server.rigs.views import MeasurementsViewSet, RigRevisionsView, RigRevisionView
from server.sharing.looking import LookCopyView, LookParcelView, LookRunView, LookSheetView, LookView
from server.sharing.parcels import CopyView, ParcelsView, ParcelView
from server.sharing.views import LookLinksView, LookLinkView
from server.shelf.bench import BenchRun, KeepRun, Why, WhyNot
from server.shelf.notation import Notation
from server.shelf.tidying import ItemsView, ShelfView, TidyView, TrashItemView, TrashView, UsedView
from server.shelf.views import BehaviourViewSet, FloorViewSet, InputsViewSet, RigViewSet, TraceViewSet
from server.shelf.wordbooks import WordbookViewSet

router = SimpleRouter(trailing_slash=False)
router.register("rigs", RigViewSet)
router.register("traces", TraceViewSet)
router.register("recordings", RecordingViewSet)
router.register("measurements", MeasurementsViewSet)
router.register("floors", FloorViewSet)
router.register("inputs", InputsViewSet)
router.register("behaviours", BehaviourViewSet)
router.register("wordbooks", WordbookViewSet)
router.register("exercises", ExerciseViewSet)
router.register("cases", CaseViewSet)
router.register("hand-ins", HandInViewSet)
router.register("classes", SchoolClassViewSet)
router.register("assignments", AssignmentViewSet)

api: list[URLPattern | URLResolver] = [
    path("me", Me.as_view()),
    path("me/password", PasswordView.as_view()),
    path("me/sessions", SessionsView.as_view()),
    path("teachers", TeachersView.as_view()),
    path("teachers/<int:pk>/link", TeacherLinkView.as_view()),
    path("teachers/<int:pk>/sessions", TeacherSessionsView.as_view()),
    path("sign-out", sign_out),
    path("class-roster", RosterView.as_view()),
    path("classes/<int:pk>/students", StudentsView.as_view()),
    path("classes/<int:pk>/students/<int:student>", StudentView.as_view()),
    path("assignments/<int:pk>/standings", StandingsView.as_view()),
    path("assignments/<int:pk>/extension", ExtensionView.as_view()),
    path("assignments/<int:pk>/release", ReleaseView.as_view()),
    path("exercises/<int:pk>/alike", AlikeView.as_view()),
    path("find", FindView.as_view()),
    path("shelf", ShelfView.as_view()),
    path("shelf/<str:kind>", ItemsView.as_view()),
    path("shelf/<str:kind>/<int:pk>", TidyView.as_view()),
    path("shelf/<str:kind>/<int:pk>/used", UsedView.as_view()),
    path("trash", TrashView.as_view()),
    path("trash/<str:kind>/<int:pk>", TrashItemView.as_view()),
    path("parcels", ParcelsView.as_view()),
    path("exercises/<int:pk>/parcel", ParcelView.as_view()),
    path("exercises/<int:pk>/copy", CopyView.as_view()),
    path("exercises/<int:pk>/look-links", LookLinksView.as_view()),
    path("exercises/<int:pk>/look-links/<int:link>", LookLinkView.as_view()),
    path("look", LookView.as_view()),
    path("look/run", LookRunView.as_view()),
    path("look/sheet", LookSheetView.as_view()),
    path("look/parcel", LookParcelView.as_view()),
    path("look/copy", LookCopyView.as_view()),
    path("desk", DeskView.as_view()),
    path("desk/tries", TriesView.as_view()),
    path("notation", Notation.as_view()),
    path("bench/run", BenchRun.as_view()),
    path("bench/why", Why.as_view()),
    path("bench/why-not", WhyNot.as_view()),
    path("bench/keep", KeepRun.as_view()),
    path("exercises/<int:pk>/grade", GradeView.as_view()),
    path("exercises/<int:pk>/proof", ProofView.as_view()),
    path("exercises/<int:pk>/sheet", SheetView.as_view()),
    path("exercises/<int:pk>/results.csv", RosterCsv.as_view()),
    path("hand-ins/<int:pk>/overrides", OverrideView.as_view()),
    path("exercises/<int:pk>/marks.csv", MarksCsv.as_view()),
    path("live", Incoming.as_view()),
    path("rigs/<int:pk>/live", LiveView.as_view()),
    path("rigs/<int:pk>/live/play", PlayView.as_view()),
    path("rigs/<int:pk>/live/do", DoView.as_view()),
    path("rigs/<int:pk>/live/key", LiveKeyView.as_view()),
    path("rigs/<int:pk>/live/lines", CableView.as_view()),
    path("rigs/<int:pk>/live/meaning", MeaningView.as_view()),
    path("rigs/<int:pk>/live/keep", KeepLiveView.as_view()),
    path("rig-words", RigWords.as_view()),
    path("rig-check", RigCheck.as_view()),
    path("rigs/<int:pk>/practise", PractiseView.as_view()),
    path("rigs/<int:pk>/fit", FitView.as_view()),
    path("rigs/<int:pk>/rename", RenameView.as_view()),
    path("rigs/<int:pk>/revisions", RigRevisionsView.as_view()),
    path("rigs/<int:pk>/revisions/<int:revision>", RigRevisionView.as_view()),
    path("traces/draw", DrawView.as_view()),
    path("traces/<int:pk>/stretch", StretchView.as_view()),
    path("traces/<int:pk>/levels", LevelsView.as_view()),
    path("traces/<int:pk>/notes", NotesView.as_view()),
    path("traces/<int:pk>/notes/<int:note>", NoteView.as_view()),
    path("traces/<int:pk>/make", MakeView.as_view()),
    path("traces/<int:pk>/drawing", DrawingView.as_view()),
    path("traces/<int:pk>/csv-metadata", MetadataView.as_view()),
    path("schema", SpectacularJSONAPIView.as_view()),
    path("", include(router.urls)),
]

urlpatterns = [
    path("sign-in", sign_in_by_password),
    path("sign-in/<str:token>", sign_in),
    path("join/<str:token>", join),
    path("api/", include(api)),
    re_path(r"^(?!api/|assets/|static/)(?P<path>.*)$", app),
]

handler400 = "server.config.problems.bad_request"
handler403 = "server.config.problems.forbidden"
handler404 = "server.config.problems.not_found"
handler500 = "server.config.problems.server_error"
