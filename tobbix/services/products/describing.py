"""Keep what is known of a release beside its sheet: sizes, notes, extras, debuts; watch subjects over all releases."""

from collections.abc import Sequence

from tobbix.core.base.errors import InputError
from tobbix.core.products.describing import NoteKind, parse_sizes
from tobbix.core.products.finding import FoundCard
from tobbix.db.products import describing
from tobbix.db.products.describing import Description, Subject
from tobbix.db.products.finding import read_cards
from tobbix.db.products.loading import find_release
from tobbix.services.products.catalogue import Catalogue

MOST_SUBJECTS = 60
MOST_EXTRAS = 20


def read_description(catalogue: Catalogue, key: str) -> Description:
    """What is known of a release beside its sheet. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return describing.load_description(session, find_release(session, key, stub=True))


def add_note(catalogue: Catalogue, key: str, kind: NoteKind, text: str, line: str | None, number: str | None) -> None:
    """Note something of a release, a line or a card. Raises NotFound, InputError."""
    if not text.strip():
        raise InputError.at("text", "say what there is to know")
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True, stub=True)
        describing.add_note(session, release, kind, text.strip(), line, number)


def remove_note(catalogue: Catalogue, key: str, number: int) -> None:
    """Forget a note. Raises NotFound."""
    with catalogue.database.transaction() as session:
        describing.remove_note(session, find_release(session, key, lock=True, stub=True), number)


def put_sizes(catalogue: Catalogue, key: str, line: str, text: str) -> None:
    """Say how large a line's cards are, as typed. Raises NotFound, InputError."""
    checked = parse_sizes(text)
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True, stub=True)
        describing.put_sizes(session, describing.find_line_row(session, release, line), checked)


def put_extras(catalogue: Catalogue, key: str, fmt: str, extras: Sequence[str]) -> None:
    """Say what a format always holds beside its cards. Raises NotFound, InputError."""
    things = [" ".join(text.split()) for text in extras if text.strip()]
    if len(things) > MOST_EXTRAS:
        raise InputError.at("extras", f"are more than {MOST_EXTRAS}")
    with catalogue.database.transaction() as session:
        describing.put_extras(session, find_release(session, key, lock=True), fmt, things)


def put_debut(catalogue: Catalogue, key: str, line: str, number: str, debut: bool | None) -> None:
    """Say whether a card is the first of its subject. Raises NotFound."""
    with catalogue.database.transaction() as session:
        describing.put_debut(session, find_release(session, key, lock=True, stub=True), line, number, debut)


def list_subjects(catalogue: Catalogue, find: str, watched: bool) -> list[tuple[Subject, FoundCard | None]]:
    """Subjects whose name holds what is typed, those that are watched first, each with the earliest of its cards."""
    with catalogue.database.transaction() as session:
        found = describing.list_subjects(session, find, watched, MOST_SUBJECTS)
        cards = read_cards(session, [it.first for it in found if it.first is not None])
    return [(it, None if it.first is None else cards.get(it.first)) for it in found]


def watch_subject(catalogue: Catalogue, number: int, watched: bool) -> None:
    """Watch a subject, or no longer. Raises NotFound."""
    with catalogue.database.transaction() as session:
        describing.watch_subject(session, number, watched)
