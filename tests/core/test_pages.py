"""Pages of results in six layouts of our own, and what titles mean (C-18: an observation is of an exact version).

That a title never tells a card by its name alone, that a reprint, a proxy or a sealed box is no comp, and that a price
beaten down by an offer is not the price shown: common practice, no source.
"""

from datetime import date, timedelta
from decimal import Decimal as D
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.looking_up import propose_words
from tobbix.core.pricing.pages import PageSaid, Proposed, judge_page, state_page
from tobbix.core.pricing.results import Ended, Result, read_results
from tobbix.core.pricing.titles import Means, Possible, Taught, TitleReader

TODAY = date(2026, 11, 27)
FOG = Possible(1, "sky", "Skerrylight", 2025, "Fog Signals", False, "FS3", "", "Quern Bank", None)
BASE = Possible(2, "sky", "Skerrylight", 2025, "Base", True, "44", "", "Quern Bank", None)
DRIZZLE = Possible(3, "sky", "Skerrylight", 2025, "Drizzle", False, "44", "", "Quern Bank", 160)
OLD = Possible(4, "watch", "Skerrylight First Watch", 2011, "Base", True, "7", "", "Quern Bank", None)
DUSK = Possible(5, "sky", "Skerrylight", 2025, "Base", True, "45", "", "Quern Bank at Dusk", None)
ALL = [FOG, BASE, DRIZZLE, OLD, DUSK]
READER = TitleReader(ALL, ["Plumbline", "Fourfold"], [Taught("dzl", Means.LINE, "Drizzle", "sky")])


def judge(results: list[Result], *said: Any) -> list[Proposed]:
    return judge_page(results, [READER.read(result.title) for result in results], *said)


ONE_LINE = """Results for quern bank
Quern Bank FS3 Fog Signals 2025 | NM | 12.50 EUR + 2.00 | sold 3 Nov 2026
Quern Bank #44 2025 Plumbline 9 | 48.00 EUR + 3.50 | sold 7 Nov 2026
"""
BLOCKS = """Sold items
Sort by newest

Quern Bank FS3 Fog Signals 2025
near mint
EUR 12.50
+ EUR 2.00 postage
Sold 3 Nov 2026

Quern Bank #44 2025 Plumbline 9
EUR 48.00
postage: 3,50
Sold Nov 7, 2026

Page 1 of 4
"""
TITLE_FIRST = """Quern Bank FS3 Fog Signals 2025 NM
12,50 €
2,00 € shipping
ended 3.11.2026
Quern Bank #44 2025 Plumbline 9
48,00 €
delivery 3,50 €
ended 7.11.2026
"""
DAY_FIRST = """Found 2 cards
Sold on Nov 3, 2026
Quern Bank FS3 Fog Signals 2025 NM
EUR 12.50
shipping: EUR 2.00
Sold on Nov 7, 2026
Quern Bank #44 2025 Plumbline 9
EUR 48.00
shipping: EUR 3.50
"""
PRICE_FIRST = """Cards of lighthouses
12.50 EUR
Quern Bank FS3 Fog Signals 2025 NM
+ 2.00 EUR delivery
sold 24 days ago
48.00 EUR
Quern Bank #44 2025 Plumbline 9
+ 3.50 EUR delivery
sold 20 days ago
"""
TABLE = """Title\tPrice\tPostage\tEnded
Quern Bank FS3 Fog Signals 2025 NM\t12.50 EUR\t2.00 shipping\tsold 2026-11-03
Quern Bank #44 2025 Plumbline 9\t48.00 EUR\t3.50 shipping\tsold 2026-11-07
"""


@pytest.mark.parametrize("page", [ONE_LINE, BLOCKS, TITLE_FIRST, DAY_FIRST, PRICE_FIRST, TABLE])
def test_six_layouts_say_the_same(page: str) -> None:
    results = read_results(page, TODAY, ["EUR"])
    assert [(it.price, it.currency or "EUR", it.shipping, it.day, it.ended) for it in results] == [
        (D("12.50"), "EUR", D(2), date(2026, 11, 3), Ended.SOLD),
        (D("48.00"), "EUR", D("3.50"), date(2026, 11, 7), Ended.SOLD),
    ]
    proposed = judge_page(
        results, [READER.read(it.title) for it in results], PageSaid("quay", "EUR", "LP"), TODAY, [], {}
    )
    assert [(it.version, it.comp and it.comp.state, it.ready) for it in proposed] == [
        (1, "NM", True), (2, "Plumbline:9", True),
    ]  # fmt: skip


def test_what_is_no_sale_is_said_and_what_is_not_said_is_not_guessed() -> None:
    page = """Quern Bank FS3 2025
    12.50 EUR
    2d 4h left
    Quern Bank FS3 2025
    1.250,00 EUR
    not sold
    Quern Bank FS3 2025
    40.00 EUR
    offer accepted 3 Nov
    Quern Bank FS3 2025
    13.00 GBP
    7 bids, ended 3/11/2026
    Quern Bank FS3 2025
    14.00 EUR
    Quern Bank FS3 2025
    15.00 EUR
    asking
    """
    results = read_results(page, TODAY, ["EUR", "GBP"])
    assert [it.price for it in results] == [D(at) for at in ("12.50", "1250.00", "40.00", "13.00", "14.00", "15.00")]
    found = judge_page(
        results, [READER.read(it.title) for it in results], PageSaid(None, "EUR", "NM"), TODAY, ["GBP"], {}
    )
    assert [it.refused for it in found] == [
        "it is still running", "it was not sold", "a lower offer was taken, and what was paid is not said", None,
        "it does not say when it was sold", None,
    ]  # fmt: skip
    auction, ask = found[3].comp, found[5].comp
    assert auction is not None and (auction.kind, auction.bids, auction.day) == (
        CompKind.AUCTION, 7, date(2026, 11, 3),
    )  # fmt: skip
    assert ask is not None and (ask.kind, ask.day) == (CompKind.ASK, TODAY)
    other = read_results(page, TODAY, ["EUR", "GBP"], month_first=True)
    assert other[3].day == date(2026, 3, 11)


@pytest.mark.parametrize(
    ("title", "version", "state", "doubt"),
    [
        ("Skerrylight 2025 Quern Bank FS3 Fog Signals near mint", 1, "NM", None),
        ("Quern Bank 12/160", 3, None, None),
        ("Quern Bank dzl 2025", 3, None, None),  # as it was taught
        ("Quern Bank 2011 Fourfold 9.5", 4, "Fourfold:9.5", None),
        ("Quern Bank at Dusk Skerrylight 2025 LP", 5, "LP", None),
        ("Quern Bank", 2, None, "the release is not said"),
        ("Lot of 3 Quern Bank FS3", 1, None, "a lot of 3"),
        ("Quern Bank 2025 UT8", 2, None, "it says UT8, and this one is 44"),
        ("Quern Bank FS3, a case hit, pack fresh", 1, None, None),
        ("Quern Bank FS3 with its box", 1, None, "it may be sealed product"),
        ("Quern Bank FS3 creased", 1, None, "“creased” is no condition of a known name"),
        ("Quern Bank FS3 Somebody 9", 1, None, "“somebody 9” may be a grade"),
        ("Quern Bank FS3 graded slab", 1, None, "graded, but it does not say by whom and with what"),
    ],
)
def test_a_title_is_of_a_version(title: str, version: int, state: str | None, doubt: str | None) -> None:
    found = READER.read(title)
    assert (found.version, found.state, found.doubt, found.refused) == (version, state, doubt, None)
    # what is graded in an unknown way, or flawed, is never taken for a usual raw one
    assert found.unclear == (doubt is not None and ("grade" in doubt or "condition" in doubt))


@pytest.mark.parametrize(
    ("title", "why"),
    [
        ("Quern Bank 1999", "of 2025"), ("Quern Bank #99 2025", "number 99"), ("Quern Bank /12 2025", "numbered /12"),
        ("Quern Bank FS3 reprint", "a reprint"), ("Skerrylight 2025 Harbour box sealed", "sealed product"),
        ("Somebody else", "no card that is known"),
    ],
)  # fmt: skip
def test_what_a_title_says_against_a_card_is_the_reason(title: str, why: str) -> None:
    found = READER.read(title)
    assert found.version is None and why in (found.refused or "")


@given(st.permutations([f"Quern Bank FS3 2025 {word}" for word in "abcdef"]), st.integers(0, 3))
def test_the_same_page_again_adds_nothing(titles: list[str], days: int) -> None:
    results = [
        Result(at, title, D(10 + at % 3), "EUR", None, TODAY - timedelta(days), None, Ended.SOLD)
        for at, title in enumerate(titles)
    ]
    said = PageSaid("quay", "EUR", "NM")
    first = judge(results, said, TODAY, [], {})
    kept = [it.comp for it in first if it.ready and it.comp is not None]
    assert len(kept) == 6
    again = judge(results, said, TODAY, [], {1: kept})
    assert sum(it.known for it in again) == len(kept) and not any(it.ready for it in again)
    assert state_page(again).text().startswith("6 results: 6 there already.")


def test_on_the_page_of_a_card_another_card_is_asked_about() -> None:
    results = read_results(ONE_LINE, TODAY, ["EUR"])
    found = judge_page(
        results, [READER.read(it.title) for it in results], PageSaid(None, "EUR", "NM", only=1), TODAY, [], {}
    )
    assert [it.doubt for it in found] == [None, "it is another card than the one looked for"]


def test_words_to_look_up_with_name_all_that_tells_it_and_leave_out_what_is_another() -> None:
    found = propose_words(DRIZZLE, "NM", [FOG, BASE])
    assert found.words == "Quern Bank Skerrylight 2025 Drizzle 44 /160"
    assert found.without[0] == "Fog Signals" and "Drizzle" not in found.without
    assert READER.read(found.words).version == 3
    named = Possible(9, "k", "Keeper’s Hand & Rope", 2025, "Base", True, "KH-5", "", "Anaïs Tollé", None)
    assert set(propose_words(named, "NM", []).spellings) >= {"KH5", "KH 5", "Anais Tolle", "Keepers Hand and Rope"}
