"""What changed in the value of what is held since the owner looked last, by money."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.finding import FoundCard


@dataclass(frozen=True, slots=True)
class Changed:
    """A held card in a state: what one was worth ``before`` and is ``now`` (money at home; None: not known)."""

    card: FoundCard
    state: str
    held: int
    before: Decimal | None
    now: Decimal | None

    @property
    def change(self) -> Decimal | None:
        """By how much all copies changed (money); None if one side is not known."""
        return None if self.before is None or self.now is None else (self.now - self.before) * self.held

    @property
    def weight(self) -> Decimal:
        """The money by which it stands in the list: the change, or all that is newly known or no more."""
        if self.change is not None:
            return abs(self.change)
        return abs((self.now or self.before or Decimal(0)) * self.held)


def by_money(changed: Sequence[Changed]) -> list[Changed]:
    """Those that did change, the most money first."""
    return sorted((it for it in changed if it.before != it.now), key=lambda it: -it.weight)


def state_changes(changed: Sequence[Changed], since: datetime | None, currency: str) -> Verdict:
    """How much rose and fell, and what most."""
    if since is None:
        return Verdict(
            (Run("You have not looked yet", "none", True), Run(": from now on what changes stands here.")), ()
        )
    day = f"{since.day} {since:%b %Y}"
    if not changed:
        return Verdict((Run("Nothing that you hold changed its price", "none", True), Run(f" since {day}.")), ())
    known = [it.change for it in changed if it.change is not None]
    up, down = (sum((it for it in known if (it > 0) is rises), Decimal(0)) for rises in (True, False))
    many = "One price" if len(changed) == 1 else f"{len(changed)} prices"
    net = up + down
    word = "more" if net >= 0 else "less"
    sentence = [
        Run(f"{many} changed since {day}: what you hold is worth "), Run(f"{abs(net):,.2f} {currency}", "net", True),
        Run(f" {word}."),
    ]  # fmt: skip
    ground = [Run(f"Up {up:,.2f}, down {-down:,.2f}.")]
    fresh = sum(it.before is None for it in changed)
    gone = sum(it.now is None for it in changed)
    if fresh:
        ground.append(Run(f" Of {fresh} no price was known before; they count for neither."))
    if gone:
        ground.append(Run(f" Of {gone} none is known any more."))
    return Verdict(tuple(sentence), tuple(ground))
