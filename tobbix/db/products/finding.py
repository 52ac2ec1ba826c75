"""Finding a card in one indexed query over all releases: by number, a part of the subject, the line, the release."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import NotFound
from tobbix.core.products.finding import FoundCard
from tobbix.core.products.price_book import Price

# Whoever types is not asked for the right apostrophe; what is searched has plain ones.
_PLAIN = str.maketrans({"‘": "'", "’": "'"})
# So many are looked at before the best are chosen: a word that half of all cards have must not be waited for.
_LOOKED_AT = 200
_FOUND = """
    with exact as (
        select v.id, 0 as far from card c join version v on v.card_id = c.id
            join line l on l.id = v.line_id join release r on r.id = l.release_id
        where lower(c.number) = :wanted and {alive} limit {looked_at}
    ), others as (
        select v.id, 1 as far from version v join line l on l.id = v.line_id join release r on r.id = l.release_id
        where {words} and {alive} limit {looked_at}
    ), looked as (
        select id, min(far) as far from (select * from exact union all select * from others) candidate group by id
    ), best as (
        select v.id, row_number() over (order by b.far,
            not (lower(c.number) like :begins escape '\\' or v.search_text like :phrase escape '\\'),
            r.year desc, r.name, l.position nulls last, c.position nulls last, v.variant, v.id) as place
        from looked b join version v on v.id = b.id join line l on l.id = v.line_id join card c on c.id = v.card_id
            join release r on r.id = l.release_id
        order by place limit :most
    )
"""
_CARDS = """
    select r.key, concat_ws(' ', r.name, r.series, r.year), l.key, l.name, c.number, v.variant, c.subject, v.id
    from best b join version v on v.id = b.id join line l on l.id = v.line_id join card c on c.id = v.card_id
        join release r on r.id = l.release_id
    order by b.place
"""


def find_cards(
    session: Session,
    find: str,
    most: int,
    release: str | None = None,
    format_id: int | None = None,
    prices: Callable[[Sequence[int]], Mapping[int, Price]] = lambda versions: {},
) -> list[FoundCard]:
    """At most ``most`` cards: first those whose number is typed exactly, then those that have every word typed in
    their number, subject, line or release; a word of one or two letters from the beginning of one.

    Of one ``release`` if asked, and of those the lines that may be in a ``format_id``. ``prices`` tells what those that
    were found go for.
    """
    words = find.translate(_PLAIN).lower().split()
    if not words:
        return []
    asked: dict[str, Any] = {
        "wanted": " ".join(words), "begins": _like(" ".join(words)) + "%", "phrase": f"%{_like(' '.join(words))}%",
        "most": most,
    }  # fmt: skip
    conditions = []
    for place, word in enumerate(words):
        begin = "% " if len(word) < 3 else "%"
        asked[f"word{place}"] = f"{begin}{_like(word)}%"
        conditions.append(f"v.search_text like :word{place} escape '\\'")
    alive = "v.gone_at is null and r.removed_at is null"
    if release is not None:
        asked["release"] = release
        alive += " and r.key = :release"
    if format_id is not None:
        asked["format"] = format_id
        alive += """ and v.position is not null and not exists
            (select from line_format f where f.line_id = l.id and f.format_id = :format and not f.present)"""
    statement = _FOUND.format(words=" and ".join(conditions), looked_at=_LOOKED_AT, alive=alive) + _CARDS
    rows = session.execute(text(statement), asked).all()
    known = prices([row[-1] for row in rows]) if rows else {}
    return [_found(row, known) for row in rows]


def read_card(session: Session, version: int) -> FoundCard:
    """A version by its identity. Raises NotFound."""
    found = read_cards(session, [version])
    if not found:
        raise NotFound("there is no such card")
    return found[version]


def read_cards(session: Session, versions: Sequence[int]) -> dict[int, FoundCard]:
    """Versions by their identities."""
    best = "with best as (select id, 1 as place from unnest(cast(:versions as bigint[])) as id)"
    rows = session.execute(text(best + _CARDS), {"versions": list(versions)}).all()
    return {row[-1]: _found(row, {}) for row in rows}


def _like(word: str) -> str:
    return word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def _found(row: Sequence[Any], prices: Mapping[int, Price]) -> FoundCard:
    release, title, line, line_name, number, variant, subject, version = row
    price = prices.get(version)
    amount = None if price is None else price.amount
    return FoundCard(release, title, line, line_name, number, variant, subject, version, amount)
