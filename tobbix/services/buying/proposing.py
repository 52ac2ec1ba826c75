"""A purchase that is only said so far: what its line means here, and what buying it would do. Nothing is stored."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.matching import match_words
from tobbix.core.base.money import currency_codes
from tobbix.core.buying.reading import SpokenCost, read_line
from tobbix.core.products.prospect import Prospect, foresee
from tobbix.db.base import Session
from tobbix.db.holdings.loading import party_names
from tobbix.db.pricing.ways import way_names
from tobbix.db.products.loading import list_releases
from tobbix.services.products.answering import answer_formats
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import find_priced

_CARDS = 4


@dataclass(frozen=True, slots=True)
class MeantThing:
    """What the words of a line mean: a format, a card, or nothing known; ``value`` of all that was said of it, at home
    today, if known."""

    kind: str
    name: str
    release: str | None = None
    format: str | None = None
    line: str | None = None
    number: str | None = None
    variant: str | None = None
    value: Decimal | None = None


@dataclass(frozen=True, slots=True)
class MeantPurchase:
    """A line as it is understood: the likeliest thing first, then what else the words may mean."""

    count: int
    things: tuple[MeantThing, ...]
    costs: tuple[SpokenCost, ...]
    seller: str
    knows_seller: bool
    bought_on: date | None
    is_here: bool


def understand(catalogue: Catalogue, line: str) -> MeantPurchase:
    """What a line means by the releases, cards and sellers that are known here."""
    today = catalogue.today()
    said = read_line(line, today, [code for code, _ in currency_codes()])
    with catalogue.database.transaction() as session:
        things = _formats(catalogue, session, said.what)
        if not things and said.what:
            things = _cards(session, today, said.what)
        names = party_names(session) + way_names(session)
    if not things and said.what:
        things = [MeantThing("other", said.what)]
    seller = next((names[place] for place in match_words(said.seller, names)), None)
    things = [replace(it, value=None if it.value is None else it.value * said.count) for it in things]
    return MeantPurchase(
        said.count, tuple(things), said.costs, seller or said.seller, seller is not None, said.bought_on, said.is_here
    )


def _formats(catalogue: Catalogue, session: Session, words: str) -> list[MeantThing]:
    known = [
        MeantThing("sealed", f"{it.sheet.release.title}, {fmt.name}", it.sheet.id, fmt.id, value=fmt.price)
        for it in catalogue.look_at(session, list_releases(session))
        for fmt in it.sheet.formats
    ]
    return [known[place] for place in match_words(words, [thing.name for thing in known])]


def _cards(session: Session, today: date, words: str) -> list[MeantThing]:
    return [
        MeantThing(
            "card", f"{card.subject}, {card.line_name}, {card.release_title}", card.release, None, card.line,
            card.number, card.variant or None, card.price,
        )
        for card in find_priced(session, today, words, _CARDS)
    ]  # fmt: skip


def foresee_boxes(
    catalogue: Catalogue, boxes: Sequence[tuple[str | None, str | None, int, Decimal | None]]
) -> tuple[Prospect | None, ...]:
    """What one box of each promises: release, format, how many, and what they carry together (money, None: nobody
    remembers); None for what is no box of a known release. Rules C-04 and C-15."""
    wanted = {release for release, format_id, _, _ in boxes if format_id is not None}
    with catalogue.database.transaction() as session:
        looked = catalogue.look_at(session, [row for row in list_releases(session) if row.key in wanted])
    answers = {(it.sheet.id, found.format.id): found for it in looked for found in answer_formats(catalogue, it)}
    found: list[Prospect | None] = []
    for release, format_id, count, basis in boxes:
        answer = answers.get((release or "", format_id or ""))
        found.append(None if answer is None else foresee(None if basis is None else basis / count, answer))
    return tuple(found)
