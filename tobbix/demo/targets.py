"""The demo's target list: sixty cards, twenty-two of them bought, some in a lower grade."""

from collections.abc import Mapping
from datetime import timedelta
from decimal import Decimal
from math import ceil
from random import Random

from tobbix.core.buying.targets import Bought, Target
from tobbix.core.products.finding import FoundCard
from tobbix.services.buying import targets
from tobbix.services.products.catalogue import Catalogue

SEED = 20_261_128
_CARDS, _BOUGHT = 60, 22
_CENT = Decimal("0.01")


def load_targets(catalogue: Catalogue, levels: Mapping[FoundCard, float]) -> None:
    """Load the list, each planned a little over what it goes for; the cheap ones were bought first."""
    random, today = Random(SEED), catalogue.today()
    chosen = sorted(random.sample(list(levels), _CARDS), key=lambda card: levels[card])
    for at, card in enumerate(chosen):
        state, bought = ("Plumbline:9" if at % 2 else "NM"), None
        cost = Decimal(ceil(levels[card] * (2.1 if at % 2 else 1.15)) + 1)
        if at < _BOUGHT:
            lower = at % 3 == 0
            share = Decimal(round(random.uniform(0.35, 0.7) if lower else random.uniform(0.75, 1.1), 3))
            all_in = (cost * share).quantize(_CENT)
            middle = (all_in * Decimal(round(random.uniform(0.85, 1.2), 3))).quantize(_CENT)
            low, high = ((middle * Decimal(by)).quantize(_CENT) for by in ("0.8", "1.25"))
            bought_state = ("Plumbline:8" if at % 2 else "LP") if lower else state
            bought = Bought(bought_state, today - timedelta(days=200 - 9 * at), all_in, low, middle, high)
        name = f"{card.subject}, {card.line_name}, {card.release_title} {card.number}"
        note = "for the front of the binder" if at % 11 == 0 else None
        targets.put_target(catalogue, None, 0, card.version, Target(name, state, cost, bought), note)
    targets.change_bands(catalogue, "cheap 10, fair 30, dear 80, top")
