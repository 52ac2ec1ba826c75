"""Stacks: split one, join like ones, use a supply up."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing, register
from tobbix.core.holdings.allocation import share_out_by_count
from tobbix.core.holdings.states import DocumentKind
from tobbix.db.base import Database, Session
from tobbix.db.holdings.loading import differing_words, load_things
from tobbix.db.holdings.saving import add_document, keep_change, split_off
from tobbix.db.installation.keeping import load_preferences
from tobbix.services.products.valuing import home_on, revalue_items, said_worth, say_worth


def split_stack(database: Database, number: int, counts: Sequence[int], day: date) -> list[int]:
    """Take so many of a stack each as things of their own; their numbers. What the owner said of the worth of all is
    shared out by count. Rule C-15. Raises NotFound, Conflict, InputError."""
    with database.transaction() as session:
        thing = load_things(session, [number])[0]
        units = minor_units(load_preferences(session).currency)
        text = f"split: {', '.join(str(count) for count in counts)} of {thing.count} x {thing.name}"
        change = register.split(thing, counts, day, text, units)
        made = [split_off(session, number, count) for count in counts]
        parted = [replace(t, key=key) for t, key in zip(change.things[1:], made, strict=True)]
        change = replace(change, things=(change.things[0], *parted))
        entry = keep_change(session, change, add_document(session, DocumentKind.CORRECTION, day, text))
        _share_said(session, number, [thing.count - sum(counts), *counts], [number, *made], day, entry)
        revalue_items(session, home_on(session, day), [number, *made])
        return made


def _share_said(
    session: Session, number: int, counts: Sequence[int], things: Sequence[int], day: date, entry: int
) -> None:
    said = said_worth(session, number)
    if said is None:
        return
    home = home_on(session, day)
    shares = share_out_by_count(said[0], counts, minor_units(home.currency))
    say_worth(session, home, list(zip(things, shares, strict=True)), said[1], entry=entry)


def join_stacks(database: Database, numbers: Sequence[int], day: date) -> None:
    """Put like things together on the first of them. Raises NotFound, InputError, or Conflict if they are not alike,
    which says in what."""
    with database.transaction() as session:
        things = load_things(session, numbers)
        unlike = differing_words(session, numbers)
        if unlike:
            raise Conflict(f"these differ in {', '.join(unlike)}; only like things can be joined")
        text = f"joined: {sum(t.count for t in things)} x {things[0].name}"
        change = register.join(things, day, text)
        said = [said_worth(session, number) for number in numbers]
        entry = keep_change(session, change, add_document(session, DocumentKind.CORRECTION, day, text))
        home = home_on(session, day)
        known = [worth for worth in said if worth is not None]
        if known and len(known) == len(numbers):
            whole = sum((amount for amount, _ in known), Decimal(0))
            say_worth(session, home, [(numbers[0], whole)], min(on for _, on in known), entry=entry)
        elif known:  # of some of them it was said, of others not: of all together nothing is
            say_worth(session, home, [(numbers[0], None)], day, entry=entry)
        revalue_items(session, home, numbers)


def use_up(session: Session, document: int, used: Sequence[tuple[int, int]], day: date, what: str) -> None:
    """Use so many of some supplies for a document. Raises NotFound, Conflict, InputError."""
    units = minor_units(load_preferences(session).currency)
    for supply, (_, count) in zip(load_things(session, [number for number, _ in used]), used, strict=True):
        text = f"used for {what}: {count} x {supply.name}"
        keep_change(session, dealing.use_up(supply, count, day, text, units), document)
