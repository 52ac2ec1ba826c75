"""The words that a card is looked up with elsewhere: what to search for, how it is also written, what to leave out."""

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from tobbix.core.base.errors import InputError
from tobbix.core.pricing.titles import Possible

LONGEST = 300
_NEVER = ("reprint", "proxy", "replica")


@dataclass(frozen=True, slots=True)
class SearchWords:
    """Words to search for, other spellings of some of them, and words that a result must not have; ``own``: the owner's
    own instead of proposed ones."""

    words: str
    spellings: tuple[str, ...]
    without: tuple[str, ...]
    own: bool = False


def propose_words(card: Possible, state: str, others: Sequence[Possible]) -> SearchWords:
    """What to look a version in a state up with; ``others`` show the same subject in the same release.

    >>> fog = Possible(1, "sky-2025", "Skerrylight", 2025, "Fog Signals", False, "FS3", "", "Quern Bank", None)
    >>> dim = Possible(2, "sky-2025", "Skerrylight", 2025, "Drizzle", False, "44", "", "Quern Bank", 160)
    >>> found = propose_words(fog, "Plumbline:9", [dim])
    >>> found.words, found.spellings, found.without[0]
    ('Quern Bank Skerrylight 2025 Fog Signals FS3 Plumbline 9', ('FS-3', 'FS 3'), 'Drizzle')
    """
    words = [card.subject, card.release_name, str(card.year)]
    words += [] if card.is_plain else [card.line_name]
    words += [card.number, card.variant, f"/{card.print_run}" if card.print_run else "", state.replace(":", " ")]
    graded = ":" in state
    said = " ".join(filter(None, words if graded else words[:-1]))
    mine = {card.line_name.casefold(), card.subject.casefold()}
    lines = {other.line_name: None for other in others if not other.is_plain and other.line_name.casefold() not in mine}
    return SearchWords(said[:LONGEST], _spellings(card), (*lines, *_NEVER))


def _spellings(card: Possible) -> tuple[str, ...]:
    """How the number and the names are written as well: with and without signs, and without marks on letters."""
    found: dict[str, None] = {}
    if (code := re.fullmatch(r"([A-Za-z]+)[- ]?([0-9]+[a-z]?)", card.number)) is not None:
        found.update(dict.fromkeys(f"{code[1]}{by}{code[2]}" for by in ("", "-", " ")))
    for name in (card.subject, card.release_name, "" if card.is_plain else card.line_name):
        bare = unicodedata.normalize("NFKD", re.sub(r"['’‘]", "", name)).encode("ascii", "ignore").decode()
        found.update(dict.fromkeys((bare, bare.replace("-", " "), bare.replace(" & ", " and "))))
        found.pop(name, None)
    found.pop(card.number, None)
    return tuple(words for words in found if words.strip())


def check_words(words: str, without: str) -> tuple[str, tuple[str, ...]]:
    """The owner's own words, as typed; what to leave out stands between commas. Raises InputError."""
    said = " ".join(words.split())
    parts = tuple(dict.fromkeys(" ".join(part.split()) for part in without.split(",") if part.strip()))
    if not said:
        raise InputError.at("words", "say at least one word")
    for field, text in (("words", said), ("without", ", ".join(parts))):
        if len(text) > LONGEST:
            raise InputError.at(field, f"has at most {LONGEST} characters")
    return said, parts
