"""A target list: what was planned for each card, what it cost, what was saved and why, where the rest will end (C-24).

Example: planned 120, paid 54, the middle of the grade bought 40: 80 saved by a lower grade, -14 by buying; together 66.
630 spent of the 900 planned for ten cards projects 8,400 for a list of 12,000 by the plain ratio.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from math import sqrt

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.maths.statistics import student_point
from tobbix.core.products.odds import plain
from tobbix.core.products.verdict import amount_words

_SHARE = 0.9  # the two-sided 80 % of the rest
_LONGEST = 36_500  # days that are told ahead
_LEAST_RANGE = 3  # cards bought before a range is told


@dataclass(frozen=True, slots=True)
class Band:
    """Cards planned at less than ``under`` (money; None: without end)."""

    name: str
    under: Decimal | None


# common practice, no source; editable
BANDS = (
    Band("low", Decimal(5_000)), Band("mid", Decimal(10_000)), Band("high", Decimal(20_000)), Band("top", None),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Bought:
    """A copy that was bought: its state, what it cost all-in, and the comps of that state at the time (money; None:
    not known)."""

    state: str
    on: date
    all_in: Decimal
    low: Decimal | None = None
    middle: Decimal | None = None
    high: Decimal | None = None


@dataclass(frozen=True, slots=True)
class Target:
    """A card of the list: the ``state`` that is planned, what it may cost (money), and the copy that was bought."""

    name: str
    state: str
    planned: Decimal
    bought: Bought | None = None


@dataclass(frozen=True, slots=True)
class Savings:
    """What was saved against the plan (money, exact): ``lower_grade`` and ``good_buying`` add up to ``total``; both
    None where the middle of the state bought is not known."""

    total: Decimal
    lower_grade: Decimal | None
    good_buying: Decimal | None


def split_savings(target: Target) -> Savings | None:
    """The savings of a card that was bought, split in two; None of one that was not. Rule C-24.

    >>> copy = Bought("7", date(2026, 1, 1), Decimal(54), None, Decimal(40))
    >>> found = split_savings(Target("a", "9", Decimal(120), copy))
    >>> found and (str(found.total), str(found.lower_grade), str(found.good_buying))
    ('66', '80', '-14')
    """
    bought = target.bought
    if bought is None:
        return None
    total = target.planned - bought.all_in
    if bought.middle is None:
        return Savings(total, None, None)
    return Savings(total, target.planned - bought.middle, bought.middle - bought.all_in)


@dataclass(frozen=True, slots=True)
class BandSum:
    """A price band: its cards, how many are bought, what is planned for all and for those, what they cost, and what
    all of it is projected to cost; ``own``: by its own cards (else by those of the whole list)."""

    name: str
    cards: int
    bought: int
    planned: Decimal
    planned_bought: Decimal
    spent: Decimal
    projected: float | None
    own: bool


@dataclass(frozen=True, slots=True)
class Projection:
    """Where a list will end (money): by the ``plain`` ratio of paid to planned, by bands, and 80 % of the rest around
    the plain one (None: nothing or too little is bought). ``pace``: cards in 30 days; ``done_on`` at that pace;
    ``left_per_card``: what is left of the plan for each that is not bought yet (None: all are)."""

    cards: int
    bought: int
    planned: Decimal
    spent: Decimal
    plain: float | None
    banded: float | None
    low: float | None
    high: float | None
    bands: tuple[BandSum, ...]
    pace: float | None
    done_on: date | None
    left_per_card: float | None
    lower_grade: Decimal
    good_buying: Decimal
    unsplit: int


def check_target(target: Target, today: date) -> None:
    """Refuse what cannot be. Raises InputError with every fault."""
    faults = []
    if not target.name.strip():
        faults.append(Fault("name", "say which card"))
    if not target.state.strip():
        faults.append(Fault("state", "say in which state or grade"))
    if target.planned <= 0:
        faults.append(Fault("planned", "must be more than 0"))
    if (bought := target.bought) is not None:
        if bought.all_in < 0:
            faults.append(Fault("all_in", "must not be negative"))
        if bought.on > today:
            faults.append(Fault("on", f"{bought.on.isoformat()} is still to come"))
        known = [amount for amount in (bought.low, bought.middle, bought.high) if amount is not None]
        if known != sorted(known):
            faults.append(Fault("middle", "low, middle and high must not fall"))
    if faults:
        raise InputError(faults)


def project(targets: Sequence[Target], today: date, bands: Sequence[Band] = BANDS) -> Projection:
    """Where a list will end, by what was paid against the plan so far. Rule C-24.

    The plain ratio is the estimator of a ratio; its range adds the error of that ratio and the scatter of the cards to
    come, both by the scatter of those bought (Cochran 1977, *Sampling Techniques*, 6.3; Student's t). Bought cards are
    no random sample of a list, so the range is the least that is unsure.
    """
    bought = [target for target in targets if target.bought is not None]
    rest = [target for target in targets if target.bought is None]
    planned = sum((target.planned for target in targets), Decimal(0))
    spent = sum((target.bought.all_in for target in bought if target.bought), Decimal(0))
    of_bought = sum((target.planned for target in bought), Decimal(0))
    ratio = float(spent / of_bought) if of_bought else None
    sums = tuple(_sum_band(band, _of_band(targets, bands, at), ratio) for at, band in enumerate(bands))
    low = high = whole = banded = None
    if ratio is not None:
        whole = ratio * float(planned)
        banded = sum(it.projected or 0.0 for it in sums)
        to_come = float(spent) + ratio * float(planned - of_bought)
        if len(bought) >= _LEAST_RANGE and rest:
            half = _half_range(bought, rest, ratio)
            low, high = max(to_come - half, float(spent)), to_come + half
    splits = [found for target in bought if (found := split_savings(target)) is not None]
    days = sorted(target.bought.on for target in bought if target.bought)
    span = (today - days[0]).days if days else 0
    pace = 30 * len(bought) / span if span > 0 else None
    to_go = 30 * len(rest) / pace if pace and rest else None
    return Projection(
        len(targets), len(bought), planned, spent, whole, banded, low, high, tuple(it for it in sums if it.cards), pace,
        today + timedelta(days=round(to_go)) if to_go is not None and to_go < _LONGEST else None,
        float(planned - spent) / len(rest) if rest else None,
        sum((it.lower_grade for it in splits if it.lower_grade is not None), Decimal(0)),
        sum((it.good_buying for it in splits if it.good_buying is not None), Decimal(0)),
        sum(it.lower_grade is None for it in splits),
    )  # fmt: skip


def _of_band(targets: Sequence[Target], bands: Sequence[Band], at: int) -> list[Target]:
    floor = Decimal(0) if at == 0 else bands[at - 1].under or Decimal(0)
    under = bands[at].under
    return [it for it in targets if it.planned >= floor and (under is None or it.planned < under)]


def _sum_band(band: Band, targets: Sequence[Target], ratio: float | None) -> BandSum:
    bought = [target for target in targets if target.bought is not None]
    planned = sum((target.planned for target in targets), Decimal(0))
    of_bought = sum((target.planned for target in bought), Decimal(0))
    spent = sum((target.bought.all_in for target in bought if target.bought), Decimal(0))
    own = float(spent / of_bought) if of_bought else ratio
    projected = None if own is None else float(spent) + own * float(planned - of_bought)
    return BandSum(band.name, len(targets), len(bought), planned, of_bought, spent, projected, bool(bought))


def _half_range(bought: Sequence[Target], rest: Sequence[Target], ratio: float) -> float:
    """Half of the 80 % around what the rest will cost by the ratio."""
    pairs = [(float(it.planned), float(it.bought.all_in)) for it in bought if it.bought]
    count, mean = len(pairs), sum(plan for plan, _ in pairs) / len(pairs)
    scatter = sum((paid - ratio * plan) ** 2 for plan, paid in pairs) / (count - 1) / mean**2  # of paid over planned
    to_buy = [float(it.planned) for it in rest]
    variance = scatter * (sum(to_buy) ** 2 / count + sum(plan * mean for plan in to_buy))
    return student_point(count - 1, _SHARE) * sqrt(variance)


def state_targets(found: Projection, currency: str) -> Verdict:
    """Where a list stands: what it will cost against the plan, why, and why the dear ones may not keep to it. C-24."""
    if found.cards == 0:
        return Verdict(
            (Run("No card is on the list yet", "none", True), Run(".")),
            (Run("Say which card, in which state, and what it may cost."),),
        )

    def words(amount: float | Decimal) -> str:
        return amount_words(float(amount), currency)

    plan = Run(words(found.planned), "planned")
    many = "1 card" if found.cards == 1 else f"{found.cards} cards"
    if found.plain is None:
        return Verdict(
            (Run(f"{many} for "), plan, Run(" planned, none bought.")),
            (Run("What is paid for the first ones will tell how far the plan carries."),),
        )
    sentence = [
        Run(f"{found.bought} of {many} bought for {words(found.spent)}: all would cost about "),
        Run(words(found.plain), "plain", True), Run(" of "), plan, Run(" planned."),
    ]  # fmt: skip
    ground = []
    if found.low is not None and found.high is not None:
        ground += [Run("Between "), Run(words(found.low), "low"), Run(" and "), Run(words(found.high), "high"),
                   Run(" in 8 of 10 such lists. ")]  # fmt: skip
    if found.bought > found.unsplit:
        parts = f"{words(found.lower_grade)} came from lower grades and {words(found.good_buying)} from good buying"
        ground.append(Run(f"So far {parts}. "))
    missing = " or ".join(band.name for band in found.bands if not band.own)
    if missing:
        ground.append(Run(f"No {missing} one is bought yet: savings on cheap cards do not carry over to dear ones."))
    return Verdict(tuple(sentence), tuple(ground))


def ceiling_at_a_show(planned: Decimal, comp: Decimal | None) -> Decimal:
    """The most to pay for a card of the list: what is planned, and not more than its comp if one is known."""
    return planned if comp is None else min(planned, comp)


def read_bands(text: str) -> tuple[Band, ...]:
    """Price bands as they were typed: names with the amount that each ends under, rising; the last has no end.

    Raises InputError at ``text``.

    >>> [(band.name, band.under and int(band.under)) for band in read_bands("low 5000, top")]
    [('low', 5000), ('top', None)]
    """
    found: list[Band] = []
    parts = [part.split() for part in text.split(",") if part.strip()]
    for at, words in enumerate(parts):
        last = at == len(parts) - 1
        end = None if last else words[-1].replace("under", "").strip()
        name = " ".join(word for word in (words if last else words[:-1]) if word != "under")[:40]
        if not name or (end is not None and not end.replace(".", "", 1).isdigit()):
            raise InputError.at("text", "write them like: low 5000, mid 10000, high 20000, top")
        found.append(Band(name, None if end is None else Decimal(end)))
    ends = [band.under for band in found if band.under is not None]
    if not found or sorted(set(ends)) != ends or any(end <= 0 or end > 99_999_999 for end in ends):
        raise InputError.at("text", "each band ends above the one before it")
    if len({band.name for band in found}) < len(found):
        raise InputError.at("text", "two bands have the same name")
    return tuple(found)


def write_bands(bands: Sequence[Band]) -> str:
    """Price bands as they are typed."""
    return ", ".join(band.name if band.under is None else f"{band.name} {plain(band.under)}" for band in bands)
