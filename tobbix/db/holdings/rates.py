"""Exchange rates: kept from the feed and by hand, and found for a day."""

from collections.abc import Iterable
from datetime import date, timedelta
from decimal import Decimal

from sqlalchemy import func, select, tuple_
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from tobbix.db.holdings.tables import ExchangeRateRow

RATE_HOLDS = 7  # days that a rate speaks for, where there is no newer one


def find_rate(session: Session, currency: str, day: date) -> tuple[Decimal, str, date] | None:
    """The rate of a currency on a day: set by hand first, else the last of the week before. None if there is none."""
    query = (
        select(ExchangeRateRow)
        .where(ExchangeRateRow.currency == currency, ExchangeRateRow.day <= day)
        .order_by(ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
        .limit(1)
    )
    row = session.scalar(query)
    if row is None or (day - row.day).days > RATE_HOLDS:
        return None
    return row.rate, row.source, row.day


def rates_on(session: Session, day: date) -> dict[str, Decimal]:
    """The rates of all currencies on a day, each as ``find_rate`` finds it."""
    query = (
        select(ExchangeRateRow.currency, ExchangeRateRow.rate)
        .ext(distinct_on(ExchangeRateRow.currency))
        .where(ExchangeRateRow.day <= day, ExchangeRateRow.day >= day - timedelta(days=RATE_HOLDS))
        .order_by(ExchangeRateRow.currency, ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
    )
    return {row.currency: row.rate for row in session.execute(query)}


def all_rates(session: Session) -> list[tuple[str, date, Decimal]]:
    """Every day's rate of every currency, one set by hand before that of the feed."""
    query = (
        select(ExchangeRateRow.currency, ExchangeRateRow.day, ExchangeRateRow.rate)
        .ext(distinct_on(ExchangeRateRow.currency, ExchangeRateRow.day))
        .order_by(ExchangeRateRow.currency, ExchangeRateRow.day, ExchangeRateRow.by_hand.desc())
    )
    return [(currency, day, rate) for currency, day, rate in session.execute(query)]


def latest_rates(session: Session) -> list[ExchangeRateRow]:
    """Of each currency the newest rate of the feed, and every one that was set by hand, by currency and day."""
    newest = select(ExchangeRateRow.currency, func.max(ExchangeRateRow.day)).group_by(ExchangeRateRow.currency)
    newest = newest.where(ExchangeRateRow.by_hand.is_(False))
    query = select(ExchangeRateRow).where(
        ExchangeRateRow.by_hand | tuple_(ExchangeRateRow.currency, ExchangeRateRow.day).in_(newest)
    )
    return list(
        session.scalars(
            query.order_by(ExchangeRateRow.currency, ExchangeRateRow.day.desc(), ExchangeRateRow.by_hand.desc())
        )
    )


def remove_rate(session: Session, currency: str, day: date) -> bool:
    """Forget a rate that was set by hand; says whether there was one."""
    query = select(ExchangeRateRow).where(
        ExchangeRateRow.currency == currency, ExchangeRateRow.day == day, ExchangeRateRow.by_hand
    )
    row = session.scalar(query)
    if row is not None:
        session.delete(row)
    return row is not None


def put_rates(session: Session, rates: Iterable[tuple[str, date, Decimal]], source: str, by_hand: bool) -> int:
    """Keep rates, in place of those of the same day from the same hand; says how many."""
    known = {
        (row.currency, row.day): row
        for row in session.scalars(select(ExchangeRateRow).where(ExchangeRateRow.by_hand == by_hand))
    }
    count = 0
    for currency, day, rate in rates:
        row = known.get((currency, day)) or ExchangeRateRow(currency=currency, day=day, by_hand=by_hand)
        row.rate, row.source = rate, source
        session.add(row)
        count += 1
    session.flush()
    return count
