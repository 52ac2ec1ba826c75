"""Schools: how a price is read off the same sales. The owner's own counts wherever a value is used; all stand side by
side on a card's price page (Rule C-18)."""

from dataclasses import replace
from enum import StrEnum

from tobbix.core.pricing.estimating import Estimate


class School(StrEnum):
    """Of the sales that are not flagged: the median with newer ones weighing more (the usual), the plain one, the
    average, the last; or the lowest ask in the same state, or the middle of the book."""

    WEIGHTED = "weighted"
    MEDIAN = "median"
    AVERAGE = "average"
    LAST = "last"
    LOWEST_ASK = "lowest_ask"
    BOOK = "book"


WORDS = {
    School.WEIGHTED: "the median, newer sales weighing more",
    School.MEDIAN: "the plain median",
    School.AVERAGE: "the average",
    School.LAST: "the last sale",
    School.LOWEST_ASK: "the lowest ask in this state",
    School.BOOK: "the middle of the book",
}


def say_by(found: Estimate, school: School) -> float | None:
    """What a school makes of an estimate (money); None where it has nothing to go by."""
    if school is School.LOWEST_ASK:
        return min((ask.lowest for ask in found.asks if ask.state == found.state), default=None)
    if school is School.BOOK:
        known = [amount for amount in found.book or () if amount is not None]
        return sum(known) / len(known) if known else None
    return {
        School.WEIGHTED: found.estimate, School.MEDIAN: found.median, School.AVERAGE: found.mean,
        School.LAST: found.last,
    }[school]  # fmt: skip


def by_school(found: Estimate, school: School) -> tuple[Estimate, School]:
    """An estimate as a school says it, and which one did: where sales are known but a school has nothing to go by, the
    usual one speaks. What nobody was seen to pay stays unknown in every school: an ask is no sale."""
    said = None if found.estimate is None else say_by(found, school)
    return (found, School.WEIGHTED) if said is None else (replace(found, estimate=said), school)
