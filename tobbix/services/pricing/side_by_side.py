"""Many cards beside one another, by what is kept of their values."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.results import Verdict
from tobbix.core.pricing.ladder import grade_order
from tobbix.core.pricing.side_by_side import Beside, Known, put_beside, state_side_by_side
from tobbix.db.base import Session
from tobbix.db.pricing.comps import known_graders
from tobbix.db.pricing.side_by_side import cards_beside, grades_seen, releases_named
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import price_versions
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on

MOST_CARDS = 2_000
MOST_GRADES = 8


@dataclass(frozen=True, eq=False)
class SideBySide:
    """Cards beside one another, the dearest first, of ``all_of`` them; ``graders`` are those that can be chosen,
    ``grades`` the columns, the lowest first; ``releases`` every one by key and title."""

    rows: tuple[Beside, ...]
    all_of: int
    state: str
    currency: str
    graders: tuple[str, ...]
    grades: tuple[str, ...]
    releases: tuple[tuple[str, str], ...]
    verdict: Verdict


def look_beside(
    catalogue: Catalogue, release: str | None, state: str | None, grader: str | None, cost: Decimal | None
) -> SideBySide:
    """The cards of a release (None: all that are held) in a state, and in a grader's grades less what grading costs in
    all (money at home). Raises NotFound."""
    with catalogue.database.transaction() as session:
        if release is not None:
            find_release(session, release, stub=True)
        home = home_on(session, catalogue.today())
        chosen = state or home.state
        graders = tuple(known_graders(session))
        releases = tuple(releases_named(session))
        found, all_of = cards_beside(session, release, MOST_CARDS)
        versions = [version for version, _ in found]
        cards = read_cards(session, versions)
        what = "What you hold" if release is None else next((it.release_title for it in cards.values()), "It")
        raw = _known(session, versions, chosen, home)
        grades: list[str] = []
        by_grade: dict[str, dict[int, Known]] = {}
        if grader is not None:
            grades = sorted(sorted(grades_seen(session, grader), key=grade_order)[-MOST_GRADES:], key=grade_order)
            by_grade = {grade: _known(session, versions, f"{grader}:{grade}", home) for grade in grades}
    rows = [
        put_beside(
            cards[version], held, raw.get(version),
            {grade: known[version] for grade, known in by_grade.items() if version in known}, cost,
        )
        for version, held in found
    ]  # fmt: skip
    rows.sort(key=lambda row: (row.value is None, -(row.value.amount if row.value else 0)))
    return SideBySide(
        tuple(rows), all_of, chosen, home.currency, graders, tuple(grades), releases,
        state_side_by_side(rows, what, chosen, home.currency, grader),
    )  # fmt: skip


def _known(session: Session, versions: Sequence[int], state: str, home: Home) -> dict[int, Known]:
    """What is known of versions in a state."""
    prices = price_versions(session, versions, state, home.convert)
    return {
        version: Known(price.amount, price.day)
        for version, price in prices.items()
        if price.amount is not None and (price.own or ":" not in state)
    }
