"""What graders say of submissions: how far they are, what they ask, and the grades that cards come back with."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.grading.graders import GraderProfile
from tobbix.db.base import Session
from tobbix.db.grading import submissions
from tobbix.db.grading.profiles import find_grader
from tobbix.gateways.ports import CardSent, FormSent, GraderAnswer, GraderService
from tobbix.services.grading.submitting import CameBack, come_back
from tobbix.services.products.catalogue import Catalogue


@dataclass(frozen=True, eq=False)
class News:
    """What a grader says, by the things that its lines are: grades and bills to be looked at and taken in."""

    answer: GraderAnswer
    items: tuple[int, ...]


def ask_grader(catalogue: Catalogue, graders: Sequence[GraderService], document: int, on: date | None) -> News:
    """Ask a grader how far a submission is; its stages and question are kept. ``on``: a day further on, which a
    simulated grader can be asked about. Raises NotFound, Conflict for a grader that cannot be asked, Busy, NoAnswer."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = submissions.find_submission(session, document)
        grader = find_grader(session, stored.grader)
        shows = _shown(session, [it.item for it in stored.cards], grader.profile)
    if stored.sent_on is None:
        raise Conflict("it is not posted yet")
    service = next((it for it in graders if it.profile.name == grader.profile.name), None)
    if service is None:
        raise Conflict(f"{grader.profile.name} cannot be asked from here; type what it says")
    cards = tuple(
        CardSent(at, it.item, it.tier, it.declared or Decimal(0), shows.get(it.item))
        for at, it in enumerate(stored.cards, 1)
    )
    form = FormSent(stored.reference or str(document), stored.sent_on, grader.profile, cards)
    answer = service.ask(form, max(on or today, stored.sent_on))
    with catalogue.database.transaction() as session:
        stages = [(stage.value, day) for stage, day in answer.stages]
        submissions.put_stages(session, document, stages, answer.question)
    return News(answer, tuple(it.item for it in stored.cards))


def _shown(session: Session, items: Sequence[int], profile: GraderProfile) -> dict[int, float]:
    """How good each card is, as far as what was expected of it says: for graders that are simulated."""
    said = submissions.expected_of(session, items)
    return {
        item: sum(float(grade) * chance for grade, chance in chances.items())
        for item, chances in said.items()
        if set(chances) <= set(profile.grades)
    }


def take_grades(
    catalogue: Catalogue, document: int, came: Sequence[CameBack], day: date, tracking: str | None = None
) -> None:
    """Cards of a submission are back in one parcel, each as it came. Raises NotFound, Conflict, InputError with every
    fault."""
    if day > catalogue.today():
        raise InputError.at("day", "is after today")
    with catalogue.database.transaction() as session:
        stored = submissions.find_submission(session, document)
        profile = find_grader(session, stored.grader).profile
    known = {it.item for it in stored.cards}
    faults = [Fault("cards", "names a card that is not in it") for it in came if it.item not in known][:1]
    for it in came:
        if it.grade is not None and it.grade not in profile.grades:
            faults.append(Fault(f"cards.{it.item}.grade", f"{profile.name} gives no {it.grade[:20]}"))
        if it.grade is None and not it.words.strip() and not it.lost:
            faults.append(Fault(f"cards.{it.item}.grade", "say its grade, or in words what came of it"))
        for part, given in (it.subgrades or {}).items():
            if given not in profile.grades:
                faults.append(Fault(f"cards.{it.item}.subgrades", f"{part}: {profile.name} gives no {given[:20]}"))
    certificates = [it.certificate for it in came if it.certificate]
    if len(set(certificates)) < len(certificates):
        faults.append(Fault("cards", "two cards have the same certificate number: one of them is read wrongly"))
    if not came:
        faults.append(Fault("cards", "say of at least one card what came of it"))
    if faults:
        raise InputError(faults)
    said = [replace(it, words=it.words.strip()) for it in came]
    come_back(catalogue.database, document, said, day, tracking)


def say_question(catalogue: Catalogue, document: int, question: str | None) -> None:
    """What a grader asks of a submission, as it was read in a letter; None: it was answered. Raises NotFound,
    Conflict."""
    with catalogue.database.transaction() as session:
        stored = submissions.find_submission(session, document)
        if stored.sent_on is None:
            raise Conflict("it is not posted yet")
        submissions.put_stages(session, document, stored.stages, (question or "").strip() or None)
