"""What the demo's collector had before: thirty releases as far as seen, 900 named cards, 12,000 commons by set."""

from collections.abc import Callable, Iterator, Sequence
from decimal import Decimal
from random import Random

from tobbix.core.products.finding import FoundCard
from tobbix.core.products.naming import Seen, SeenRelease
from tobbix.demo.names import keepers, lights, moths, railways
from tobbix.formats.item_lists import ItemLine
from tobbix.services.products import naming
from tobbix.services.products.catalogue import Catalogue

SEED = 20_260_101
_NAMED, _CARDS, _BASE = 900, 24, 16
Subjects = Callable[[Random], Iterator[str]]

_SETS: tuple[tuple[str, Subjects, tuple[int, ...]], ...] = (
    ("Skerrylight", lights, (2013, 2015, 2017, 2019, 2021, 2023)),
    ("Highline Funiculars", railways, (2014, 2018, 2022)),
    ("Lepidora", moths, (1984, 1988, 1992, 1996, 2003)),
    ("Keepers of the Coast", keepers, (1979, 1983, 1990, 1999, 2008)),
    ("Tidewrack", lights, (1987, 1991, 2001)),
    ("Ropeway Album", railways, (1981, 1986, 1995)),
    ("Ottergate Regatta", keepers, (2005, 2016, 2026)),
)


def _seen_releases() -> list[tuple[SeenRelease, Subjects]]:
    """The releases that nobody has a sheet of, the oldest from 1979."""
    found = [(SeenRelease(name, year), subjects) for name, subjects, years in _SETS for year in years]
    found += [
        (SeenRelease("Harbour Pilots", 1994, "First tide", "Saltby Paper"), keepers),
        (SeenRelease("Harbour Pilots", 1994, "Second tide", "Saltby Paper", code="HP2"), keepers),
    ]
    return found


SEEN = _seen_releases()


def name_seen(catalogue: Catalogue) -> list[FoundCard]:
    """Cards of these releases, as they turned up in shoeboxes."""
    random, found = Random(SEED + 1), []
    for release, subjects in SEEN:
        people = subjects(random)
        cards = [
            Seen("Base" if at <= _BASE else "Inserts", str(at), next(people), "blank back" if at == 7 else "")
            for at in range(1, _CARDS + 1)
        ]
        found += naming.name_cards(catalogue, release, cards)
    return found


def shoeboxes(random: Random, seen: Sequence[FoundCard]) -> list[ItemLine]:
    """Commons counted by set and some hundred cards; of most nobody remembers the cost, and of some nobody knows which
    card it is."""
    lines = []
    for row, (release, _) in enumerate(SEEN, 2):
        count = random.randint(330, 470)
        lines.append(
            ItemLine(row, f"{release.title}, commons", release.title, "Base", None, None, count, "NM", None,
                     f"shoebox {row - 1}", None, Decimal("0.01") * count, None, False, None)
        )  # fmt: skip
    for row in range(40, 40 + _NAMED):
        kept, known = random.random() < 0.08, random.random() < 0.3
        card = random.choice(seen)
        name = f"{card.subject}, {card.line_name}, {card.release_title}"
        release_title, line, number, variant = card.release_title, card.line_name, card.number, card.variant or None
        rubbed = row % 18 == 0
        if rubbed:
            name, variant = f"an insert, number rubbed off ({row})", None
        basis = Decimal(random.randint(20, 900)) / 100 if known else None
        # what sold often enough is worth what that says; of the rest half are known by the owner's own word
        value = None if rubbed or random.random() < 0.5 else Decimal(random.randint(20, 1400)) / 100
        lines.append(
            ItemLine(row, name, None if rubbed else release_title, None if rubbed else line,
                     None if rubbed else number, variant, 1, random.choice(["mint", "NM", "LP", "MP"]), None,
                     f"binder {1 + row % 12}", basis, value, None, kept, None)
        )  # fmt: skip
    return lines
