"""A thing's condition by the flaws marked on it, strictly and leniently, with what each is worth (C-23)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Verdict
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import CONDITIONS
from tobbix.core.products.describing import CardSize, NoteKind, size_of
from tobbix.core.sorting.flaws import (
    USUAL_FACTORS,
    USUAL_TABLE,
    Allowance,
    ConditionWorth,
    Flaw,
    FlawKind,
    FlawRule,
    Place,
    Readings,
    Side,
    Size,
    read_allowance,
    read_condition,
    state_readings,
    worth_by_condition,
)
from tobbix.db.base import Session
from tobbix.db.holdings.loading import find_item
from tobbix.db.holdings.saving import change_words
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.describing import load_description
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import values_in
from tobbix.db.sorting.judging import count_flaws, load_flaws, load_table, put_flaws, save_table
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_items

TABLE, FACTORS = "flaws", "factors"


@dataclass(frozen=True, eq=False)
class JudgedItem:
    """A thing with its flaws and both readings; known ``faults`` of its release, what was marked on others of it (how
    many things by kind), and how large its card is."""

    item: Item
    flaws: tuple[Flaw, ...]
    readings: Readings
    worths: tuple[ConditionWorth, ...]
    faults: tuple[str, ...]
    marked: tuple[tuple[FlawKind, int], ...]
    size: CardSize | None
    currency: str
    verdict: Verdict


@dataclass(frozen=True, eq=False)
class JudgingTable:
    """The table of flaws and the factors of conditions that the owner judges by, with the versions of both."""

    rules: tuple[FlawRule, ...]
    factors: Mapping[str, Decimal]
    version: int
    factors_version: int


def read_table(catalogue: Catalogue) -> JudgingTable:
    """By what conditions are judged."""
    with catalogue.database.transaction() as session:
        return _table(session)


def _table(session: Session) -> JudgingTable:
    rules, version = load_table(session, TABLE)
    factors, factors_version = load_table(session, FACTORS)
    return JudgingTable(
        USUAL_TABLE if rules is None else tuple(_to_rule(it) for it in rules),
        USUAL_FACTORS if factors is None else {name: Decimal(it) for name, it in factors.items()},
        version, factors_version,
    )  # fmt: skip


def _to_rule(it: Mapping[str, Any]) -> FlawRule:
    return FlawRule(
        tuple(map(FlawKind, it["kinds"])), tuple(map(Place, it["places"])),
        None if it["side"] is None else Side(it["side"]), tuple(map(Size, it["sizes"])),
        read_allowance(it["lenient"]), read_allowance(it["strict"]),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class RuleSaid:
    """A row of the table as it is typed."""

    kinds: tuple[FlawKind, ...]
    places: tuple[Place, ...]
    side: Side | None
    sizes: tuple[Size, ...]
    lenient: str
    strict: str


def save_rules(catalogue: Catalogue, rules: Sequence[RuleSaid] | None, version: int) -> int:
    """Judge by another table, or with None by the one that ships again. Raises InputError by row, Conflict."""
    content: list[dict[str, Any]] | None = None
    if rules is not None:
        faults: list[Fault] = [] if rules else [Fault("rules", "a table has at least one row")]
        content = []
        for at, it in enumerate(rules):
            read: dict[str, Allowance] = {}
            for which in ("lenient", "strict"):
                try:
                    read[which] = read_allowance(getattr(it, which))
                except InputError as error:
                    faults.append(Fault(f"rules[{at}].{which}", error.faults[0].message))
            content.append({
                "kinds": list(it.kinds), "places": list(it.places), "side": it.side, "sizes": list(it.sizes),
                **{which: found.text for which, found in read.items()},
            })  # fmt: skip
        if faults:
            raise InputError(faults)
    with catalogue.database.transaction() as session:
        return save_table(session, TABLE, content, version)


def save_factors(catalogue: Catalogue, factors: Mapping[str, Decimal] | None, version: int) -> int:
    """What a condition is worth of NM where no sales say so, or with None what ships. Raises InputError, Conflict."""
    if factors is not None:
        faults = [Fault(f"factors.{name}", "is no condition") for name in factors if name not in CONDITIONS]
        faults += [
            Fault(f"factors.{name}", "must be from 0 to 10 (0.8 is 80 %)")
            for name, it in factors.items()
            if not 0 <= it <= 10
        ]
        if not factors.get("NM"):
            faults.append(Fault("factors.NM", "all others are measured by this one: it is over 0"))
        if faults:
            raise InputError(faults)
    with catalogue.database.transaction() as session:
        content = None if factors is None else {name: str(it) for name, it in factors.items()}
        return save_table(session, FACTORS, content, version)


def judge_item(catalogue: Catalogue, number: int, flaws: Sequence[Flaw] | None = None) -> JudgedItem:
    """How a thing is judged by the flaws marked on it, or by others. Rule C-23. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        item = find_item(session, number, lock=False)
        marked = load_flaws(session, number) if flaws is None else list(flaws)
        return _judge(session, item, marked, catalogue.today())


def _judge(session: Session, item: Item, flaws: Sequence[Flaw], today: date) -> JudgedItem:
    table = _table(session)
    currency = load_preferences(session).currency
    readings = read_condition(flaws, table.rules)
    worths = worth_by_condition(_known(session, item.version_id, today), dict(table.factors))
    faults: tuple[str, ...] = ()
    size = None
    counted: tuple[tuple[FlawKind, int], ...] = ()
    if item.release is not None and item.release_id is not None:
        about = load_description(session, find_release(session, item.release, stub=True))
        faults = tuple(
            it.text for it in about.notes
            if it.kind is NoteKind.FAULT and it.line in (None, item.line) and it.card in (None, item.card)
        )  # fmt: skip
        size = size_of(item.card or "", dict(about.sizes).get(item.line or "", ()))
        counted = tuple(count_flaws(session, item.release_id))
    return JudgedItem(
        item, tuple(flaws), readings, worths, faults, counted, size, currency,
        state_readings(readings, worths, currency, len(flaws)),
    )  # fmt: skip


def _known(session: Session, version: int | None, today: date) -> dict[str, Decimal]:
    """What a version goes for in each condition that is known (money at home)."""
    if version is None:
        return {}
    home, found = home_on(session, today), {}
    for condition in CONDITIONS:
        value = values_in(session, [version], condition).get(version)
        amount = None if value is None or value.amount is None else home.convert(value.amount, value.currency)
        if amount is not None:
            found[condition] = amount
    return found


def mark_flaws(
    catalogue: Catalogue, number: int, version: int, flaws: Sequence[Flaw], condition: str | None
) -> JudgedItem:
    """Keep the flaws that are marked on a thing, and the reading that the owner goes by, if one was chosen.

    Raises NotFound, Conflict, InputError.
    """
    if condition is not None and condition not in CONDITIONS:
        raise InputError.at("condition", f"must be one of {', '.join(CONDITIONS)}")
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        item = find_item(session, number, version)
        read_condition(flaws)
        put_flaws(session, number, flaws)
        changes = {} if condition in (None, item.condition) else {"condition": condition}
        marks = f"{len(flaws)} {'flaw' if len(flaws) == 1 else 'flaws'} marked"
        change_words(session, number, changes, today, [marks])
        revalue_items(session, home_on(session, today), [number])
        return _judge(session, find_item(session, number, lock=False), flaws, today)
