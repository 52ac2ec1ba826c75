"""Graders as profiles that the owner keeps: scale, tiers, what they charge and promise, how parts make a whole (Rules
C-25 and C-27).

Centering limits are common practice, no source: on the front 55/45 for a 10, 60/40 for a 9, 65/35 for an 8; on the
back 75/25 and 90/10.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Run, Verdict

MOST_TIERS, MOST_GRADES = 20, 40
COLUMNS = ("line", "name", "number", "release", "variant", "serial", "declared", "tier", "condition", "certificate")


class Whole(StrEnum):
    """How the parts of a card make its grade: by the weakest, or by their mean, capped above the lowest."""

    WEAKEST = "weakest"
    MEAN = "mean"


@dataclass(frozen=True, slots=True)
class Tier:
    """A tier of a grader: its fee and the up-charge where the graded value passes the declared value that it takes at
    most (money of the grader's currency; None: no limit), a least count, days promised, and whether it is for
    members."""

    id: str
    name: str
    fee: Decimal
    min_cards: int = 1
    value_limit: Decimal | None = None
    up_charge: Decimal = Decimal(0)
    days: int | None = None
    members_only: bool = False


@dataclass(frozen=True, slots=True)
class CenteringLimit:
    """The larger share of two borders (percent) that a grade allows, on the front and on the back."""

    grade: str
    front: Decimal
    back: Decimal


@dataclass(frozen=True, slots=True)
class GraderProfile:
    """A grader: its currency (money is in it), ``grades`` from the gem down (none: who signs or repairs), names of
    its ``subgrades`` (none: it gives none), tiers, a yearly membership (its fee, None: there is none), what a refused
    card costs, centering limits from the gem down, how parts make a ``whole`` (by the mean at most ``cap`` steps of
    the scale above the lowest), how much the back counts (share), what the customs take of a bill (share, and a fixed
    part), the columns of its form and the steps of packing for it in its order."""

    name: str
    currency: str
    grades: tuple[str, ...]
    tiers: tuple[Tier, ...]
    subgrades: tuple[str, ...] = ()
    membership: Decimal | None = None
    refusal: Decimal = Decimal(0)
    limits: tuple[CenteringLimit, ...] = ()
    whole: Whole = Whole.WEAKEST
    cap: Decimal = Decimal(1)
    back_weight: Decimal = Decimal("0.5")
    duty_share: Decimal = Decimal(0)
    duty_fixed: Decimal = Decimal(0)
    columns: tuple[str, ...] = ("line", "name", "number", "release", "declared")
    packing: tuple[str, ...] = ()

    @property
    def grades_cards(self) -> bool:
        """Whether it gives grades; what is away for a signature or a repair goes to one who does not."""
        return bool(self.grades)

    def tier(self, key: str) -> Tier | None:
        """The tier of an id; None: there is none."""
        return next((tier for tier in self.tiers if tier.id == key), None)

    @property
    def numbers(self) -> tuple[float, ...]:
        """The grades as numbers, from the gem down."""
        return tuple(map(float, self.grades))


def check_profile(profile: GraderProfile) -> None:
    """Raises InputError with every fault, at its field."""
    faults: list[Fault] = []
    if not profile.name.strip():
        faults.append(Fault("name", "say what the grader is called"))
    try:
        minor_units(profile.currency)
    except ValueError:
        faults.append(Fault("currency", "is not a code of three capital letters"))
    faults += _check_grades(profile.grades)
    if not 1 <= len(profile.tiers) <= MOST_TIERS:
        faults.append(Fault("tiers", f"say at least one, at most {MOST_TIERS}"))
    for at, tier in enumerate(profile.tiers):
        if not tier.id.strip() or tier.id in [it.id for it in profile.tiers[:at]]:
            faults.append(Fault(f"tiers[{at}].name", "give each tier a name of its own"))
        for name in ("fee", "value_limit", "up_charge", "min_cards", "days"):
            if (getattr(tier, name) or 0) < 0:
                faults.append(Fault(f"tiers[{at}].{name}", "must not be negative"))
    for at, limit in enumerate(profile.limits):
        if limit.grade not in profile.grades:
            faults.append(Fault(f"limits[{at}].grade", "is no grade of the scale"))
        for side in ("front", "back"):
            if not 50 <= getattr(limit, side) <= 100:
                faults.append(Fault(f"limits[{at}].{side}", "is the larger share, from 50 to 100 (55 for 55/45)"))
    in_order = sorted(
        profile.limits, key=lambda it: profile.grades.index(it.grade) if it.grade in profile.grades else 0
    )
    for side in ("front", "back"):
        shares = [getattr(it, side) for it in in_order]
        if shares != sorted(shares):
            faults.append(Fault("limits", f"a lower grade allows no less on the {side}"))
    for name in ("membership", "refusal", "duty_fixed", "cap"):
        if (getattr(profile, name) or 0) < 0:
            faults.append(Fault(name, "must not be negative"))
    for name in ("back_weight", "duty_share"):
        if not 0 <= getattr(profile, name) <= 1:
            faults.append(Fault(name, "must be from 0 to 1"))
    strange = [name for name in profile.columns if name not in COLUMNS]
    if strange or not profile.columns or len(set(profile.columns)) < len(profile.columns):
        faults.append(Fault("columns", f"name each once, of {', '.join(COLUMNS)}"))
    if faults:
        raise InputError(faults)


def _check_grades(grades: Sequence[str]) -> list[Fault]:
    try:
        numbers = [float(grade) for grade in grades]
    except ValueError:
        return [Fault("grades", "are numbers, from the gem down")]
    if not grades:
        return []
    if not 2 <= len(grades) <= MOST_GRADES or any(low >= high for high, low in zip(numbers, numbers[1:], strict=False)):
        return [Fault("grades", "fall from the gem down, at least two of them, or none for who signs or repairs")]
    return []


USUAL_LIMITS = (
    CenteringLimit("10", Decimal(55), Decimal(75)),
    CenteringLimit("9", Decimal(60), Decimal(90)),
    CenteringLimit("8", Decimal(65), Decimal(90)),
    CenteringLimit("7", Decimal(70), Decimal(90)),
    CenteringLimit("6", Decimal(80), Decimal(90)),
    CenteringLimit("5", Decimal(85), Decimal(90)),
)


def state_graders(profiles: Sequence[GraderProfile]) -> Verdict:
    """Which graders are described, and the quickest and cheapest way to one."""
    if not profiles:
        return Verdict((Run("No grader is described yet", "graders", True), Run(": begin with one below.")), ())
    names = [profile.name for profile in profiles]
    many = f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else names[0]
    tiers = sum(len(profile.tiers) for profile in profiles)
    sentence = (Run(many, "graders", True), Run(f", with {tiers} tiers in all."))
    return Verdict(sentence, (Run("As you keep them: check fees and limits before you send."),))
