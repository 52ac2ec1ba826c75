"""What a submission costs by card and by owner: every charge over the cards that it is for (Rule C-25).

Plans are in full precision. Bills are brought home, rounded half up to the minor unit, and shared equally over their
cards; the first of these in the order of the form take the extra minor units, so that the shares always add up.

Example: 30 cards at 18.40, a parcel of 52.00 over 40, a return of 66.60 over 30, duty of 71.10 over 30: 24.29 a card.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units


@dataclass(frozen=True, slots=True)
class SentCard:
    """A card of a submission, and whose it is."""

    id: str
    owner: str


@dataclass(frozen=True, slots=True)
class GradingCharge:
    """A part of the bill (money of its ``currency``, negative for a refund; ``rate``: home units for one, None: it is
    at home), over some cards, or with None over all."""

    name: str
    amount: Decimal
    currency: str
    rate: Decimal | None
    over: tuple[str, ...] | None


@dataclass(frozen=True, slots=True)
class SubmissionCost:
    """What each card carries as billed (money at home) and as planned (unrounded), each owner, and all of it."""

    per_card: Mapping[str, Decimal]
    planned: Mapping[str, Fraction]
    per_owner: Mapping[str, Decimal]
    total: Decimal


def share_submission(home: str, cards: Sequence[SentCard], charges: Sequence[GradingCharge]) -> SubmissionCost:
    """The charges of a submission over its cards. Rule C-25. Raises InputError with every fault, at its field."""
    _check(home, cards, charges)
    digits = minor_units(home)
    per_card = {card.id: Decimal(0) for card in cards}
    planned = {card.id: Fraction(0) for card in cards}
    for charge in charges:
        exact = charge.amount * (Decimal(1) if charge.rate is None else charge.rate)
        over = [card.id for card in cards if charge.over is None or card.id in set(charge.over)]
        units = int(exact.scaleb(digits).quantize(Decimal(1), ROUND_HALF_UP))
        each, extra = divmod(abs(units), len(over))
        sign = -1 if units < 0 else 1
        for place, key in enumerate(over):
            per_card[key] += Decimal(sign * (each + (place < extra))).scaleb(-digits)
            planned[key] += Fraction(exact) / len(over)
    per_owner = {card.owner: Decimal(0) for card in cards}
    for card in cards:
        per_owner[card.owner] += per_card[card.id]
    return SubmissionCost(per_card, planned, per_owner, sum(per_card.values(), Decimal(0)))


def _check(home: str, cards: Sequence[SentCard], charges: Sequence[GradingCharge]) -> None:
    faults = []
    try:
        minor_units(home)
    except ValueError:
        faults.append(Fault("home", "is not a currency code of three capital letters"))
    if not cards:
        faults.append(Fault("cards", "say at least one"))
    known = [card.id for card in cards]
    for at, card in enumerate(cards):
        if not card.id.strip():
            faults.append(Fault(f"cards[{at}].id", "give it one"))
        elif card.id in known[:at]:
            faults.append(Fault(f"cards[{at}].id", f"{card.id[:60]} stands there twice"))
        if not card.owner.strip():
            faults.append(Fault(f"cards[{at}].owner", "say whose it is"))
    for at, charge in enumerate(charges):
        try:
            minor_units(charge.currency)
        except ValueError:
            faults.append(Fault(f"charges[{at}].currency", "is not a currency code of three capital letters"))
        if charge.rate is None and charge.currency != home:
            faults.append(Fault(f"charges[{at}].rate", f"say how much {home} one {charge.currency[:3]} is"))
        if charge.rate is not None and charge.rate <= 0:
            faults.append(Fault(f"charges[{at}].rate", "must be more than 0"))
        if charge.rate is not None and charge.currency == home and charge.rate != 1:
            faults.append(Fault(f"charges[{at}].rate", "is of the home currency itself, so 1"))
        if charge.over is not None:
            strange = [card for card in charge.over if card not in known]
            if not charge.over:
                faults.append(Fault(f"charges[{at}].over", "is over no card"))
            faults += [Fault(f"charges[{at}].over", f"there is no card {card[:60]}") for card in strange[:5]]
            if len(set(charge.over)) < len(charge.over):
                faults.append(Fault(f"charges[{at}].over", "names a card twice"))
    if faults:
        raise InputError(faults)
