"""Haves and wants on the real store: as lists, and where they meet somebody else's."""

from decimal import Decimal

import pytest

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import InputError
from tobbix.core.buying.targets import Target
from tobbix.core.pricing.card_lists import COLUMNS, ListKind, read_card_list
from tobbix.core.pricing.titles import Means
from tobbix.formats.item_lists import parse_items, write_csv
from tobbix.formats.tables import read_text
from tobbix.services.buying import targets
from tobbix.services.pricing import card_lists, pasting
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing, items

ITEMS = b"""name,release,line,number,count,condition,never_for_sale
Best,test,c,C8,3,NM,no
Other,test,c,C7,1,LP,no
Kept,test,c,C6,1,NM,yes
"""


def test_lists_are_given_away_and_meet_what_somebody_else_has_and_wants(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    bringing.import_items(catalogue.database, parse_items(ITEMS), TODAY)
    card = items.search_cards(catalogue, "C5")[0]
    targets.put_target(catalogue, None, 0, card.version, Target("Subject C5", "NM", Decimal(9)), None)
    haves, currency = card_lists.list_own(catalogue, ListKind.HAVE)
    assert [(card.number, it.state, it.count, it.worth) for card, it in haves] == [
        ("C7", "LP", 1, None), ("C8", "NM", 3, Decimal(120)),
    ]  # fmt: skip
    wants, _ = card_lists.list_own(catalogue, ListKind.WANT)
    assert [(card.number, it.planned) for card, it in wants] == [("C5", Decimal(9))]
    # what one of us gives away, the other reads: by its keys, whatever the words are
    rows = [(ListKind.WANT.value, card.release, card.line, card.number, card.variant, "", it.state, 2, None, currency)
            for card, it in haves]  # fmt: skip
    theirs = read_text(write_csv(COLUMNS, rows)) + "\nhave\ttest\tc\tC5\t\t\tNM\t1\t7.50\tEUR"
    met = card_lists.meet(catalogue, theirs, ListKind.HAVE)
    assert [(it.mine.state, it.count, it.same_state) for it in met.gives] == [("NM", 2, True), ("LP", 1, True)]
    assert [(it.asked, it.mine.planned) for it in met.gets] == [(Decimal("7.50"), Decimal(9))]
    assert met.verdict.text().startswith("They have 1 that you want, and want 2 that you have.")
    # pasted as the file's own text it is the same; who has none of a card, or says its grade in words, is understood
    assert [it.count for it in card_lists.meet(catalogue, write_csv(COLUMNS, rows).decode(), ListKind.HAVE).gives] == [
        2,
        1,
    ]
    none = card_lists.meet(catalogue, "card,number,state,count\nSubject C8 Test 2025,C8,NM,0", ListKind.WANT)
    assert none.gives == () and none.unread == ()
    # plain lines are read by their words, and never by a name alone
    plain = "2x Subject C8 Test 2025 C8 LP\nSubject C9 Test\nSubject C5 Test 2025 C5 NM 8.00"
    asked = card_lists.meet(catalogue, plain, ListKind.WANT)
    assert [(it.count, it.same_state, it.theirs.state) for it in asked.gives] == [(2, False, None)]
    alone = card_lists.meet(catalogue, "Subject C8 NM", ListKind.WANT)
    assert alone.gives == () and "only a name" in alone.unread[0][1]
    assert asked.gets == () and [line.row for line, _ in asked.unread] == [2]
    with pytest.raises(InputError):
        card_lists.meet(catalogue, "a line\n" * 5_001, ListKind.HAVE)


def test_a_line_is_read_as_it_is_written() -> None:
    lines = "3 x Quern Bank 44 12,50\nQuern Bank 44 EUR 7\nQuern Bank 1995\nx2 Quern Bank"
    found = read_card_list(lines, ListKind.WANT, {"EUR"})
    assert [(it.words, it.count, it.price) for it in found] == [
        ("Quern Bank 44", 3, Decimal("12.50")), ("Quern Bank 44", None, Decimal(7)), ("Quern Bank 1995", None, None),
        ("Quern Bank", 2, None),
    ]  # fmt: skip
    assert read_card_list(" \n", ListKind.HAVE, set()) == []
    table = read_card_list("Card\tCondition\tCopies\tAsk\nQuern Bank\tNM\tmany\tfree", ListKind.HAVE, {"EUR"})
    assert [(it.words, it.state, it.count, it.price) for it in table] == [("Quern Bank", "NM", None, None)]


def test_a_whole_list_is_aimed_at_or_nothing_of_it(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    lines = "Subject C8 Test 2025 C8 Plumbline 9 200.00\nSubject C5 Test 2025 C5 NM\nA card unseen 12.50"
    with pytest.raises(InputError) as caught:
        card_lists.aim_at(catalogue, lines)
    assert [(fault.field, fault.row) for fault in caught.value.faults] == [("text", 1), ("text", 2)]
    pasting.teach(catalogue, "Plumbline 9", Means.STATE, "Plumbline:9", None)
    assert targets.read_targets(catalogue).targets == ()
    card_lists.aim_at(catalogue, lines.replace("C5 NM", "C5 NM 9.00"))
    listed = targets.read_targets(catalogue).targets
    assert [(it.card and it.card.number, it.target.state, it.target.planned) for it in listed] == [
        ("C8", "Plumbline:9", Decimal(200)), ("C5", "NM", Decimal(9)), (None, "NM", Decimal("12.50")),
    ]  # fmt: skip
    with pytest.raises(InputError):
        card_lists.aim_at(catalogue, "")
