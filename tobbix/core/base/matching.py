"""Names: finding them by the words that were said of them, and fitting them where they have to stand."""

import re
from collections.abc import Sequence


def match_words(said: str, names: Sequence[str]) -> list[int]:
    """Which of some names have every word that was said, the shortest first: what is said in full comes before what it
    is only a part of.

    >>> match_words("harbour box", ["Skerrylight 2025, Harbour box", "Skerrylight 2025, Market box"])
    [0]
    """
    wanted = _plain(said).split()
    if not wanted:
        return []
    found = [place for place, name in enumerate(names) if all(word in _plain(name) for word in wanted)]
    return sorted(found, key=lambda place: (len(names[place]), place))


def _plain(text: str) -> str:
    return re.sub(r"[’‘']", "", text.lower())


def fit(name: str, most: int, end: str = "") -> str:
    """A name with something appended, cut where both together would be longer than ``most``.

    >>> fit("Harbour box", 12, ", open"), fit("Harbour box", 40, ", open")
    ('Harbo…, open', 'Harbour box, open')
    """
    room = most - len(end)
    return (name if len(name) <= room else name[: room - 1] + "\u2026") + end
