"""Grades one above another with their populations, and what to look up next (C-19, C-21 and the owner's time)."""

from datetime import date, timedelta
from decimal import Decimal as D

import pytest

from tobbix.core.base.errors import InputError
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.estimating import Choice, Estimate, estimate_value
from tobbix.core.pricing.ladder import Population, build_ladder, grade_order, read_populations, state_gems
from tobbix.core.pricing.next_up import HeldWorth, NextUp, state_next, why_look
from tobbix.core.pricing.observing import CardKey, Observation, Rates
from tobbix.core.products.finding import FoundCard

TODAY = date(2026, 11, 27)
CARD = CardKey("r", "l", "1")


def graded(grade: str, *prices: str, back: int = 0) -> Estimate:
    seen = [
        Observation(str(at), CARD, Comp(CompKind.SOLD, TODAY - timedelta(back + at), D(price), "EUR", D(0), D(0),
                                        None, "Plumbline", grade))
        for at, price in enumerate(prices)
    ]  # fmt: skip
    return estimate_value(seen, Choice(f"Plumbline:{grade}", TODAY), Rates("EUR"))


def counted(grade: str, count: int, back: int = 0) -> Population:
    return Population("Plumbline", grade, count, TODAY - timedelta(back))


def test_a_ladder_never_falls_and_names_where_a_lower_grade_went_for_more() -> None:
    estimates = {"9": graded("9", "40"), "8": graded("8", "50", "50"), "10": graded("10", "120", "130", "125")}
    ladder = build_ladder("Plumbline", estimates, [], TODAY)
    assert [rung.grade for rung in ladder.rungs] == ["8", "9", "10"] and ladder.reversals == (("8", "9"),)
    fitted = [rung.fitted or 0 for rung in ladder.rungs]
    assert fitted[0] == fitted[1] and 40 < fitted[0] < 50 and fitted[2] == pytest.approx(125)
    # pooled by weight: two sales of today and yesterday against one of today
    heavy = 1 + 2 ** (-1 / 60)
    assert fitted[0] == pytest.approx(50 ** (heavy / (heavy + 1)) * 40 ** (1 / (heavy + 1)))
    assert ladder.graded is None and ladder.gem_rate is None and state_gems([ladder]) == ""


def test_populations_grow_and_the_gem_rate_has_wilsons_interval() -> None:
    """Rule C-28's example: 19 gems of 30, 0.455 to 0.781; what was not counted is unknown, never 0."""
    seen = [counted("10", 15, 90), counted("10", 19), counted("9", 11)]
    ladder = build_ladder("Plumbline", {"9": graded("9", "40", "42"), "7": graded("7", "12")}, seen, TODAY)
    by_grade = {rung.grade: rung for rung in ladder.rungs}
    assert (by_grade["10"].population, by_grade["10"].grown, by_grade["9"].grown) == (19, 4, None)
    assert by_grade["7"].population is None and by_grade["10"].estimate is None
    assert (ladder.graded, ladder.gems) == (30, 19)
    assert (ladder.gem_low, ladder.gem_high) == pytest.approx((0.455, 0.781), abs=5e-4)
    assert by_grade["9"].sold_per_year == pytest.approx(2 / 90 * 365 / 11)
    assert "19 gems over all graders that were counted: scarce" in state_gems([ladder])
    halves = build_ladder("Fourfold", {}, [Population("Fourfold", grade, count, TODAY) for grade, count in
                                           (("10", 2), ("9.5", 30), ("9", 70))], TODAY)  # fmt: skip
    assert halves.gems == 32  # 9.5 is the top grade in everyday sale of a grader with halves above it
    assert "51 gems" in state_gems([ladder, halves])


def test_populations_are_typed_a_line_for_each_grader() -> None:
    found = read_populations("plumbline 10:12 9:40 3 nov\n\nFourfold 9.5=7", TODAY, ["Plumbline"])
    assert [(it.grader, it.grade, it.count, it.day.day) for it in found] == [
        ("Plumbline", "10", 12, 3), ("Plumbline", "9", 40, 3), ("Fourfold", "9.5", 7, 27),
    ]  # fmt: skip
    for text, row in (
        ("", None),
        ("10:12", None),
        ("Plumbline", None),
        ("A 9:1\nB 9:1 9:2", 2),
        ("A 9:1 3 dec 2030", None),
    ):
        with pytest.raises(InputError) as caught:
            read_populations(text, TODAY, [])
        assert caught.value.faults[0].row == row
    assert sorted(["9.5", "Authentic", "10", "8", "9"], key=grade_order) == ["Authentic", "8", "9", "9.5", "10"]


def test_what_to_look_up_next_is_missing_old_or_thin() -> None:
    def held(worth: str | None, back: int = 0, sales: int | None = None) -> str | None:
        known = None if worth is None else D(worth)
        return why_look(HeldWorth(1, 2, known, None if worth is None else TODAY - timedelta(back), sales), TODAY)

    assert held(None) == "its worth is not known"
    assert held("5", 90) is None and held("5", 91) == "its value is 91 days old"
    assert held("5", 3, 2) == "it rests on 2 sales" and held("5", 3, 3) is None
    card = FoundCard("r", "Release", "l", "Line", "1", "", "Quern Bank", 1, None)
    said = state_next([NextUp(card, 2, D("12.5"), "it rests on 2 sales")], 1, "EUR").text()
    assert said.startswith(
        "Look up Quern Bank, Line 1 first: 12.50 of what you hold, and it rests on 2 sales. 1 held card wants"
    )
    assert "fresh value" in state_next([], 0, "EUR").text()
