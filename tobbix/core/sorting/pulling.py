"""What is worth a look: the threshold of looking a card up, and per set the few cards to pull (Rule C-35).

A card is looked up if the chance that it is worth selling, times what it then nets, is more than the time it takes. The
cards of a set that are worth pulling are those that net more than the work of selling them; they make the list for the
table, and their share of the set is that chance.

Example: at 12.00 an hour and 1.5 minutes a look-up costs 0.30. In a pile where one card in 60 nets 9.00 it finds 0.15:
not worth it; with one in 20 it finds 0.45: look up.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount


@dataclass(frozen=True, slots=True)
class Work:
    """What an hour costs (``hourly``, money), how many minutes it takes to look a card up, and to sell one, and the
    ``least`` net that is worth a hand (money)."""

    hourly: float
    look_up: float = 1.5
    selling: float = 6.0
    least: float = 0.0

    def __post_init__(self) -> None:
        faults = [
            Fault(name, f"must be from 0 to {most:,}")
            for name, most in (("hourly", 100_000), ("look_up", 1_440), ("selling", 10_000), ("least", 99_999_999))
            if not 0 <= getattr(self, name) <= most
        ]
        if faults:
            raise InputError(faults)

    @property
    def look_up_cost(self) -> float:
        return self.hourly * self.look_up / 60

    @property
    def selling_cost(self) -> float:
        """What a sale has to net before it brings anything: the work on it, or the least that is worth a hand."""
        return max(self.hourly * self.selling / 60, self.least)


@dataclass(frozen=True, slots=True)
class LookUp:
    """Whether looking cards of a pile up pays: what one look costs and what it finds on average (money)."""

    cost: float
    finds: float

    @property
    def pays(self) -> bool:
        return self.finds > self.cost


def judge_look_up(work: Work, chance: float, net: float) -> LookUp:
    """Whether to look up, by the chance that a card is worth selling and what it then nets (money). Rule C-35.

    >>> judge_look_up(Work(12, 1.5), 1 / 60, 9).pays, judge_look_up(Work(12, 1.5), 1 / 20, 9).pays
    (False, True)
    """
    return LookUp(work.look_up_cost, chance * net)


@dataclass(frozen=True, slots=True)
class Candidate:
    """A card of a set: by its ``version``, how often it comes among its mates (``weight``), what it goes for and nets
    (money; None: not known), whether its subject is ``watched`` and whether it is a ``debut``."""

    version: int
    number: str
    subject: str
    weight: float
    price: float | None
    net: float | None
    watched: bool = False
    debut: bool = False


@dataclass(frozen=True, slots=True)
class Pulled:
    """A card worth pulling, and why: what it brings beyond its work (money; None: its price is not known)."""

    card: Candidate
    gain: float | None

    @property
    def why(self) -> str:
        said = [name for name, is_so in (("watched", self.card.watched), ("debut", self.card.debut)) if is_so]
        return ", ".join((["worth it"] if self.gain is not None and self.gain > 0 else []) + said)


@dataclass(frozen=True, slots=True)
class PullList:
    """What to pull of a set, the dearest first; of how many cards it is, of how many the price is not known, and
    whether looking cards of it up pays (None: no price of it is known)."""

    pulled: tuple[Pulled, ...]
    cards: int
    unknown: int
    look_up: LookUp | None

    @property
    def worth(self) -> int:
        """How many bring more than their work."""
        return sum(1 for it in self.pulled if it.gain is not None and it.gain > 0)


def list_pulls(work: Work, cards: Sequence[Candidate]) -> PullList:
    """The cards of one set that are worth pulling, those that are watched, and debuts. Rule C-35."""
    gains = [None if it.net is None else it.net - work.selling_cost for it in cards]
    pulled = [
        Pulled(it, gain)
        for it, gain in zip(cards, gains, strict=True)
        if (gain is not None and gain > 0) or it.watched or it.debut
    ]
    pulled.sort(key=lambda it: (-(it.gain if it.gain is not None else -1e12), it.card.number))
    known = [(it.weight, gain) for it, gain in zip(cards, gains, strict=True) if gain is not None]
    total = sum(weight for weight, _ in known)
    look = None
    if total > 0:
        look = LookUp(work.look_up_cost, sum(weight * max(gain, 0.0) for weight, gain in known) / total)
    return PullList(tuple(pulled), len(cards), len(cards) - len(known), look)


def state_pulls(name: str, found: PullList, work: Work, currency: str) -> Verdict:
    """What to pull of a set, and whether to look its other cards up."""
    worth = found.worth
    marked = len(found.pulled) - worth
    if not found.pulled:
        sentence = [Run(f"Nothing of {name} is worth pulling", "pull", True)]
    else:
        cards = "1 card" if worth == 1 else f"{worth:,} cards"
        sentence = [Run("Pull "), Run(cards, "pull", True), Run(f" of {name}")]
        if marked:
            sentence.append(Run(f", and {marked:,} that {'is' if marked == 1 else 'are'} watched or a debut"))
    if found.look_up is None:
        sentence.append(Run("; no price of it is known"))
    elif found.look_up.pays:
        sentence.append(Run("; looking its cards up pays", "look_up"))
    else:
        sentence.append(Run("; looking the others up does not pay", "look_up"))
    ground = f"A look costs {amount(work.look_up_cost, currency)}"
    if found.look_up is not None:
        ground += f" and finds {amount(found.look_up.finds, currency)} on average"
    if found.unknown:
        ground += f"; of {found.unknown:,} of {found.cards:,} cards the price is not known"
    return Verdict((*sentence, Run(".")), (Run(ground + "."),))


def state_release(title: str, found: Sequence[PullList]) -> Verdict:
    """What to pull of a whole release."""
    worth, cards = sum(it.worth for it in found), sum(it.cards for it in found)
    marked, unknown = sum(len(it.pulled) for it in found) - worth, sum(it.unknown for it in found)
    if not cards:
        sentence = [Run("No card of it is known yet", "pull", True), Run(".")]
        return Verdict(tuple(sentence), (Run("Enter some, or bring in a sheet."),))
    sentence = [Run("Pull "), Run(f"{worth:,} of {cards:,} cards", "pull", True), Run(f" of {title}")]
    if not worth:
        sentence = [Run("Nothing", "pull", True), Run(f" of {title} is worth pulling")]
    if marked:
        sentence.append(Run(f"; {marked:,} more {'is' if marked == 1 else 'are'} watched or a debut"))
    ground = f"Of {unknown:,} cards the price is not known." if unknown else "Of all cards a price is known."
    return Verdict((*sentence, Run(".")), (Run(ground),))


def state_sets(looks: Sequence[LookUp | None], work: Work, currency: str) -> Verdict:
    """In how many sets looking up pays at all."""
    pays = sum(1 for it in looks if it is not None and it.pays)
    unknown = sum(1 for it in looks if it is None)
    if work.hourly == 0:
        return Verdict(
            (Run("Say what an hour of yours is worth", "pays", True), Run(": then a look has its price.")),
            (Run("Until then every look pays that finds anything."),),
        )
    sentence = (
        Run("Looking cards up pays in "), Run(f"{pays:,} of {len(looks):,} sets", "pays", True),
        Run(f"; a look costs {amount(work.look_up_cost, currency)}."),
    )  # fmt: skip
    ground = f"Of {unknown:,} sets no price is known." if unknown else "In the others, pull by the list alone."
    return Verdict(sentence, (Run(ground),))
