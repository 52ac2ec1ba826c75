"""Prices and populations added to what is known: typed, brought in together, taken back, kept or left out."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.pricing.comps import Comp
from tobbix.core.pricing.ladder import Population, read_populations
from tobbix.core.pricing.reading import read_sale
from tobbix.db.holdings.rates import latest_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing import comps as comps_store
from tobbix.db.pricing.comps import (
    add_comps,
    begin_batch,
    choose_comp,
    comps_of,
    known_graders,
    version_of_comp,
    withdraw_batch,
)
from tobbix.services.pricing.keeping import keep_values
from tobbix.services.pricing.seeing import find_card
from tobbix.services.products.catalogue import Catalogue

MOST_LINES = 1_000


@dataclass(frozen=True, slots=True)
class Added:
    """How many prices were added, and how many were there already; ``batch``: by which they can be taken back."""

    added: int
    known: int
    batch: int | None


def add_sales(
    catalogue: Catalogue, release: str, line: str, number: str, variant: str, text: str, state: str | None
) -> Added:
    """Add what was typed of a card, a line for each price; what is there already is not added twice.

    Raises NotFound, or InputError at ``text`` with the row of every line that cannot be read; then nothing is added.
    """
    rows = [(at, row.strip()) for at, row in enumerate(text.splitlines(), 1) if row.strip()]
    if not rows:
        raise InputError.at("text", "say what it went for, like 12.50 + 1.20 nm 3 nov")
    if len(rows) > MOST_LINES:
        raise InputError.at("text", f"add at most {MOST_LINES:,} lines at once")
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        preferences = load_preferences(session)
        currencies = {row.currency for row in latest_rates(session)}
        before = comps_of(session, version)
        graders = sorted({comp.grader for _, comp, _ in before if comp.grader})
        raw = state if state is not None and ":" not in state else preferences.sheet_condition
        comps, faults = [], []
        for at, row in rows:
            try:
                comps.append(read_sale(row, catalogue.today(), preferences.currency, currencies, graders, raw))
            except InputError as error:
                several = at if len(rows) > 1 else None
                said = f"“{row[:40]}”: " if several else ""
                faults += [Fault("text", said + fault.message, None, several) for fault in error.faults]
        faults += [
            Fault("text", f"{comp.day.isoformat()} is in the future", None, at if len(rows) > 1 else None)
            for (at, _), comp in zip(rows, comps, strict=False)
            if comp.day > catalogue.today()
        ]
        if faults:
            raise InputError(faults)
        there = {comp for _, comp, _ in before}
        fresh = [comp for comp in dict.fromkeys(comps) if comp not in there]
        batch = begin_batch(session, f"typed of {release} {line} {number}"[:200], catalogue.today()) if fresh else None
        add_comps(session, [(version, comp) for comp in fresh], batch=batch)
        keep_values(session, [version], catalogue.today())
        return Added(len(fresh), len(comps) - len(fresh), batch)


def bring_in(
    catalogue: Catalogue, what: str, comps: Sequence[tuple[int, Comp]], counted: Sequence[tuple[int, Population]]
) -> Added:
    """Bring in prices and populations of many versions at once, each by its number in the store."""
    with catalogue.database.transaction() as session:
        batch = begin_batch(session, what[:200], catalogue.today())
        added = add_comps(session, comps, batch=batch)
        comps_store.add_populations(session, counted)
        keep_values(session, sorted({version for version, _ in comps}), catalogue.today())
    return Added(added, len(comps) - added, batch)


def take_back_batch(catalogue: Catalogue, batch: int, again: bool = False) -> None:
    """Take back what came in together, or have it there ``again``. Raises NotFound."""
    with catalogue.database.transaction() as session:
        of = withdraw_batch(session, batch, None if again else datetime.now(UTC))
        keep_values(session, sorted({version for version, _ in of}), catalogue.today(), of)


def choose_sale(catalogue: Catalogue, number: int, choice: str | None) -> None:
    """Keep a price that is flagged, leave one out, or neither. Raises NotFound."""
    with catalogue.database.transaction() as session:
        version = version_of_comp(session, number)
        choose_comp(session, number, choice)
        keep_values(session, [version], catalogue.today())


def add_populations(catalogue: Catalogue, release: str, line: str, number: str, variant: str, text: str) -> int:
    """Add populations of a card as they were typed; says how many. Raises NotFound, InputError at ``text``."""
    with catalogue.database.transaction() as session:
        version = find_card(session, release, line, number, variant)
        counted = read_populations(text, catalogue.today(), known_graders(session))
        return comps_store.add_populations(session, [(version, item) for item in counted])
