"""Everything valued anew, as a task: what sales make of each card as of today, by the owner's school, and then what all
that is held is worth. A value is recorded where it changed; done again, nothing is."""

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from typing import Any

import numpy as np

from tobbix.core.base.errors import InputError
from tobbix.core.base.money import Money
from tobbix.core.base.tasks import Task
from tobbix.core.pricing.estimating import WINDOW
from tobbix.core.pricing.many import Sales, value_many
from tobbix.core.pricing.observing import Rates
from tobbix.core.pricing.schools import School
from tobbix.core.products.price_book import Says, Source, Value
from tobbix.db.base import Session
from tobbix.db.holdings.rates import all_rates
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.many import SaleRow, held_items, kept_of_all, releases_of, sales_of_all, seen_versions
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import record_values
from tobbix.services.pricing.keeping import SHARE, keep_values
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_items
from tobbix.services.tasks.carrying import Run, Tell, ask_for, fingerprint_of

KIND = "revalue"
_ITEMS, _VERSIONS = 5_000, 200  # that are brought up in one transaction


def ask_revaluing(catalogue: Catalogue) -> Task:
    """Begin to value everything anew, or find that it was just begun."""
    with catalogue.database.transaction() as session:
        school, total = load_preferences(session).school, len(held_items(session))
    minute = datetime.now(UTC).isoformat(timespec="minutes")
    return ask_for(
        catalogue.database, KIND, "prices:everything held", {"school": school.value},
        fingerprint_of(KIND, school.value, minute), max(total, 1),
    )  # fmt: skip


def revalue_runs(catalogue: Catalogue) -> dict[str, Run]:
    """How everything is valued anew."""

    def run(task: Task, tell: Tell) -> Mapping[str, Any]:
        today = catalogue.today()
        with catalogue.database.transaction() as session:
            school = load_preferences(session).school
            items = held_items(session)
        if school in (School.LOWEST_ASK, School.BOOK):
            changed = _keep_each(catalogue, today)
        else:
            with catalogue.database.transaction() as session:
                changed = _keep_many(session, school, today)
        for start in range(0, len(items), _ITEMS):
            with catalogue.database.transaction() as session:
                revalue_items(session, home_on(session, today), items[start : start + _ITEMS])
            tell(min(start + _ITEMS, len(items), task.total))
        return {"changed": changed, "held": len(items)}

    return {KIND: run}


def _keep_each(catalogue: Catalogue, today: date) -> int:
    """Card by card, for schools that go by more than sales; says of how many."""
    with catalogue.database.transaction() as session:
        versions = seen_versions(session)
    for start in range(0, len(versions), _VERSIONS):
        with catalogue.database.transaction() as session:
            keep_values(session, versions[start : start + _VERSIONS], today)
    return len(versions)


def _keep_many(session: Session, school: School, today: date) -> int:
    """All cards at once; says how many values changed."""
    home = home_on(session, today)
    rows = sales_of_all(session, today - timedelta(WINDOW), today)
    named, sales = _to_sales(rows, Rates(home.currency, all_rates(session)), today)
    found = value_many(sales, school, SHARE)
    now: dict[tuple[int, str], Value] = {}
    for card, used, estimate, low, high, age in zip(
        *(getattr(found, name).tolist() for name in ("card", "used", "estimate", "low", "high", "newest")), strict=True
    ):
        if used:
            amount, least, most = (Money.from_estimate(it, home.currency).amount for it in (estimate, low, high))
            now[named[card]] = Value(
                Says.PRICE, amount, home.currency, today - timedelta(age), Source.COMPS, min(least, amount),
                max(most, amount), used,
            )  # fmt: skip
    before = kept_of_all(session)
    changed = {it: value for it, value in now.items() if not _is_same(before.get(it), value)}
    gone = Value(Says.RELEASED, None, home.currency, today, Source.COMPS, comps=0)
    changed |= {it: gone for it, value in before.items() if value.says is Says.PRICE and it not in now}
    releases = releases_of(session, sorted({version for version, _ in changed}))
    together: dict[tuple[str, str], list[tuple[int, Value]]] = {}
    for (version, state), value in changed.items():
        if version in releases:  # what a removed release is worth stays as it was
            together.setdefault((releases[version], state), []).append((version, value))
    owners = {key: find_release(session, key, stub=True) for key in sorted({release for release, _ in together})}
    for (release, state), values in together.items():
        record_values(session, owners[release], "version_id", state, values)
    return sum(map(len, together.values()))


def _is_same(before: Value | None, now: Value) -> bool:
    return before is not None and all(
        getattr(before, name) == getattr(now, name)
        for name in ("says", "amount", "currency", "day", "low", "high", "comps")
    )


def _to_sales(rows: Sequence[SaleRow], rates: Rates, today: date) -> tuple[list[tuple[int, str]], Sales]:
    """The sales as arrays, at home, and which version in which state each of their numbers is. Raises InputError for a
    currency without a rate."""
    named: list[tuple[int, str]] = []
    markets: dict[str, int] = {}
    factors: dict[tuple[str, date], float] = {}
    table: list[tuple[int, float, float, int, int, bool]] = []
    for version, state, day, paid, shipping, currency, market, choice in rows:
        if (currency, day) not in factors:
            rate = (Decimal(1), day) if currency == rates.home else rates.find(currency, day)
            if rate is None:
                raise InputError.at("currency", f"there is no rate of {currency}")
            factors[currency, day] = float(rate[0])
        factor = factors[currency, day]
        if not named or named[-1] != (version, state):
            named.append((version, state))
        table.append((
            len(named) - 1, float(paid) * factor, float("nan") if shipping is None else float(shipping) * factor,
            -1 if market is None else markets.setdefault(market, len(markets)), (today - day).days, choice == "keep",
        ))  # fmt: skip
    card, paid_, shipping_, market_, age, kept = zip(*table, strict=True) if table else ((),) * 6
    whole = np.int64
    return named, Sales(
        np.array(card, whole), np.array(paid_, float), np.array(shipping_, float), np.array(market_, whole),
        np.array(age, whole), np.array(kept, bool),
    )  # fmt: skip
