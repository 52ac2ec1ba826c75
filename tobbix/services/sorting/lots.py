"""Doubles and commons put into lots: what they bring by set, card, kilogram and hour (C-33)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Verdict
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.sorting.lots import (
    CARD_GRAMS,
    USUAL_PER_THOUSAND,
    LotPlan,
    LotTerms,
    PostageStep,
    plan_lots,
    read_postage,
    state_lots,
)
from tobbix.db.pricing.ways import list_way_rows, to_way
from tobbix.db.sorting.goals import RawHeld, raw_held
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.sorting.work import Usual, usual_work


@dataclass(frozen=True, slots=True)
class SetOfDoubles:
    """The doubles of one line of a set: how many, what they are worth singly as far as known (money at home), and as
    lots of their own."""

    title: str
    line: str
    cards: int
    worth: Decimal
    plan: LotPlan


@dataclass(frozen=True, eq=False)
class DoublesView:
    """All doubles, set by set and put together into lots, by which terms."""

    sets: tuple[SetOfDoubles, ...]
    cards: int
    together: LotPlan | None
    terms: LotTerms
    way: str | None
    currency: str
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class TermsSaid:
    """At what lots sell, as it is said (None: as usual): what a thousand cards bring, the way of selling by its key,
    the postage as grams and price, the minutes for a lot, and the box."""

    postage: str
    per_thousand: Decimal | None = None
    way: str | None = None
    minutes: Decimal | None = None
    hourly: Decimal | None = None
    box_grams: int | None = None
    box_cost: Decimal | None = None


def read_doubles(catalogue: Catalogue, said: TermsSaid) -> DoublesView:
    """What can go into lots: of each version all but one, and commons that are counted by set, where a single sale does
    not bring its own work back. Rule C-33. Raises InputError."""
    with catalogue.database.transaction() as session:
        usual, rows = usual_work(session), raw_held(session)
        ways = [to_way(row) for row in list_way_rows(session)]
    way = usual.way if said.way is None else next((it for it in ways if it.id == said.way), None)
    if said.way is not None and way is None:
        raise InputError.at("way", f"there is no way of selling “{said.way[:60]}”")
    usual_price = sum(USUAL_PER_THOUSAND, Decimal(0)) / 2
    steps = read_postage(said.postage)
    terms = LotTerms(
        usual_price if said.per_thousand is None else said.per_thousand, way or SellingWay("lots", "Lots"),
        steps or (PostageStep(1_000_000_000, Decimal(0)),),
        Decimal(str(usual.work.hourly)) if said.hourly is None else said.hourly,
        *(() if said.minutes is None else (said.minutes,)),
    )  # fmt: skip
    terms = replace(
        terms, box_grams=terms.box_grams if said.box_grams is None else said.box_grams,
        box_cost=said.box_cost or Decimal(0),
    )  # fmt: skip
    spare = _spare(rows, usual)
    by_set: dict[tuple[str, str], list[tuple[RawHeld, int]]] = {}
    for row, count in spare:
        by_set.setdefault((row.title, row.line), []).append((row, count))
    sets = tuple(
        sorted((_of_set(key, found, terms) for key, found in by_set.items()), key=lambda it: (-it.cards, it.title))
    )
    cards = sum(it.cards for it in sets)
    grams = sum(count * (row.grams or CARD_GRAMS) for row, count in spare) / cards if cards else CARD_GRAMS
    together = plan_lots(replace(terms, card_grams=grams), cards) if cards else None
    return DoublesView(
        sets, cards, together, terms, None if way is None else way.name, usual.currency,
        state_lots(together, usual.currency, bool(steps)),
    )  # fmt: skip


def _spare(rows: Sequence[RawHeld], usual: Usual) -> list[tuple[RawHeld, int]]:
    """How many of each row can go: not the first of a version, nor what is worth a sale of its own."""
    kept: set[int] = set()
    found = []
    for row in rows:
        count = row.count
        if row.version is not None and row.version not in kept:
            kept.add(row.version)
            count -= 1
        if row.version is None and row.count < 2:
            continue  # one thing that nobody knows is no common
        if count > 0 and (row.worth is None or usual.gain(row.worth / row.count) <= 0):
            found.append((row, count))
    return found


def _of_set(key: tuple[str, str], found: Sequence[tuple[RawHeld, int]], terms: LotTerms) -> SetOfDoubles:
    cards = sum(count for _, count in found)
    worth = sum((row.worth / row.count * count for row, count in found if row.worth is not None), Decimal(0))
    grams = sum(count * (row.grams or CARD_GRAMS) for row, count in found) / cards
    return SetOfDoubles(*key, cards, worth, plan_lots(replace(terms, card_grams=grams), cards))
