"""The target list on the real store: aimed at, bought with the comps of the time, taken back."""

from dataclasses import replace
from decimal import Decimal as D

import pytest

from tests.conftest import TODAY
from tests.services.test_products import take
from tests.sheets import example_1
from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.buying.targets import Bought, Target
from tobbix.formats.item_lists import parse_items
from tobbix.services.buying import targets
from tobbix.services.pricing import adding
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced
from tobbix.services.stock import bringing

CARD = ("test", "c", "C8", "")


def test_a_card_is_aimed_at_bought_and_told_apart(catalogue: Catalogue) -> None:
    take(catalogue, example_1())
    adding.add_sales(catalogue, *CARD, "40 lp\n42 lp\n44 lp\n150\n152\n154", None)
    with catalogue.database.transaction() as session:
        card = find_priced(session, TODAY, "C8", 1)[0].version
    bringing.import_items(catalogue.database, parse_items(b"name,release,line,number\nBest,test,c,C8\n"), TODAY)
    wish = Target("Subject C8", "NM", D(160))
    number = targets.put_target(catalogue, None, 0, card, wish, "for the front row")
    (listed,) = targets.read_targets(catalogue).targets
    assert (listed.comp, listed.ceiling, listed.held, listed.savings) == (152, 152, 1, None)
    bought = replace(wish, bought=Bought("LP", TODAY, D(35)))
    targets.put_target(catalogue, number, listed.version, card, bought, None)
    found = targets.read_targets(catalogue)
    split = found.targets[0].savings
    assert split is not None and (split.lower_grade, split.good_buying) == (118, 7)
    kept = found.targets[0].target.bought
    assert kept is not None and kept.low is not None and kept.high is not None and kept.low <= 42 <= kept.high
    assert found.projection.spent == 35 and found.projection.bought == 1
    with pytest.raises(Conflict):
        targets.put_target(catalogue, number, listed.version, card, wish, None)
    with pytest.raises(NotFound):
        targets.put_target(catalogue, None, 0, 10**9, wish, None)
    targets.remove_target(catalogue, number)
    assert (
        targets.read_targets(catalogue).targets == ()
        and "No card is on the list" in targets.read_targets(catalogue).verdict.text()
    )
    targets.remove_target(catalogue, number, again=True)
    targets.change_bands(catalogue, "cheap 100, dear")
    assert [band.name for band in targets.read_targets(catalogue).projection.bands] == ["dear"]
    with pytest.raises(InputError):
        targets.change_bands(catalogue, "cheap, dear")
