"""The sales of all versions at once, and what was kept of them last."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tobbix.core.holdings.states import HELD_STATES
from tobbix.core.pricing.estimating import SALES
from tobbix.core.products.price_book import Says, Source, Value
from tobbix.db.holdings.loading import among
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.pricing.comps import CompRow
from tobbix.db.products.tables import CardRow, LineRow, ReleaseRow, VersionRow

SaleRow = tuple[int, str, date, Decimal, Decimal | None, str, str | None, str | None]

_SALES = """
    select c.version_id, coalesce(c.grader || ':' || c.grade, c.condition) as state, c.day,
        c.price + coalesce(c.tax, 0), c.shipping, c.currency, c.market, c.choice
    from comp c left join comp_batch b on b.id = c.batch_id
    where c.version_id is not null and c.kind = any(:kinds) and c.lot = 1 and b.withdrawn_at is null
        and num_nonnulls(c.condition, c.grader) > 0 and c.choice is distinct from 'leave_out'
        and c.day between :since and :until
    order by c.version_id, state, c.day, c.id
"""
_KEPT = """
    select distinct on (v.version_id, v.state) v.version_id, v.state, v.says, v.amount, v.currency, v.day, v.source,
        v.low, v.high, v.comps
    from value v where v.version_id is not null and v.source = :source and v.taken_back_at is null
        and (cast(:versions as bigint[]) is null or v.version_id = any(:versions))
    order by v.version_id, v.state, v.id desc
"""


def sales_of_all(session: Session, since: date, until: date) -> Sequence[SaleRow]:
    """Every sale of one copy of a version in a state from a day to another that the owner does not leave out, ordered
    by both and then by day: version, state, day, price with tax, shipping, currency, market, and what the owner
    chose."""
    asked = {"kinds": [kind.value for kind in SALES], "since": since, "until": until}
    return [tuple(row) for row in session.execute(text(_SALES), asked)]


def kept_of_all(
    session: Session, source: Source = Source.COMPS, versions: Sequence[int] | None = None
) -> dict[tuple[int, str], Value]:
    """What a source, sales by default, last made of each version (or of some) in each state."""
    return {
        (version, state): Value(Says(says), amount, currency, day, Source(of), low, high, comps)
        for version, state, says, amount, currency, day, of, low, high, comps in session.execute(
            text(_KEPT), {"source": source.value, "versions": None if versions is None else list(versions)}
        )
    }


def releases_of(session: Session, versions: Sequence[int]) -> dict[int, str]:
    """The release of each of some versions, by its key; of those that were not removed."""
    query = (
        select(VersionRow.id, ReleaseRow.key)
        .join(LineRow, LineRow.id == VersionRow.line_id)
        .join(ReleaseRow, ReleaseRow.id == LineRow.release_id)
        .where(among(VersionRow.id, versions), ReleaseRow.removed_at.is_(None))
    )
    return {row[0]: row[1] for row in session.execute(query)}


def seen_versions(session: Session) -> list[int]:
    """Every version of which a price was seen, of releases that were not removed."""
    query = select(CompRow.version_id).where(CompRow.version_id.is_not(None)).distinct()
    return sorted(releases_of(session, [version for version in session.scalars(query) if version is not None]))


def held_items(session: Session) -> list[int]:
    """Everything that is held, by its number."""
    held = [state.value for state in HELD_STATES]
    return list(session.scalars(select(ItemRow.id).where(ItemRow.state.in_(held)).order_by(ItemRow.id)))


@dataclass(frozen=True, slots=True)
class HeldRow:
    """A thing of one's own that is held: its version and release (None: not known), the condition that it counts in,
    how many, what all of it is worth (money at home; None: not known), and by what."""

    version: int | None
    release: str | None
    state: str
    count: int
    amount: Decimal | None
    source: str | None


_HELD = """
    select i.version_id, r.key, coalesce(i.condition, :usual), i.count, h.amount, h.source
    from item i join held_value h on h.item_id = i.id left join release r on r.id = i.release_id
    where i.state = any(:states) and i.owner_id is null and i.kind in ('card', 'stack', 'sealed')
    order by i.id
"""


def held_rows(session: Session, usual: str) -> list[HeldRow]:
    """Everything of one's own that is held, with what it is worth now; ``usual`` the condition of what says none."""
    asked = {"usual": usual, "states": [state.value for state in HELD_STATES]}
    return [HeldRow(*row) for row in session.execute(text(_HELD), asked)]


_ALL = """
    select v.id, l.key, c.number, v.variant, c.subject from version v join card c on c.id = v.card_id
        join line l on l.id = v.line_id join release r on r.id = l.release_id
    where r.key = :release and v.gone_at is null and l.gone_at is null order by v.id
"""


def subjects_in(session: Session, releases: Sequence[str]) -> dict[str, set[str]]:
    """The subjects of the cards of each of some releases (keys); of cards of which no more than a number is known,
    none."""
    found: dict[str, set[str]] = {release: set() for release in releases}
    query = (
        select(ReleaseRow.key, CardRow.subject)
        .join(LineRow, LineRow.release_id == ReleaseRow.id)
        .join(CardRow, CardRow.line_id == LineRow.id)
        .where(ReleaseRow.key.in_(releases), CardRow.gone_at.is_(None), CardRow.subject != CardRow.number)
        .distinct()
    )
    for release, subject in session.execute(query):
        found[release].add(subject)
    return found


def versions_of(session: Session, release: str) -> list[tuple[int, str, str, str, str]]:
    """All versions of a release: number in the store, line, number, variant, subject."""
    return [tuple(row) for row in session.execute(text(_ALL), {"release": release})]
