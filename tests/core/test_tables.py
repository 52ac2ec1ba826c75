"""Tables of prices and populations: columns guessed by head and by contents, long and wide, with what is wrong said."""

from datetime import date
from decimal import Decimal as D

import pytest

from tobbix.core.pricing.comps import CompKind
from tobbix.core.pricing.ladder import Population
from tobbix.core.pricing.tables import (
    Column,
    ColumnSaid,
    TableSaid,
    guess_columns,
    how_many_rows,
    read_table,
    split_table,
)

TODAY = date(2026, 11, 27)
GRADERS = ("Plumbline", "Fourfold")
SAID = TableSaid(TODAY, GRADERS, frozenset({"EUR", "USD"}), grader="Plumbline")


def means(text: str) -> list[tuple[str, str | None]]:
    table = split_table(text)
    assert table is not None
    return [(column.means.value, column.of) for column in guess_columns(table, GRADERS, SAID.currencies)]


def read(text: str, said: TableSaid = SAID):  # type: ignore[no-untyped-def]
    table = split_table(text)
    assert table is not None
    return read_table(table, guess_columns(table, said.graders, said.currencies), said)


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("Item\tSold for\tDate\nQuern Bank FS3\t12.50\t3 Nov 2026", ["title", "price", "day"]),
        ("set;insert;no;cond;price EUR\nSky;Fog;FS3;NM;12,50", ["release", "line", "number", "state", "price"]),
        ("Quern Bank FS3;12,50;3.11.2026\nFenwick KH5;8,00;4.11.2026", ["title", "price", "day"]),
        ("card,low EUR,high EUR,low USD,high USD\nQuern Bank,8,12,9,14", ["title", "low", "high", "low", "high"]),
        ("card\tgrader\tgrade\tpop\nQuern Bank\tPlumbline\t9\t40", ["title", "grader", "grade", "copies"]),
        ("what,asking,where\nQuern Bank,14.00,quay", ["title", "ask", "market"]),
    ],
)
def test_columns_are_guessed_by_their_heads_or_by_what_stands_in_them(text: str, wanted: list[str]) -> None:
    assert [name for name, _ in means(text)] == wanted


def test_a_wide_table_has_a_price_for_each_state_and_a_count_for_each_grade() -> None:
    wide = "card\traw\t9\tFourfold 9.5\nQuern Bank FS3\t12.50\t48\t\n"
    assert means(wide)[1:] == [("price", "raw"), ("price", "9"), ("price", "Fourfold:9.5")]
    prices, _ = read(wide)
    assert [(it.result.price, it.result.state) for it in prices] == [(D("12.50"), None), (D(48), "Plumbline:9")]
    assert all(it.title == "Quern Bank FS3" and it.result.kind is None for it in prices)
    pops = "card\tpop 9\tpop 10\nQuern Bank FS3\t1,240\t0\n"
    assert means(pops)[1:] == [("copies", "9"), ("copies", "10")]
    assert [it.counted for it in read(pops)[1]] == [
        Population("Plumbline", "9", 1240, TODAY), Population("Plumbline", "10", 0, TODAY),
    ]  # fmt: skip
    nobody = read(pops, TableSaid(TODAY, GRADERS))[1]
    assert [it.refused for it in nobody] == ["say whose grades these are"] * 2  # never guessed


def test_the_low_and_the_high_of_a_book_in_two_currencies() -> None:
    prices, _ = read("card,low EUR,high EUR,low USD\nQuern Bank,8,12.50,9\n")
    assert [(it.result.kind, it.result.price, it.result.currency) for it in prices] == [
        (CompKind.BOOK_LOW, D(8), "EUR"), (CompKind.BOOK_HIGH, D("12.50"), "EUR"), (CompKind.BOOK_LOW, D(9), "USD"),
    ]  # fmt: skip


def test_what_a_cell_does_not_say_right_is_said_by_its_row_and_the_others_stand() -> None:
    text = "card;price;date;kind;shipping\nA;12,50;3.11.2026;auction;2\nB;much;3.11.2026;;\nC;9,00;soon;;\nD;9;;gift;\n"
    prices, _ = read(text)
    assert [it.result.fault for it in prices] == [
        None, "row 3: “much” is no amount", "row 4: “soon” is no day", "row 5: “gift” is no kind of price",
    ]  # fmt: skip
    first = prices[0].result
    assert (first.kind, first.day, first.shipping) == (CompKind.AUCTION, date(2026, 11, 3), D(2))
    assert prices[1].result.shipping is None  # not said is not free


def test_what_could_not_be_kept_is_refused_where_it_stands() -> None:
    text = "card;price;lot;grader;grade\nA;5;0;;\nB;5;2;;\nC;5;;" + "G" * 50 + ";9\nD;5;;Plumbline;fine\n"
    prices, _ = read(text)
    assert [it.result.fault for it in prices] == [
        "row 2: 0 is no number of lot", None, f"row 4: “{'G' * 30}…” is no grader", "row 5: “fine” is no grade",
    ]  # fmt: skip


def test_keys_name_a_card_and_a_table_of_one_s_own_meaning_is_read_as_said() -> None:
    table = split_table("release,line,number,grader,grade,price\nsky,fog,FS3,Fourfold,9.5,60\nsky,fog,FS3,,,7\n")
    assert table is not None
    columns = guess_columns(table, GRADERS, SAID.currencies)
    prices, _ = read_table(table, columns, SAID)
    assert prices[0].named is not None and prices[0].named.number == "FS3"
    assert [it.result.state for it in prices] == ["Fourfold:9.5", None]
    said = [*columns[:5], ColumnSaid(Column.ASK, "LP", "USD")]
    asked = read_table(table, said, SAID)[0][1].result
    assert (asked.kind, asked.state, asked.currency) == (CompKind.ASK, "LP", "USD")
    assert split_table("no cells\nat all") is None and split_table('a,"' + "x" * 200_000) is None
    assert how_many_rows(said) == 2_000 and how_many_rows([ColumnSaid(Column.PRICE, str(at)) for at in range(8)]) == 250
