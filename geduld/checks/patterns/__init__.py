"""Every check pattern, in the order in which a teacher is offered them. A new one is a file, and a name here."""

from __future__ import annotations

from geduld.checks.pattern import Pattern
from geduld.checks.patterns.about_program import DoesNotUse, NoHint, Steps, Uses
from geduld.checks.patterns.after import After
from geduld.checks.patterns.always import Always
from geduld.checks.patterns.at import At
from geduld.checks.patterns.at_the_end import AtTheEnd
from geduld.checks.patterns.before import Before
from geduld.checks.patterns.ends import Ends
from geduld.checks.patterns.every import Every
from geduld.checks.patterns.first import First
from geduld.checks.patterns.from_to import FromTo
from geduld.checks.patterns.happens import Happens
from geduld.checks.patterns.in_turn import InTurn
from geduld.checks.patterns.lasts import Lasts
from geduld.checks.patterns.matches import Matches
from geduld.checks.patterns.never import Never
from geduld.checks.patterns.settles import Settles
from geduld.checks.patterns.stays import Stays
from geduld.checks.patterns.the_nth import TheNth
from geduld.checks.patterns.touches import Touches
from geduld.checks.patterns.while_ import While

PATTERNS: dict[str, Pattern] = {
    pattern.kind: pattern
    for pattern in (
        After(),
        TheNth(),
        While(),
        FromTo(),
        Before(),
        Never(),
        Always(),
        Lasts(),
        Happens(),
        Every(),
        First(),
        InTurn(),
        At(),
        AtTheEnd(),
        Settles(),
        Matches(),
        Ends(),
        Stays(),
        Touches(),
        Uses(),
        DoesNotUse(),
        Steps(),
        NoHint(),
    )
}
