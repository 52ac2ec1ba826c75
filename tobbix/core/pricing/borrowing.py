"""What a card is worth that sells once a year or never: borrowed from its line-mates, its subject and its state (C-37).

The log of an all-in price is a level, a drift with age, effects of subject, line, state and version, and noise, the
four effects random and normal. Variances come by restricted maximum likelihood, effects by best linear unbiased
prediction; a version's own sales weigh more the more there are. Far-off sales are left out by C-18's flags. Honesty is
measured: each version's last sale is predicted from all others.

Example: variances of subject 0.25, line 1, version 0.04 and sale 0.0225, no drift and no states; A/base at 2.00 and
2.20, A/gold at 9.00, B/base at 5.00: B/gold is worth 17.056 (9.756 to 29.818), C/gold, of whom nothing was seen,
12.138.
"""

from collections.abc import Callable, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from scipy import sparse, special
from scipy.sparse import csgraph

from tobbix.core.base.errors import InputError
from tobbix.core.maths.mixed import Crossed, Fit, fit_under, fit_variances
from tobbix.core.maths.severity import Array
from tobbix.core.pricing.estimating import SALES, flag_outliers
from tobbix.core.pricing.observing import CardKey, Observation, Rates, bring_home

WINDOW, LEAST_SALES, SHARE = 365, 20, 0.8
_FEW = 5  # lines or states: their variance is then hardly known, and intervals are widened by what was held out
_QUANTILE = float(special.ndtri((1 + SHARE) / 2))


@dataclass(frozen=True, slots=True)
class Spread:
    """Standard deviations of the log: of subjects, lines, states, versions and single sales."""

    subject: float
    line: float
    state: float
    version: float
    sale: float


@dataclass(frozen=True, slots=True)
class Borrowed:
    """What a card in a state is worth (money; None: nothing tells), the middle with its 80 %; by how many sales of its
    own, and how much these weigh in it (share)."""

    card: CardKey
    state: str
    estimate: float | None
    low: float | None
    high: float | None
    own_sales: int
    own_weight: float


@dataclass(frozen=True, slots=True)
class Coverage:
    """Of how many versions the last sale was held out, and the share of these inside their 80 % (None: of none)."""

    of: int
    within: float | None


@dataclass(frozen=True, eq=False)
class Borrowing:
    """All that was borrowed, by which ``spread``, how honest it is, and by which factor intervals were ``widened``."""

    values: tuple[Borrowed, ...]
    spread: Spread
    coverage: Coverage
    widened: float
    _together: Callable[[Sequence[tuple[CardKey, str]]], tuple[Array, Array]]

    @property
    def states(self) -> frozenset[str]:
        """The states that there are values in."""
        return frozenset(it.state for it in self.values)

    def together(self, of: Sequence[tuple[CardKey, str]]) -> tuple[Array, Array]:
        """The logs of what some of ``values`` are worth (shape (n,)), and the covariances of their errors (shape
        (n, n)), by which a sum of them is as wide as what they share makes it. Raises ValueError for what is not among
        the values."""
        return self._together(of)


def borrow(
    observations: Sequence[Observation], on: date, rates: Rates, states: Sequence[str] | None = None,
    spread: Spread | None = None, also: Mapping[CardKey, str | None] | None = None, across: bool = False,
) -> Borrowing:  # fmt: skip
    """What every version of any row is worth in each state (by default those that sold), as of a day. Rule C-37.

    ``spread``: known deviations instead of fitted ones. ``also``: versions of which no price was seen, each with its
    subject. ``across``: of several releases that share subjects, which then lend to each other; lines are each
    release's own. Raises InputError for rows of several releases without that, for fewer than 20 sales of the last 365
    days (unless the spread is known), and for a currency without a rate.
    """
    if not across and len({seen.card.release for seen in observations}) > 1:
        raise InputError.at("observations", "are of several releases; borrowing is within one")
    sales = _sales(observations, on, rates)
    if spread is None and len(sales) < LEAST_SALES:
        raise InputError.at(
            "observations", f"hold {len(sales)} sales of the last {WINDOW} days; at least {LEAST_SALES} are needed"
        )
    if not sales:
        raise InputError.at("observations", "hold no sale that counts")
    cards, subjects = list(dict.fromkeys(seen.card for seen in observations)), _subjects(observations)
    for card, subject in (also or {}).items():
        if card not in subjects:
            cards.append(card)
            subjects[card] = subject or _nameless(card)
    sold = list(dict.fromkeys(_state(seen) for seen, _ in sales))
    wanted = sold if states is None else list(dict.fromkeys(states))

    def grouped(card: CardKey, state: str) -> tuple[Hashable, Hashable, Hashable]:
        return subjects[card], (card.release, card.line), state

    named: tuple[Iterable[Hashable], ...] = (
        subjects.values(), ((card.release, card.line) for card in cards), (*sold, *wanted)
    )  # fmt: skip
    numbers = [{name: at for at, name in enumerate(dict.fromkeys(names))} for names in named]

    def levels_of(card: CardKey, state: str) -> list[int]:
        return [number[name] for number, name in zip(numbers, grouped(card, state), strict=True)]

    units = {card: at for at, card in enumerate(dict.fromkeys(seen.card for seen, _ in sales))}
    levels = np.array([levels_of(seen.card, _state(seen)) for seen, _ in sales], np.int64).T
    model = Crossed(
        np.log([amount for _, amount in sales]), np.array([(on - seen.comp.day).days for seen, _ in sales], float),
        np.array([units[seen.card] for seen, _ in sales], np.int64), len(units), list(levels), list(map(len, numbers)),
    )  # fmt: skip
    if spread is None:
        groups, unit, noise = fit_variances(model)
        spread = Spread(*(variance**0.5 for variance in (*groups, unit, noise)))
    deviations = (spread.subject, spread.line, spread.state)
    fit = fit_under(model, [it**2 for it in deviations], spread.version**2, spread.sale**2)
    seen_at = [set(level.tolist()) for level in levels]
    few = any(1 < len(known) < _FEW for known in seen_at[1:])
    widened, coverage = _honesty(fit, [seen for seen, _ in sales], few)
    own: dict[tuple[CardKey, str], list[int]] = {}
    for place, (seen, _) in enumerate(sales):
        own.setdefault((seen.card, _state(seen)), []).append(place)

    def value(card: CardKey, state: str) -> Borrowed:
        at, places = levels_of(card, state), np.array(own.get((card, state), []), np.int64)
        # of a group that was never seen, and of which nothing tells what it may do to a price
        if any(it not in known and not deviation for it, known, deviation in zip(at, seen_at, deviations, strict=True)):
            return Borrowed(card, state, None, None, None, int(places.size), 0.0)
        middle, variance = fit.predict(units.get(card, -1), at)
        reach = _QUANTILE * widened * variance**0.5
        low, estimate, high = (float(np.exp(middle + step)) for step in (-reach, 0.0, reach))
        weight = fit.weight_of(units.get(card, -1), at, places)
        return Borrowed(card, state, estimate, low, high, int(places.size), weight)

    def together(of: Sequence[tuple[CardKey, str]]) -> tuple[Array, Array]:
        try:
            at = [levels_of(card, state) for card, state in of]
        except KeyError as error:
            raise ValueError(f"{error} is not among the values") from None
        middle, variance = fit.predict_together([units.get(card, -1) for card, _ in of], at)
        return middle, variance * widened**2

    values = tuple(value(card, state) for card in cards for state in wanted)
    return Borrowing(values, spread, coverage, widened, together)


def say_honesty(coverage: Coverage) -> str:
    """How honest the intervals are, in words: between 75 and 85 % of held-out sales inside their 80 % is right.

    >>> say_honesty(Coverage(40, 0.8))
    'Of 40 last sales held out, 80 % fell inside their 80 %: that is right.'
    >>> say_honesty(Coverage(10, 0.5)).partition(": ")[2]
    'these say they are surer than they are.'
    """
    if coverage.within is None:
        return "No sale could be held out, so nobody knows how honest this is."
    said = f"Of {coverage.of:,} last sales held out, {coverage.within * 100:.0f} % fell inside their 80 %"
    if coverage.within < 0.75:
        return f"{said}: these say they are surer than they are."
    return f"{said}: that is right." if coverage.within <= 0.85 else f"{said}: these are wider than they need be."


def _state(seen: Observation) -> str:
    return seen.comp.state or ""


def _sales(observations: Sequence[Observation], on: date, rates: Rates) -> list[tuple[Observation, float]]:
    """The sales that count, all-in at home (money), but for those that are far off among those of their version and
    state (C-18)."""
    chosen = [
        seen
        for seen in observations
        if seen.comp.kind in SALES and seen.comp.lot == 1 and seen.comp.state is not None
        and 0 <= (on - seen.comp.day).days <= WINDOW
    ]  # fmt: skip
    together: dict[tuple[CardKey, str | None], list[tuple[Observation, float]]] = {}
    for item in bring_home(chosen, [], rates)[0]:
        if item.amount > 0:
            together.setdefault((item.seen.card, item.seen.comp.state), []).append((item.seen, item.amount))
    found = []
    for sales in together.values():
        far = flag_outliers(np.array([amount for _, amount in sales]))
        found += [sale for sale, is_far in zip(sales, far, strict=True) if not is_far]
    return found


def group_sharing(subjects: Mapping[str, Iterable[str]]) -> list[list[str]]:
    """Releases (keys) that share a subject, directly or through others, together; each group and all of them sorted.

    >>> group_sharing({"c": {"Gull"}, "a": {"Gull", "Tern"}, "b": {"Otter"}, "d": {"Tern"}})
    [['a', 'c', 'd'], ['b']]
    """
    numbers = {name: at for at, name in enumerate(dict.fromkeys(it for names in subjects.values() for it in names))}
    releases = sorted(subjects)
    at = [(row, numbers[name]) for row, key in enumerate(releases) for name in set(subjects[key])]
    shape = (len(releases), max(len(numbers), 1))
    shown = sparse.csr_array((np.ones(len(at)), tuple(np.array(at, np.int64).reshape(-1, 2).T)), shape=shape)
    _, of = csgraph.connected_components(shown @ shown.T, directed=False)
    groups: dict[int, list[str]] = {}
    for key, group in zip(releases, of.tolist(), strict=True):
        groups.setdefault(group, []).append(key)
    return sorted(groups.values())


def _nameless(card: CardKey) -> Hashable:
    """What stands for the subject of a card without one: its number in its release."""
    return card.release, card.number


def _subjects(observations: Sequence[Observation]) -> dict[CardKey, Hashable]:
    """The subject of each version: the card's, or its number where none is said."""
    said: dict[CardKey, Hashable] = {}
    for seen in observations:
        if seen.subject:
            said.setdefault(seen.card, seen.subject)
    return {seen.card: said.get(seen.card, _nameless(seen.card)) for seen in observations}


def _honesty(fit: Fit, sales: Sequence[Observation], few: bool) -> tuple[float, Coverage]:
    """By which factor intervals are widened, and how many last sales lie within their 80 %. Where lines or states are
    few, the factor is what the held-out residuals ask for (split conformal; Lei et al. 2018), never less than 1; each
    half of the versions is judged by the factor of the other."""
    last: dict[CardKey, int] = {}
    for at, seen in enumerate(sales):
        if seen.card not in last or seen.comp.day >= sales[last[seen.card]].comp.day:
            last[seen.card] = at
    residuals, variances = fit.left_out(np.array(list(last.values()), np.int64))
    known = np.isfinite(residuals) & (variances > 0)
    scores = np.abs(residuals[known]) / variances[known] ** 0.5 / _QUANTILE
    if scores.size == 0:
        return 1.0, Coverage(0, None)

    def factor(of: Array) -> float:
        rank = int(np.ceil(SHARE * (of.size + 1)))
        return max(float(np.sort(of)[rank - 1]), 1.0) if few and 0 < rank <= of.size else 1.0

    halves = scores[0::2], scores[1::2]
    within = sum(int((own <= factor(other)).sum()) for own, other in (halves, halves[::-1]))
    return factor(scores), Coverage(int(scores.size), within / scores.size)
