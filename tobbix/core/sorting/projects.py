"""A collection that was bought, from the offer to what it is worth sorted, with the time that it took."""

from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.holdings.sentences import amount
from tobbix.core.sorting.passes import say_hours


@dataclass(frozen=True, slots=True)
class Project:
    """How a collection does: what it ``cost`` and was ``expected`` to be worth (money, None: not said), of how many
    cards it is said to be, how many were entered in how many rows, what these are worth, of how many rows that is not
    known, and the minutes on it. ``shared``: its cost went to its cards."""

    cost: Decimal | None
    expected: Decimal | None
    cards: int
    entered: int
    rows: int
    value: Decimal
    unknown: int
    minutes: Decimal
    shared: bool

    @property
    def gain(self) -> Decimal | None:
        """What it is worth so far beyond its cost; None where that is not known."""
        return None if self.cost is None else self.value - self.cost

    @property
    def per_hour(self) -> Decimal | None:
        """The same for each hour on it."""
        return None if self.gain is None or self.minutes <= 0 else self.gain * 60 / self.minutes


def state_project(project: Project, currency: str) -> Verdict:
    """What it is worth so far against what was paid and expected."""
    worth = amount(project.value, currency)
    if project.entered == 0:
        sentence = [Run("Nothing is entered yet", "value", True)]
    else:
        cards = "1 card" if project.entered == 1 else f"{project.entered:,} cards"
        sentence = [Run(f"{cards} entered, worth about "), Run(worth, "value", True)]
    if project.gain is not None and project.cost is not None and project.entered:
        more = "more" if project.gain >= 0 else "less"
        sentence += [Run(": "), Run(f"{amount(abs(project.gain), currency)} {more}", "gain"),
                     Run(f" than the {amount(project.cost, currency)} that it cost")]  # fmt: skip
    elif project.cost is not None:
        sentence.append(Run(f"; it cost {amount(project.cost, currency)}"))
    parts = []
    if project.expected is not None:
        parts.append(f"expected {amount(project.expected, currency)}")
    if project.minutes > 0:
        parts.append(f"{say_hours(float(project.minutes) / 60)} on it so far")
    if project.per_hour is not None:
        parts.append(f"{amount(project.per_hour, currency)} an hour")
    if project.entered < project.cards:
        parts.append(f"{project.cards - project.entered:,} of {project.cards:,} cards are not entered")
    if project.unknown:
        parts.append(f"the value of {project.unknown:,} {'row is' if project.unknown == 1 else 'rows are'} not known")
    ground = "; ".join(parts)
    return Verdict((*sentence, Run(".")), (Run(ground[:1].upper() + ground[1:] + "."),) if ground else ())
