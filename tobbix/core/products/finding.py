"""Finding a card by what somebody types: its number, a bit of the subject, and the line if need be."""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.products.prices import line_versions
from tobbix.core.products.sheet import ProductSheet


@dataclass(frozen=True, slots=True)
class FoundCard:
    """A version of a card, with its market price (money, None: unknown)."""

    release: str
    release_title: str
    line: str
    line_name: str
    number: str
    subject: str
    price: Decimal | None


def find_cards(sheets: Iterable[ProductSheet], find: str, most: int, format_id: str | None = None) -> list[FoundCard]:
    """At most ``most`` cards: those whose number is typed exactly first, then those that have every word typed in
    their number, subject, line or release. ``format_id`` leaves out the lines that are not in that format."""
    wanted = find.strip().casefold()
    words = wanted.split()
    exact: list[FoundCard] = []
    others: list[FoundCard] = []
    for sheet in sheets if words else ():
        for line in sheet.lines:
            if format_id is not None and format_id in line.not_in:
                continue
            about = f"{line.name} {sheet.release.title}".casefold()
            for version in line_versions(sheet, line):
                is_it = version.number.casefold() == wanted
                text = f"{version.number} {version.subject} {about}".casefold()
                if is_it or all(word in text for word in words):
                    card = FoundCard(
                        sheet.id, sheet.release.title, line.id, line.name, version.number, version.subject,
                        version.price,
                    )  # fmt: skip
                    (exact if is_it else others).append(card)
    # A number that begins so and a subject that holds the very words are what was meant more likely.
    others.sort(key=lambda c: not (c.number.casefold().startswith(wanted) or wanted in c.subject.casefold()))
    return (exact + others)[:most]
