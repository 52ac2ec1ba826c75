"""Prices fetched from elsewhere: for which cards, and what came of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict


class Scope(StrEnum):
    """The cards that prices are fetched for: one, those of a release, of the target list, all that is held, what a
    filter of it lists, or those whose values want a look."""

    CARD = "card"
    RELEASE = "release"
    TARGETS = "targets"
    HELD = "held"
    FILTER = "filter"
    NEXT = "next"


@dataclass(frozen=True, slots=True)
class Missed:
    """What could not be asked: of which ``source``, about which card (its version), and why."""

    source: str
    version: int
    why: str


@dataclass(frozen=True, slots=True)
class Fetched:
    """What came of it: for how many ``cards`` it was asked, of how many something ``new`` came in, how many prices were
    ``kept``, how many were there already (``known``), and how many are no prices (``refused``)."""

    cards: int = 0
    new: int = 0
    kept: int = 0
    known: int = 0
    refused: int = 0


def _many(count: int, one: str, more: str) -> str:
    return f"{count:,} {one if count == 1 else more}"


def state_sources(names: Sequence[str]) -> Verdict:
    """Where prices can be fetched from."""
    if not names:
        return Verdict(
            (Run("No market", "sources", True), Run(" is connected here.")),
            (Run("Paste pages of results, or bring in tables."),),
        )
    return Verdict(
        (Run("Prices come from "), Run(" and ".join(names), "sources", True), Run(".")),
        (Run("What is clear is kept, what is doubtful is shown before it is."),),
    )


def state_asking(about: str, kept: int, stopped: bool) -> Verdict:
    """How far a fetch is that has no result yet, or was stopped.

    >>> state_asking("the target list", 187, False).text()
    '187 new prices of the target list so far. You can go on meanwhile.'
    """
    sentence = (Run(_many(kept, "new price", "new prices"), "kept", True), Run(f" of {about} "))
    if stopped:
        return Verdict((*sentence, Run("until it ended.")), (Run("What had come in until then was kept."),))
    return Verdict((*sentence, Run("so far.")), (Run("You can go on meanwhile."),))


def state_fetched(found: Fetched, doubtful: int, lots: int, missed: int, gone: bool = False, cut: int = 0) -> Verdict:
    """What came of asking, with what wants a look; ``gone``: what came in was taken back; so many were ``cut`` off.

    >>> state_fetched(Fetched(3, 2, 14, 6, 1), 2, 0, 0).text()
    '14 new prices of 2 of 3 cards, 2 to be looked at. 6 were there already, 1 is no price.'
    """
    if found.kept == 0:
        sentence = [Run("Nothing new", "kept", True), Run(f" was found of {_many(found.cards, 'card', 'cards')}")]
    else:
        sentence = [
            Run(_many(found.kept, "new price", "new prices"), "kept", True),
            Run(f" of {found.new:,} of {_many(found.cards, 'card', 'cards')}"),
        ]
    if doubtful:
        sentence += [Run(", "), Run(f"{doubtful:,}", "doubtful"), Run(" to be looked at")]
    parts = []
    if found.known:
        parts.append(f"{found.known:,} {'was' if found.known == 1 else 'were'} there already")
    if found.refused:
        parts.append(f"{found.refused:,} {'is no price' if found.refused == 1 else 'are no prices'}")
    if lots:
        parts.append(f"{_many(lots, 'lot closes', 'lots close')} soon")
    ground = f"{', '.join(parts)}." if parts else ""
    if cut:
        ground += f" {_many(cut, 'more is', 'more are')} not listed: ask for fewer cards to see all."
    if gone:
        ground += " What came in was taken back."
    if missed:
        ground += f" {_many(missed, 'question', 'questions')} got no answer: ask again for these."
    return Verdict((*sentence, Run(".")), (Run(ground.strip()),) if ground else ())
