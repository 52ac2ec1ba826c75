"""What a card that comes in would fill: goals with an open slot for it, places on the target list (C-36).

Asked wherever cards come in: as they are typed, pulled from a pack, bought.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.results import Run
from tobbix.core.sorting.entering import Matters, say_matters
from tobbix.core.sorting.goals import Copy, is_good_enough
from tobbix.db.base import Session
from tobbix.db.buying.targets import still_wanted
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Naming, identify
from tobbix.db.sorting.entering import goals_with
from tobbix.db.sorting.goals import copies_of, find_goal, slots_of
from tobbix.services.products.catalogue import Catalogue


def missing_in(session: Session, coming: Sequence[Copy], without: int | None = None) -> list[tuple[str, ...]]:
    """The goals with an open slot for each of some copies that come in; as if the thing ``without`` were not here."""
    found: list[tuple[str, ...]] = [()] * len(coming)
    for number in goals_with(session, [copy.version for copy in coming]):
        goal = find_goal(session, number)
        slots = slots_of(session, goal)
        fitting = {copy.version: [it for it in slots if copy.version in it.options] for copy in coming}
        options = {option for of_it in fitting.values() for slot in of_it for option in slot.options}
        held = [it for it in copies_of(session, options) if it.item != without]
        for at, copy in enumerate(coming):
            is_open = any(
                is_good_enough(copy, slot.least)
                and not any(it.version in slot.options and is_good_enough(it, slot.least) for it in held)
                for slot in fitting[copy.version]
            )
            if is_open and goal.name not in found[at]:
                found[at] = (*found[at], goal.name)
    return found


@dataclass(frozen=True, slots=True)
class Coming:
    """A card that may come in, by its keys; without a ``condition`` it is taken to be as good as prices speak of."""

    release: str
    line: str
    number: str
    variant: str = ""
    condition: str | None = None


def would_fill(catalogue: Catalogue, cards: Sequence[Coming]) -> list[tuple[Run, ...]]:
    """What each of some cards would fill if it came in, in words; nothing for cards that fill nothing or that nobody
    knows."""
    namings = [Naming(card.release, None, card.line, card.number, card.variant) for card in cards]
    with catalogue.database.transaction() as session:
        preferences = load_preferences(session)
        found = identify(session, namings)
        versions = [found[naming].version_id for naming in namings]
        coming = [
            Copy(0, version, 1, card.condition or preferences.sheet_condition)
            for card, version in zip(cards, versions, strict=True)
            if version is not None
        ]
        goals = iter(missing_in(session, coming))
        targets = still_wanted(session, [copy.version for copy in coming])
    return [
        () if it is None else say_matters(Matters(targets=targets.get(it, ()), goals=next(goals)), preferences.currency)
        for it in versions
    ]
