"""Lists of items, exchange rates, scale lines and the plain-text ledger: what goes out comes back, and what is wrong is
named. Outside: openpyxl reads the workbooks, beancount the ledgers."""

from datetime import date, timedelta
from decimal import Decimal as D
from io import BytesIO

import openpyxl
import pytest
from beancount import loader
from beancount.core.data import Open, Transaction
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import minor_units
from tobbix.core.holdings.ledger import OWED, Account, Entry, Event, Posting
from tobbix.formats import item_lists
from tobbix.formats.item_lists import COLUMNS, KINDS, STATES, ItemLine, parse_items, read_items, write_csv, write_xlsx
from tobbix.formats.plain_ledger import write_ledger
from tobbix.formats.rates import parse_rates, parse_scale_line
from tobbix.gateways.standins.rates import SimulatedRates
from tobbix.gateways.standins.scale import SimulatedScale

DAY = date(2026, 11, 25)
words = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cn", "Cs", "Zl", "Zp")), min_size=1, max_size=30
).filter(lambda text: text == text.strip() and not text[:1].isspace())
unsaid = st.none()
amounts = st.decimals(0, 99_999, places=2)
lines = st.builds(
    ItemLine, row=st.just(2), name=words, release=unsaid | st.sampled_from(["skerrylight-2025"]), line=unsaid,
    number=unsaid | words, variant=unsaid | words, count=st.integers(1, 9_999_999),
    condition=unsaid | st.sampled_from(["mint", "NM", "damaged"]), serial=unsaid | st.sampled_from(["1/1", "007/160"]),
    place=unsaid | words, basis=unsaid | amounts, value=unsaid | amounts,
    acquired_on=unsaid | st.dates(date(1950, 1, 1), DAY), never_for_sale=st.booleans(), note=unsaid | words,
    kind=unsaid | st.sampled_from(KINDS), format=unsaid | st.just("box"), state=unsaid | st.sampled_from(STATES),
)  # fmt: skip


def as_row(line: ItemLine) -> list[object]:
    made = {name: getattr(line, name) for name in COLUMNS}
    made["never_for_sale"] = "yes" if line.never_for_sale else "no"
    made["acquired_on"] = line.acquired_on.isoformat() if line.acquired_on else None
    return list(made.values())


@example([ItemLine(2, "0", None, None, None, None, 1, None, None, None, None, None, None, False, "'@")])
@given(st.lists(lines, min_size=1, max_size=20))
@settings(max_examples=20, deadline=None)
def test_any_list_goes_round_as_csv_and_as_a_workbook(made: list[ItemLine]) -> None:
    """Also texts that a spreadsheet would take for a formula, and a basis that nobody knows stays so."""
    rows = [as_row(line) for line in made]
    for content in (write_csv(COLUMNS, rows), write_xlsx("Items", COLUMNS, rows)):
        back = parse_items(content)
        exact = {COLUMNS.index(name) for name in ("basis", "value")}  # unknown is not 0
        assert [[cell for at, cell in enumerate(as_row(line)) if at not in exact] for line in back] == [
            [cell or None for at, cell in enumerate(row) if at not in exact] for row in rows
        ]
        assert [(line.basis, line.value) for line in back] == [(line.basis, line.value) for line in made]


def test_a_workbook_of_one_s_own_reads_numbers_days_and_other_orders() -> None:
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(["Count", "NAME", "basis", "acquired_on", "never_for_sale", "number"])
    sheet.append([3.0, "Old card", 12.5, date(2020, 2, 29), True, 7])
    sheet.append([None, None, None, None, None, None])
    sheet.append([None, "'=1+1", None, None, None, None])
    stream = BytesIO()
    book.save(stream)
    first, second = parse_items(stream.getvalue())
    assert (first.count, first.basis, first.acquired_on, first.number) == (3, D("12.5"), date(2020, 2, 29), "7")
    assert first.never_for_sale and (second.row, second.name, second.count, second.basis) == (4, "'=1+1", 1, None)


@pytest.mark.parametrize(
    ("content", "field", "said"),
    [
        (b"", "file", "is empty"),
        (b"name,colour\nx,red\n", "file", "is not a column"),
        (b"count\n1\n", "file", "the column name is missing"),
        (b"\xff\xfename", "file", "neither a workbook nor UTF-8"),
        (b"PK\x03\x04broken", "file", "is not a workbook"),
        (b'name\n"open', "file", "is not CSV"),
        (b"name;count\nx;1.5\n", "count", "must be a whole number from 1"),
        (b"name,basis\nx,-1\n", "basis", "is not an amount"),
        (b"name,value\nx,1e99\n", "value", "is not an amount"),
        (b"name,acquired_on\nx,25.11.2026\n", "acquired_on", "is not a day"),
        (b"name,condition\nx,lovely\n", "condition", "must be one of mint"),
        (b"name,never_for_sale\nx,maybe\n", "never_for_sale", "must be yes or no"),
        (b"name,place\nx,a\x07b\n", "place", "cannot be printed"),
        (b"name\n" + b"x" * 301, "name", "is longer than 300"),
        ("name,count\nx,\uff11\n".encode(), "count", "must be a whole number"),  # full-width digits
        ("name,basis\nx,\uff11\n".encode(), "basis", "is not an amount"),
        (b"name,kind\nx,tin\n", "kind", "must be one of sealed"),
        (b"name,state\nx,undone\n", "state", "must be one of"),
        (b"name,count\nx,1,2\n", "column 3", "a cell too many"),
    ],
)
def test_what_is_wrong_with_a_list_is_named(content: bytes, field: str, said: str) -> None:
    with pytest.raises(InputError) as caught:
        parse_items(content)
    fault = caught.value.faults[0]
    assert fault.field == field and said in fault.message


def test_rates_and_scale_lines_are_read_or_refused() -> None:
    text = SimulatedRates().fetch("EUR", DAY - timedelta(13), DAY)
    rates = parse_rates(text)
    assert {currency for currency, _, _ in rates} == {"GBP", "USD"} and len(rates) == 20  # ten working days
    assert SimulatedRates().fetch("EUR", DAY, DAY) == "\n".join(text.splitlines()[:1] + text.splitlines()[-2:]) + "\n"
    with pytest.raises(InputError) as caught:
        parse_rates("date,currency,rate\n25.11.2026,GBP,1\n2026-11-25,pound,1\n2026-11-25,GBP,0\n2026-11-25,GBP,1.16\n")
    assert [(f.row, f.field) for f in caught.value.faults] == [(2, "date"), (3, "currency"), (4, "rate")]
    with pytest.raises(InputError, match="needs the columns"):
        parse_rates("day,rate\n")
    assert 200 < parse_scale_line(SimulatedScale().read_line()) < 226
    assert parse_scale_line("ST,GS,+  213.4 g\r\n") == D("213.4")
    for wrong in ("US,GS,+  213.4 g", "ST,GS,+  213.4 kg", "ST,GS,", "213.4", "ST,GS,+ two g"):
        with pytest.raises(InputError, match="not a stable reading"):
            parse_scale_line(wrong)


PURSES = ["bank", "Bank", "card", "Ottergate tin", "7", "Étui", "etui", "кошелёк", "\uff12", "- -"]
accounts = st.sampled_from([a for a in Account if a is not Account.CASH])
entries = st.lists(
    st.tuples(
        st.dates(date(2020, 1, 1), DAY), accounts, st.integers(1, 10**7), words,
        st.sampled_from(PURSES), st.sampled_from([None, "GBP", "USD", "JPY"]),
    ),
    min_size=1, max_size=8,
)  # fmt: skip


@given(entries, st.sampled_from(["EUR", "JPY", "KWD"]))
@settings(max_examples=40, deadline=None)
def test_any_books_pass_a_general_accounting_tool_in_any_home_currency(
    made: list[tuple[date, Account, int, str, str, str | None]], home: str
) -> None:
    books = []
    for day, account, units, text, purse, currency in made:
        amount = D(units).scaleb(-minor_units(home))
        foreign = currency is not None and currency != home
        original = D(units).scaleb(-minor_units(currency)) if foreign and currency else None
        paid = (None, None, None) if original is None else (-original, currency, D("1.5"))
        cash = Posting(Account.CASH, -amount, purse, *paid)
        other = Posting(account, amount, party=1 if account in OWED else None)
        books.append(Entry(day, Event.PURCHASE, text, (other, cash)))
    books.append(Entry(DAY, Event.CRACK, "no money moves", ()))
    loaded, errors, _ = loader.load_string(write_ledger(books, home, 'books of "Ines"'))
    assert errors == []
    assert sum(isinstance(entry, Transaction) for entry in loaded) == len(made)
    opened = {entry.account: entry.date for entry in loaded if isinstance(entry, Open)}
    assert sum(":Cash:" in name for name in opened) == len(
        {purse for _, _, _, _, purse, _ in made}
    )  # none is another's
    assert all(opened[p.account] <= e.date for e in loaded if isinstance(e, Transaction) for p in e.postings)


def test_a_list_of_too_many_rows_or_columns_is_refused_in_either_form(monkeypatch: pytest.MonkeyPatch) -> None:
    """It used to be cut in silence, as a workbook."""
    monkeypatch.setattr(item_lists, "MOST_ITEM_ROWS", 10)
    for write in (write_csv, lambda head, rows: write_xlsx("Items", head, rows)):
        assert len(read_items(write(("name",), [(f"x{n}",) for n in range(10)]))[0]) == 10
        with pytest.raises(InputError, match="more than 10 rows"):
            read_items(write(("name",), [(f"x{n}",) for n in range(11)]))
        with pytest.raises(InputError, match="more than 40 columns"):
            read_items(write(("name", *[""] * 45), [("x", *["y"] * 45)]))
