"""Files of grading: whether to grade a card (``grading-question``), what a submission costs (``submission-cost``), and
which cards to send in which tier (``batch``), as JSON."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from typing import TYPE_CHECKING

from tobbix.core.base.errors import InputError
from tobbix.core.grading.batch import Batch, BatchCard, BatchQuestion, BatchTier
from tobbix.core.grading.gain import Cracking, GradingGain, GradingQuestion, TierLimit
from tobbix.core.grading.submission_cost import GradingCharge, SentCard, SubmissionCost
from tobbix.core.pricing.fees import SellingWay
from tobbix.formats.questions import Question, read_question
from tobbix.formats.selling_ways import read_way

if TYPE_CHECKING:
    from tobbix.core.grading.centering import Centering

_CRACK, _TIER = frozenset(("breakage", "cost", "price")), frozenset(("value_limit", "up_charge"))
_QUESTION = frozenset(("chances", "values", "raw", "cost", "way", "crack", "tier", "months"))
_SUBMISSION = frozenset(("home", "cards", "charges"))
_BATCH = frozenset(
    ("way", "cards", "tiers", "per_card", "parcel_out", "parcel_back", "membership", "budget", "most_cards", "crack")
)
_BATCH_CARD = frozenset(("id", "chances", "values", "raw", "declared"))
_BATCH_TIER = frozenset(("id", "fee", "min_cards", "value_limit", "up_charge", "members_only"))


def parse_question(content: bytes) -> GradingQuestion:
    """Read a grading question. Raises InputError with every fault, by field."""
    return read_question(content, "grading-question", _QUESTION, _read_question)


def _read_question(top: Question) -> GradingQuestion:
    tier = top.part("tier", _TIER)
    limit = None if tier is None else TierLimit(tier.figure("value_limit"), _up_charge(tier))
    return GradingQuestion(
        _chances(top), top.figures("values"), top.must("raw"), top.must("cost"), _way(top), _cracking(top), limit,
        top.figure("months", above=True),
    )  # fmt: skip


def _up_charge(tier: Question) -> Decimal:
    """What passing the limit costs; where there is no limit it is never asked for."""
    return tier.figure("up_charge", required=tier.raw("value_limit") is not None) or Decimal(0)


def _chances(part: Question) -> dict[str, Decimal]:
    found = part.figures("chances")
    for grade, chance in found.items():
        if chance is None:
            part.fault("chances", f"say the chance of {grade[:20]}, or leave the grade out")
    return {grade: chance or Decimal(0) for grade, chance in found.items()}


def _cracking(top: Question) -> Cracking | None:
    part = top.part("crack", _CRACK)
    return None if part is None else Cracking(part.must("breakage"), part.must("cost"), part.figure("price"))


def _way(top: Question) -> SellingWay:
    value = top.raw("way")
    if value is None:
        top.fault("way", "is missing: say what is taken of a sale, {} if nothing is")
        return SellingWay("file", "this way")
    try:
        return read_way(value)
    except InputError as error:
        for fault in error.faults:
            top.fault(f"way.{fault.field}", fault.message)
        return SellingWay("file", "this way")


@dataclass(frozen=True, slots=True)
class SubmissionQuestion:
    """The cards of a submission and its charges, in the ``home`` currency in the end."""

    home: str
    cards: tuple[SentCard, ...]
    charges: tuple[GradingCharge, ...]


def parse_submission(content: bytes) -> SubmissionQuestion:
    """Read what a submission costs. Raises InputError with every fault, by field and row."""
    return read_question(content, "submission-cost", _SUBMISSION, _read_submission)


def _read_submission(top: Question) -> SubmissionQuestion:
    cards = tuple(
        SentCard(part.text("id") or "", part.text("owner") or "")
        for part in top.parts("cards", frozenset(("id", "owner")))
    )
    known = frozenset(("name", "amount", "currency", "rate", "over"))
    charges = tuple(
        GradingCharge(
            part.text("name") or "", part.must("amount", low=None), part.text("currency") or "", part.figure("rate"),
            _over(part),
        )
        for part in top.parts("charges", known)
    )  # fmt: skip
    return SubmissionQuestion(top.text("home") or "", cards, charges)


def _over(part: Question) -> tuple[str, ...] | None:
    value = part.raw("over")
    if value == "all":
        return None
    if isinstance(value, list) and all(isinstance(it, str) for it in value):
        return tuple(value)
    part.fault("over", 'is "all" or a list of cards')
    return None


def parse_batch(content: bytes) -> BatchQuestion:
    """Read a batch. Raises InputError with every fault, by field and row."""
    return read_question(content, "batch", _BATCH, _read_batch)


def _read_batch(top: Question) -> BatchQuestion:
    cards = tuple(
        BatchCard(
            part.text("id") or "", _chances(part), part.figures("values"), part.must("raw"), part.figure("declared")
        )
        for part in top.parts("cards", _BATCH_CARD)
    )
    tiers = tuple(
        BatchTier(
            part.text("id") or "", part.must("fee"), part.count("min_cards", 1, 0), part.figure("value_limit"),
            _up_charge(part), part.yes("members_only"),
        )
        for part in top.parts("tiers", _BATCH_TIER)
    )  # fmt: skip
    member = top.part("membership", frozenset(("fee", "owned")))
    owned = member is not None and member.yes("owned")
    fee = None if member is None else member.figure("fee", required=not owned) or Decimal(0)
    most = top.figure("most_cards")
    if most is not None and most != most.to_integral_value():
        top.fault("most_cards", "must be a whole number")
    return BatchQuestion(
        _way(top), cards, tiers, top.must("per_card"), top.must("parcel_out"), top.must("parcel_back"),
        fee, owned,
        top.figure("budget"), None if most is None else int(most), _cracking(top),
    )  # fmt: skip


def _figure(value: Fraction | None) -> float | None:
    return None if value is None else float(value)


def describe_gain(found: GradingGain) -> dict[str, object]:
    """The answer as the open format names it."""
    return {
        "gain": float(found.gain),
        "expected_net": float(found.expected_net),
        "raw_net": float(found.raw_net),
        "chance_of_loss": float(found.chance_of_loss),
        "per_month": _figure(found.per_month),
        "break_even": {"case": found.break_even.case, "gem": _figure(found.break_even.gem)},
        "by_grade": [
            {"grade": it.grade, "chance": float(it.chance), "net": _figure(it.net), "action": it.action.value}
            for it in found.by_grade
        ],
    }


def describe_submission(found: SubmissionCost) -> dict[str, object]:
    """The answer as the open format names it."""

    def figures(of: Mapping[str, Decimal] | Mapping[str, Fraction]) -> dict[str, float]:
        return {key: float(amount) for key, amount in of.items()}

    return {
        "per_card": figures(found.per_card),
        "planned": figures(found.planned),
        "per_owner": figures(found.per_owner),
        "total": float(found.total),
    }


def describe_batch(found: Batch) -> dict[str, object]:
    """The answer as the open format names it."""
    return {
        "total_gain": float(found.total_gain),
        "membership": found.membership,
        "tiers": {tier: list(cards) for tier, cards in found.tiers.items()},
        "not_sent": list(found.not_sent),
        "bound": found.bound,
        "proven": found.proven,
        "why": dict(found.why),
    }


def read_size(text: str) -> tuple[float, float]:
    """A card's size as it is typed, in mm. Raises InputError at ``size``.

    >>> read_size("63x88"), read_size("63,5 x 88.9")
    ((63.0, 88.0), (63.5, 88.9))
    """
    found = re.fullmatch(r"\s*([0-9]+(?:[.,][0-9]+)?)\s*[xX\u00d7]\s*([0-9]+(?:[.,][0-9]+)?)\s*(?:mm)?\s*", text)
    sides = None if found is None else tuple(float(side.replace(",", ".")) for side in found.groups())
    if sides is None or not all(10 <= side <= 500 for side in sides):
        raise InputError.at("size", "is a width and a height in mm, like 63x88")
    return sides[0], sides[1]


def describe_centering(found: "Centering") -> dict[str, object]:
    """The answer as the open format names it."""
    return {
        "left_right": list(found.left_right),
        "top_bottom": list(found.top_bottom),
        "uncertainty": {"left_right": found.uncertainty[0], "top_bottom": found.uncertainty[1]},
        "rotation": found.rotation,
        "corners": [list(point) for point in found.corners],
        "frame": [list(point) for point in found.frame],
        "size": None if found.size is None else list(found.size),
    }
