"""A purchase said in one line. The examples are ours; there is no published form of such notes."""

from datetime import date
from decimal import Decimal

import pytest

from tobbix.core.base.matching import match_words
from tobbix.core.buying.reading import read_line

TODAY = date(2026, 11, 26)


@pytest.mark.parametrize(
    ("line", "count", "what", "costs", "seller", "day"),
    [
        ("2 harbour box 176 + 6.90 ottergate", 2, "harbour box", ["price 176", "shipping 6.90"], "ottergate", None),
        ("harbour box 96", 1, "harbour box", ["price 96"], "", None),
        ("3x market box 20,50 each+4.10 bellbuoy", 3, "market box", ["price 61.50", "shipping 4.10"], "bellbuoy", None),
        ("skerrylight 2025 harbour box 96 GBP + 8 post + 12 duty quay fair", 1, "skerrylight 2025 harbour box",
         ["price 96 GBP", "shipping 8", "duty 12"], "quay fair", None),
        ("2025 harbour 90 3 nov", 1, "2025 harbour", ["price 90"], "", date(2026, 11, 3)),
        ("lot of stars 40 30 dec here", 1, "lot of stars", ["price 40"], "", date(2025, 12, 30)),
        ("undertow ut8 12.50eur yesterday bay", 1, "undertow ut8", ["price 12.50 EUR"], "bay", date(2026, 11, 25)),
        ("harbour box", 1, "harbour box", [], "", None),
        ("44", 1, "44", [], "", None),
        ("", 1, "", [], "", None),
        ("2 + + 5", 1, "2", ["shipping 5"], "", None),
        ("box 31 feb 20", 1, "box 31 feb", ["price 20"], "", None),
        ("box 20 29 feb", 1, "box 20", ["price 29"], "feb", None),  # 2026 had none: the words stay
    ],
)  # fmt: skip
def test_a_line_is_read_as_it_is_written(
    line: str, count: int, what: str, costs: list[str], seller: str, day: date | None
) -> None:
    found = read_line(line, TODAY, ["EUR", "GBP"])
    said = [" ".join(filter(None, (cost.kind, str(cost.amount), cost.currency))) for cost in found.costs]
    assert (found.count, found.what, said, found.seller, found.bought_on) == (count, what, costs, seller, day)
    assert found.is_here == ("here" in line.split())
    assert all(cost.amount >= 0 and isinstance(cost.amount, Decimal) for cost in found.costs)


def test_names_are_found_by_all_their_words_the_shortest_first() -> None:
    names = ["Skerrylight 2025, Harbour box", "Skerrylight 2025, Harbour box of tins", "Highline, Valley box"]
    assert match_words("harbour box", names) == [0, 1]
    assert match_words("valley", names) == [2] and match_words("harbour valley", names) == []
    assert match_words("  ", names) == []
