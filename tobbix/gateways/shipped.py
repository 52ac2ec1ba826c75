"""The two invented graders and the carrier that ship with the program, as profiles to begin with, and the markets that
can be asked with what they keep (share)."""

from decimal import Decimal

from tobbix.core.grading.graders import USUAL_LIMITS, CenteringLimit, GraderProfile, Tier, Whole
from tobbix.core.grading.submissions import CarrierProfile, PostClass

_D = Decimal
PLUMBLINE = GraderProfile(
    "Plumbline", "USD", tuple(str(grade) for grade in range(10, 0, -1)),
    (
        Tier("bulk", "Bulk", _D(19), 20, _D(250), _D(15), 65, members_only=True),
        Tier("standard", "Standard", _D(28), 1, _D(600), _D(25), 40),
        Tier("swift", "Swift", _D(75), 1, _D(2_500), _D(60), 10),
    ),
    membership=_D(99), refusal=_D(8), limits=USUAL_LIMITS, duty_share=_D("0.12"),
    columns=("line", "release", "number", "name", "variant", "declared"),
    packing=(
        "each card into a sleeve with a pull tab, then into a semi-rigid holder",
        "in the order of the form, the first on top, all facing the same way",
        "between two pieces of cardboard, held by two bands that touch no card",
        "the form on top, a copy of it kept here", "into a box with a hand's breadth of padding on every side",
    ),
)  # fmt: skip
FOURFOLD = GraderProfile(
    "Fourfold", "GBP", tuple(f"{half / 2:g}" for half in range(20, 1, -1)),
    (
        Tier("standard", "Standard", _D(22), 1, _D(400), _D(20), 50),
        Tier("quick", "Quick", _D(45), 1, _D(1_500), _D(40), 15),
    ),
    ("centering", "corners", "edges", "surface"), refusal=_D(6),
    limits=(
        CenteringLimit("10", _D(52), _D(60)), CenteringLimit("9.5", _D(55), _D(70)),
        CenteringLimit("9", _D(60), _D(80)),
        CenteringLimit("8", _D(65), _D(90)), CenteringLimit("7", _D(70), _D(90)), CenteringLimit("5", _D(85), _D(95)),
    ),
    whole=Whole.MEAN, cap=_D(2), back_weight=_D("0.7"), duty_share=_D("0.2"),
    columns=("line", "name", "number", "release", "condition", "declared"),
    packing=(
        "each card into a sleeve, then into a semi-rigid holder; no tape on either",
        "ten at a time into a team bag, a slip with the lines of the form in each",
        "the form inside, the submission's number outside", "into a box, filled so that nothing moves",
    ),
)  # fmt: skip
GRADERS = (PLUMBLINE, FOURFOLD)
_LEAST = (_D(140), _D(90), _D(0))  # what machines take, common practice, no source
GANNET = CarrierProfile(
    "Gannet Post",
    (
        PostClass("letter", "Letter", _D("1.20"), None, 3, False, _LEAST, (_D(235), _D(125), _D(5)), _D(50), False,
                  _D(50), _D("0.012"), 60),
        PostClass("large", "Large letter", _D("2.10"), None, 3, False, _LEAST, (_D(353), _D(250), _D(20)), _D(500),
                  False, _D(100), _D("0.012"), 60),
        PostClass("tracked", "Tracked parcel", _D("6.90"), _D(50), 3, True, _LEAST, (_D(350), _D(250), _D(100)),
                  _D(2_000), False, None, _D("0.004"), 90),
        PostClass("insured", "Insured parcel", _D("17.50"), _D(500), 2, True, _LEAST, (_D(600), _D(400), _D(300)),
                  _D(10_000), False, None, _D("0.003"), 90),
    ),
)  # fmt: skip
MARKETPLACES = (("Bellbuoy", _D("0.11")), ("Gavelrock", _D("0.18")))
