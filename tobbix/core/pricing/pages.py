"""A pasted page judged: which results become prices of which cards, which want a look, which none, and why (C-18)."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from tobbix.core.base.results import Run, Verdict
from tobbix.core.pricing.comps import Comp, CompKind, split_state
from tobbix.core.pricing.estimating import SALES
from tobbix.core.pricing.results import Ended, Result
from tobbix.core.pricing.titles import Reading


@dataclass(frozen=True, slots=True)
class PageSaid:
    """What is said of a whole page: where it is from, the ``home`` currency that amounts without one are in, the state
    of raw cards that say none, and what a result is that does not say whether it was sold. ``only``: the version that
    was looked for (None: any)."""

    market: str | None
    home: str
    raw_state: str
    unsaid: CompKind = CompKind.SOLD
    only: int | None = None


@dataclass(frozen=True, slots=True)
class Proposed:
    """A result as it would be kept: ``comp`` of ``version`` (None: not known which), with the other versions that it
    may be. ``doubt``: what to look at first; ``refused``: why it is no price; ``known``: it is there already."""

    row: int
    title: str
    comp: Comp | None
    version: int | None
    choices: tuple[int, ...]
    doubt: str | None
    refused: str | None
    known: bool
    unexplained: tuple[str, ...]

    @property
    def ready(self) -> bool:
        """Whether it is taken unless the owner says otherwise."""
        return self.comp is not None and self.version is not None and not (self.doubt or self.refused or self.known)


_NO_PRICE = {
    Ended.RUNNING: "it is still running",
    Ended.UNSOLD: "it was not sold",
    Ended.BARGAINED: "a lower offer was taken, and what was paid is not said",
}


def judge_page(
    results: Sequence[Result],
    readings: Sequence[Reading],
    said: PageSaid,
    today: date,
    currencies: Iterable[str],
    there: Mapping[int, Sequence[Comp]],
) -> list[Proposed]:
    """Every result of a page, of which each title was read, with the version, state and kind it is proposed to be.

    ``there`` is what is kept of each version already: what is among it is known, and what stands on the page twice is
    asked about.
    """
    known = {said.home, *currencies}
    kept = {version: Counter(map(_same, comps)) for version, comps in there.items()}
    twice: set[tuple[object, ...]] = set()
    judged: list[Proposed] = []
    for result, reading in zip(results, readings, strict=True):
        comp, refused = _comp(result, reading, said, today, known)
        doubt = reading.doubt
        refused = refused or reading.refused
        version = reading.version
        if said.only is not None and refused is None and version != said.only:
            if said.only in reading.choices:
                doubt, version = doubt or "it may be another card", said.only
            else:
                doubt = "it is another card than the one looked for"
        is_known = False
        if comp is not None and version is not None and refused is None:
            seen = kept.setdefault(version, Counter())
            if seen[_same(comp)] > 0:
                seen[_same(comp)] -= 1
                is_known = True
            elif (mark := (result.own_id, result.title, version, *_same(comp))) in twice:
                doubt = "it stands on the page twice"
            else:
                twice.add(mark)
        judged.append(
            Proposed(
                result.row, result.title, comp, version, reading.choices, doubt, refused, is_known, reading.unexplained
            )
        )
    return judged


def _same(comp: Comp) -> tuple[object, ...]:
    """What makes two prices the same one: an ask that still stands is the same on a later day."""
    if comp.kind is CompKind.ASK:
        return "ask", comp.price, comp.currency, comp.state, comp.lot, comp.market, comp.note
    return "sale", comp.day, comp.price, comp.currency, comp.state, comp.lot


def _comp(
    result: Result, reading: Reading, said: PageSaid, today: date, known: set[str]
) -> tuple[Comp | None, str | None]:
    """A result as a price, or why it is none."""
    if result.fault is not None:
        return None, result.fault
    if result.ended in _NO_PRICE:
        return None, _NO_PRICE[result.ended]
    if result.price is None or result.price <= 0:
        return None, "it says no price"
    currency = result.currency or said.home
    if currency not in known:
        return None, f"there is no rate of {currency}"
    kind = result.kind or {Ended.SOLD: CompKind.SOLD, Ended.OPEN: CompKind.ASK}.get(result.ended, said.unsaid)
    if result.kind is None and kind is CompKind.SOLD and result.bids:
        kind = CompKind.AUCTION
    day = result.day or (None if kind in SALES else today)
    if day is None:
        return None, "it does not say when it was sold"
    if day > today:
        return None, f"{day.isoformat()} is still to come"
    # graded by nobody known, or creased: that is no usual raw one, so its state has to be said
    is_unclear = reading.unclear and result.state is None
    state = (None, None, None) if is_unclear else split_state(result.state or reading.state or said.raw_state)
    return Comp(
        kind, day, result.price, currency, result.shipping, result.tax, *state,
        result.subgrades if state[1] is not None else None, result.market or said.market, result.bids, result.photo,
        result.lot or reading.lot, result.title[:300],
        outside=None if result.own_id is None else result.market or said.market, outside_id=result.own_id,
    ), None  # fmt: skip


def state_page(proposed: Sequence[Proposed]) -> Verdict:
    """How much of a page is ready, and what wants a look."""
    if not proposed:
        return Verdict(
            (Run("No result was found in this text", "none", True), Run(".")),
            (Run("A result has words and a price: copy the whole list from the page, titles and prices with it."),),
        )
    ready = sum(item.ready for item in proposed)
    known = sum(item.known and not item.refused for item in proposed)
    refused = sum(item.refused is not None for item in proposed)
    asked = len(proposed) - ready - known - refused
    parts = [(ready, "ready"), (asked, "to be looked at"), (known, "there already"), (refused, "left out")]
    sentence = [Run(f"{len(proposed)} {'result' if len(proposed) == 1 else 'results'}: ")]
    said = [(count, words) for count, words in parts if count]
    for at, (count, words) in enumerate(said):
        sentence += [Run(", " if at else ""), Run(str(count), words.replace(" ", "_"), at == 0), Run(f" {words}")]
    sentence.append(Run("."))
    cards = len({item.version for item in proposed if item.ready})
    ground = f"What is ready is of {cards} {'card' if cards == 1 else 'cards'}. " if cards else ""
    return Verdict(tuple(run for run in sentence if run.text), (Run(ground + "Nothing is kept before you say so."),))


def state_table(proposed: Sequence[Proposed], counts: int, counted: int, left: int) -> Verdict:
    """How much of a table is ready: its prices, the ``counts`` of all that are ``counted``, and the rows that are too
    many at once."""
    if not proposed and not counted:
        said = Verdict(
            (Run("No column says a price or a count", "none", True), Run(".")), (Run("Say below what they mean."),)
        )
    elif not proposed:
        said = Verdict(
            (Run(f"{counts} of {counted} counts", "counts", True), Run(" are ready.")),
            (Run("Nothing is kept before you say so."),),
        )
    else:
        said = state_page(proposed)
        if counted:
            said = Verdict(said.sentence, (Run(f"{counts} of {counted} counts are ready as well. "), *said.rests_on))
    if left:
        more = f"{left} more rows are left for the next time: keep these first, then paste the rest. "
        said = Verdict(said.sentence, (Run(more), *said.rests_on))
    return said
