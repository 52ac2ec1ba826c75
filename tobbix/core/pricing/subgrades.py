"""Subgrades of graded copies: the same grade is made by better and by worse ones, and they do not sell alike (C-18)."""

import re
from collections.abc import Iterable

LEAST = "least"
_PART = re.compile(r"[0-9]+(?:[.,][0-9]+)?")


def sum_up(said: str) -> float:
    """What subgrades add up to, however they are written.

    >>> sum_up("9.5/9.5/9/9"), sum_up("9,5 9 9 9")
    (37.0, 36.5)
    """
    return sum(float(part.replace(",", ".")) for part in _PART.findall(said))


def least_of(seen: Iterable[str]) -> frozenset[str]:
    """Of the subgrades that were seen to make a grade, those that add up to the least; none if none are said."""
    sums = {said: sum_up(said) for said in seen if _PART.search(said)}
    least = min(sums.values(), default=0.0)
    return frozenset(said for said, total in sums.items() if total == least)


def choose_subgrades(seen: Iterable[str], asked: str | None) -> frozenset[str] | None:
    """Which subgrades count: all (None), the ``least`` that were seen to make the grade, or a certain set."""
    if asked is None:
        return None
    return least_of(seen) if asked == LEAST else frozenset((asked,))
