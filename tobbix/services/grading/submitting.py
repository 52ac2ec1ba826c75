"""Submissions: things go away for a service, are billed, and come back, each of them in its own way."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.money import minor_units
from tobbix.core.holdings import dealing, register
from tobbix.core.holdings.states import Action, DocumentKind, DocumentState
from tobbix.db.base import Database
from tobbix.db.holdings.loading import load_document, load_things, things_of_parcel
from tobbix.db.holdings.saving import (
    add_charges,
    add_document,
    add_label,
    add_parcel,
    change_words,
    keep_change,
    keep_prediction,
    party_named,
    remove_label,
    touch_document,
)
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.products.identifying import Naming, identify_one
from tobbix.services.buying.booking import ChargeInput, to_home
from tobbix.services.products.valuing import home_on, revalue_items


@dataclass(frozen=True, slots=True)
class Expected:
    """What is expected of a thing when it goes away: the chances of grades, and days."""

    chances: Mapping[str, float]
    days: float | None = None


def send_away(
    database: Database,
    service: str,
    things: Sequence[int],
    day: date,
    expected: Mapping[int, Expected],
    carrier: str | None = None,
    due_on: date | None = None,
) -> int:
    """Things go to a grader, or for a signature or a repair; what is expected of them is kept. The submission's
    document. Raises NotFound, Conflict, InputError.
    """
    with database.transaction() as session:
        chosen = load_things(session, things)
        text = f"sent to {service}: {len(chosen)} of them" if len(chosen) > 3 else (
            f"sent to {service}: {', '.join(thing.name for thing in chosen)}"
        )  # fmt: skip
        party = party_named(session, service, "grader")
        document = add_document(session, DocumentKind.SUBMISSION, day, text, party, DocumentState.SENT)
        keep_change(session, dealing.send_away(chosen, day, text[:500]), document)
        add_parcel(session, document, "out", things, carrier=carrier, sent_on=day, due_on=due_on)
        for number, said in expected.items():
            if abs(sum(said.chances.values()) - 1) > 1e-6:
                raise InputError.at(f"expected.{number}", "the chances must add up to 1")
            keep_prediction(session, number, document, "grade", day, chances=dict(said.chances))
            if said.days is not None:
                keep_prediction(session, number, document, "days", day, estimate=said.days)
        return document


def bill(database: Database, document: int, charge: ChargeInput, over: Sequence[int] | None = None) -> None:
    """A charge of a submission, over all its things or some (their numbers): to the cent. Rules C-15 and C-25.

    Raises NotFound, Conflict, InputError.
    """
    bill_all(database, document, [(charge, over)])


def bill_all(database: Database, document: int, charges: Sequence[tuple[ChargeInput, Sequence[int] | None]]) -> None:
    """Several charges of a submission, all or none. Raises NotFound, Conflict, InputError with its place."""
    if not charges:
        raise InputError.at("charges", "say at least one")
    with database.transaction() as session:
        home, submission = load_preferences(session).currency, load_document(session, document)
        numbers = things_of_parcel(session, document)
        for at, (charge, over) in enumerate(charges):
            if not set(over or ()) <= set(numbers) or over == []:
                raise InputError.at(f"charges[{at}].over", "must name things of this submission")
            found = to_home(session, charge, home, f"charges[{at}]." if len(charges) > 1 else "")
            text = f"{charge.kind}: {submission.text}"[:500]
            change = dealing.bill_service(
                load_things(session, numbers), over or numbers, found.line(home), charge.day, text, minor_units(home)
            )  # fmt: skip
            add_charges(session, document, keep_change(session, change, document), [found.charge()])


@dataclass(frozen=True, slots=True)
class CameBack:
    """How a thing came back: with a label, or refused or damaged, in words, perhaps in another condition or as another
    version (signed, say); or it was ``lost``."""

    item: int
    grade: str | None = None
    certificate: str | None = None
    subgrades: Mapping[str, str] | None = None
    words: str = ""
    condition: str | None = None
    naming: Naming | None = None
    lost: bool = False


def come_back(
    database: Database, document: int, came: Sequence[CameBack], day: date, tracking: str | None = None
) -> None:
    """Things of a submission are back in one parcel, each as it came, or lost; when none is away any more it is done.
    Labels are added to what was there before. Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        submission = load_document(session, document)
        if submission.state is not DocumentState.SENT:
            raise Conflict("this submission is not away")
        grader = party_named(session, submission.party, "grader") or 0
        things = {thing.key: thing for thing in load_things(session, [said.item for said in came])}
        for said in came:  # each by itself, since each may be taken back by itself
            thing = things[said.item]
            words = "lost" if said.lost else f"graded {said.grade}" if said.grade else said.words or "back"
            text = f"{words}: {thing.name}"[:500]
            if said.lost:
                change = register.take_out([thing], Action.LOSE, day, text)
            else:
                change = dealing.come_back([thing], day, text)
            entry = keep_change(session, change, document)
            if said.grade is not None:
                add_label(session, said.item, grader, said.grade, day, entry, said.certificate, said.subgrades)
            changed: dict[str, Any] = {} if said.condition is None else {"condition": said.condition}
            if said.naming is not None:
                changed |= identify_one(session, said.naming).columns()
            if changed:
                change_words(session, said.item, changed, day)
        arrived = [said.item for said in came if not said.lost]
        if arrived:
            add_parcel(session, document, "in", arrived, received_on=day, tracking=tracking)
        revalue_items(session, home_on(session, day), list(things))
        left = [thing for thing in load_things(session, things_of_parcel(session, document)) if thing.state == "away"]
        touch_document(session, document, DocumentState.SENT if left else DocumentState.DONE)


def crack(database: Database, number: int, day: date) -> None:
    """A card is taken out of its holder; its label stays on record as one that was cracked off.

    Raises NotFound, Conflict.
    """
    with database.transaction() as session:
        thing = load_things(session, [number])[0]
        text = f"cracked out: {thing.name}"[:500]
        document = add_document(session, DocumentKind.CORRECTION, day, text)
        remove_label(session, number, keep_change(session, dealing.crack(thing, day, text), document))
        revalue_items(session, home_on(session, day), [number])


def make_good(database: Database, document: int, party: str, amount: Decimal, day: date) -> None:
    """What a friend is owed for a card that was lost on the way (money at home). Raises NotFound, Conflict where
    nothing was posted, InputError."""
    with database.transaction() as session:
        submission = load_document(session, document)
        if submission.kind is not DocumentKind.SUBMISSION:
            raise NotFound("there is no such submission")
        if submission.state not in (DocumentState.SENT, DocumentState.DONE):
            raise Conflict("this submission was not posted")
        units = minor_units(load_preferences(session).currency)
        if not 0 < amount <= 99_999_999 or amount != round(amount, units):
            raise InputError.at("amount", f"must be an amount over 0, with at most {units} decimals")
        found = party_named(session, party, "friend") or 0
        keep_change(session, dealing.make_good(found, amount, day, f"made good to {party}"), document)
