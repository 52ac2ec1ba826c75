"""Submissions as documents: drafted, posted, asked after, billed, back; what was planned beside what was billed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.base.results import Verdict
from tobbix.core.grading.graders import GraderProfile
from tobbix.core.grading.submissions import (
    BY_POST,
    BilledAgainstPlan,
    PlannedCard,
    PostClass,
    SubmissionPlan,
    bill_against_plan,
    explain_duty,
    honest_value,
    insurance_gap,
    is_late,
    plan_submission,
    state_alone,
    state_membership,
    state_plan,
    state_submission,
    state_submissions,
)
from tobbix.core.holdings import dealing
from tobbix.core.holdings.documents import Booked, Charge, ParcelSeen
from tobbix.core.holdings.states import ChargeKind, DocumentKind, DocumentState
from tobbix.core.holdings.states import State as ThingState
from tobbix.db.base import Session
from tobbix.db.grading import submissions
from tobbix.db.grading.profiles import find_grader, list_carriers
from tobbix.db.grading.submissions import StoredSubmission, SubmissionBrief
from tobbix.db.holdings.loading import booked_of, load_charges, load_document, load_things, parcels_of
from tobbix.db.holdings.saving import (
    add_document,
    add_parcel,
    forget_sending,
    keep_change,
    keep_prediction,
    touch_document,
)
from tobbix.services.grading.weighing import CardData, Weighing, at_home, chances_of, load_cards, weighing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on
from tobbix.services.stock.dividing import use_up

MOST_CARDS, YOU = 2_000, "you"


@dataclass(frozen=True, eq=False)
class SubmissionList:
    """All submissions, the newest first, with the days that each has been away and whether it is late."""

    rows: tuple[tuple[SubmissionBrief, int | None, bool], ...]
    currency: str
    verdict: Verdict


def list_submissions(catalogue: Catalogue) -> SubmissionList:
    """All submissions as they stand."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        found = submissions.list_submissions(session)
        currency = home_on(session, today).currency
    rows = tuple((it, days := _days_away(it, today), is_late(days, it.promised)) for it in found)
    away = [it for it, *_ in rows if it.state is DocumentState.SENT]
    verdict = state_submissions(
        sum(it.away for it in away), len(away), sum(late for *_, late in rows),
        [it.grader for it in away if it.question],
        sum(it.state is DocumentState.DRAFTED for it, *_ in rows),
    )  # fmt: skip
    return SubmissionList(rows, currency, verdict)


def _days_away(it: SubmissionBrief, today: date) -> int | None:
    return None if it.sent_on is None or it.state is not DocumentState.SENT else (today - it.sent_on).days


@dataclass(frozen=True, slots=True)
class CardSaid:
    """A card of a draft: its number, tier and declared value (money at home; None: the honest default)."""

    item: int
    tier: str
    declared: Decimal | None = None


def draft(catalogue: Catalogue, grader: int, cards: Sequence[CardSaid]) -> int:
    """Begin a submission; its document. Raises NotFound, Conflict, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = find_grader(session, grader)
        text = f"to {stored.profile.name}"
        document = add_document(
            session, DocumentKind.SUBMISSION, today, text, stored.party, DocumentState.DRAFTED
        )  # fmt: skip
        submissions.add_submission(session, document, grader)
        _put(session, document, stored.profile, cards)
        return document


@dataclass(frozen=True, slots=True)
class DraftSaid:
    """A draft as it is said: its cards in the order of the form, how the parcel goes, what the parcel back costs (of
    the grader's currency), and whether a membership is bought for it."""

    cards: tuple[CardSaid, ...]
    carrier: str | None = None
    post_class: str | None = None
    tracking: str | None = None
    back: Decimal = Decimal(0)
    membership: bool = False


def change_draft(catalogue: Catalogue, document: int, version: int, said: DraftSaid) -> None:
    """Say a draft anew. Raises NotFound, Conflict, InputError."""
    with catalogue.database.transaction() as session:
        stored = submissions.find_submission(session, document, version)
        _is_draft(session, document)
        if said.back < 0:
            raise InputError.at("back", "must not be negative")
        _put(session, document, find_grader(session, stored.grader).profile, said.cards)
        submissions.change_submission(
            session, document, carrier=said.carrier, post_class=said.post_class, tracking=said.tracking,
            back=said.back, membership=said.membership,
        )  # fmt: skip


def _is_draft(session: Session, document: int) -> None:
    if load_document(session, document).state is not DocumentState.DRAFTED:
        raise Conflict("this submission is posted; what went cannot be changed any more")


def _put(session: Session, document: int, profile: GraderProfile, cards: Sequence[CardSaid]) -> None:
    faults = [Fault(f"cards.{it.item}.tier", "is no tier of this grader") for it in cards if not profile.tier(it.tier)]
    faults += [
        Fault(f"cards.{it.item}.declared", "must not be negative")
        for it in cards
        if it.declared is not None and it.declared < 0
    ]
    numbers = [it.item for it in cards]
    if len(set(numbers)) < len(numbers):
        faults.append(Fault("cards", "names a card twice"))
    if len(cards) > MOST_CARDS:
        faults.append(Fault("cards", f"at most {MOST_CARDS:,} cards"))
    if faults:
        raise InputError(faults)
    things = load_things(session, numbers)
    gone = [it.name for it in things if it.state is not ThingState.HELD or it.count != 1]
    if gone:
        raise Conflict(f"{', '.join(gone)[:200]}: only a card that is here by itself can go")
    elsewhere = submissions.drafts_with(session, numbers, document)
    if elsewhere:
        names = ", ".join(it.name for it in things if it.key in elsewhere)
        raise Conflict(f"{names[:200]}: lies in another draft already")
    submissions.put_cards(session, document, [(it.item, it.tier, it.declared) for it in cards])


def drop_draft(catalogue: Catalogue, document: int, again: bool = False) -> None:
    """Give a draft up, or with ``again`` take it up once more. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        _is_draft(session, document)
        submissions.mark_submission(session, document, not again)


@dataclass(frozen=True, eq=False)
class SubmissionCard:
    """A card of a submission: as it is kept, its declared value with the honest default, the chances that are thought
    of it (as it was posted, or now), what its bills were (money; None: nothing yet), and what it is worth in the grade
    that came."""

    stored: submissions.StoredCard
    honest: Decimal | None
    declared: Decimal | None
    chances: Mapping[str, float]
    carried: Decimal | None
    value: Decimal | None


@dataclass(frozen=True, eq=False)
class SubmissionView:
    """A submission with its cards, plan and bill; ``refusal`` why it cannot be posted as it is. ``owed`` by friends;
    ``unexplained`` of a duty by the grader's profile (money at home; None: none was billed); whether a ``membership``
    pays, in words."""

    stored: StoredSubmission
    state: DocumentState
    day: date
    profile: GraderProfile
    cards: tuple[SubmissionCard, ...]
    plan: SubmissionPlan | None
    refusal: tuple[Fault, ...]
    gap: Decimal | None
    charges: tuple[Charge, ...]
    against: tuple[BilledAgainstPlan, ...]
    owed: tuple[tuple[str, Decimal], ...]
    booked: tuple[Booked, ...]
    parcels: tuple[ParcelSeen, ...]
    currency: str
    promised: int | None
    days_away: int | None
    unexplained: Decimal | None
    membership: str | None
    verdict: Verdict


def read_submission(catalogue: Catalogue, document: int) -> SubmissionView:
    """A submission as it stands. Rule C-25. Raises NotFound."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        return _view(session, document, today)


def _view(session: Session, document: int, today: date) -> SubmissionView:
    stored = submissions.find_submission(session, document)
    paper = load_document(session, document)
    grader = find_grader(session, stored.grader)
    profile = grader.profile
    by = weighing(session, stored.grader, None, today)
    numbers = [it.item for it in stored.cards]
    known = {it.card.item: it for it in load_cards(session, grader, by.home, numbers)}
    said = _expected(stored)
    carried = submissions.carried_by_card(session, document, numbers)
    cards = tuple(_card(it, known.get(it.item), by, said, carried) for it in stored.cards)
    plan: SubmissionPlan | None = None
    refusal: tuple[Fault, ...] = ()
    post = _post_class(session, stored)
    if paper.state is DocumentState.DRAFTED:
        plan, refusal = _try_plan(stored, cards, profile, by, post)
    charges = tuple(load_charges(session, [document]).get(document, ()))
    declared = [it.declared for it in cards if it.declared is not None]
    gap = None if post is None or len(declared) < len(cards) else insurance_gap(declared, post.insured_to)
    tiers = {it.tier for it in stored.cards}
    promised = max((it.days for it in profile.tiers if it.id in tiers and it.days is not None), default=None)
    days = None if stored.sent_on is None or paper.state is not DocumentState.SENT else (today - stored.sent_on).days
    came = sum(it.stored.grade is not None for it in cards)
    billed = sum((it.home for it in charges), Decimal(0))
    if plan is not None:
        verdict = state_plan(plan, len(cards), by.home.currency)
    else:
        verdict = state_submission(
            paper.state.value, profile.name, len(cards), came, sum(it.stored.state == "away" for it in cards),
            _gems(cards, profile), days, promised, stored.question, billed, _worth(cards), by.home.currency,
            profile.grades_cards,
        )  # fmt: skip
    return SubmissionView(
        stored, paper.state, paper.day, profile, cards, plan, refusal, gap, charges, _against(stored, charges),
        tuple(submissions.owed_by_owner(session, document)), tuple(booked_of(session, document)),
        tuple(parcels_of(session, document)), by.home.currency,
        promised, days, _unexplained(charges, by), state_membership(profile), verdict,
    )  # fmt: skip


def _unexplained(charges: Sequence[Charge], by: Weighing) -> Decimal | None:
    of_kind = {it.kind: it for it in bill_against_plan((), [(it.kind, it.home) for it in charges])}
    duty, service = (of_kind.get(kind) for kind in (ChargeKind.DUTY, ChargeKind.SERVICE))
    if duty is None or duty.billed is None or service is None or service.billed is None:
        return None
    profile = by.grader.profile
    return explain_duty(duty.billed, service.billed, profile.duty_share, at_home(by.home, profile.duty_fixed, profile))


def weigh_alone(catalogue: Catalogue, document: int, flat: Decimal) -> str:
    """Sending a draft by oneself against a group at a flat price a card (money at home), in words. Rule C-25. Raises
    NotFound, Conflict for what has no plan."""
    view = read_submission(catalogue, document)
    if view.plan is None:
        raise Conflict("only a draft that could go as it is can be weighed against a group")
    return state_alone(view.plan, len(view.cards), flat, view.currency)


def _expected(stored: StoredSubmission) -> Mapping[str, Any]:
    return {} if stored.plan is None else stored.plan.get("chances", {})


def _card(
    it: submissions.StoredCard, data: CardData | None, by: Weighing, said: Mapping[str, Any],
    carried: Mapping[int, Decimal],
) -> SubmissionCard:  # fmt: skip
    chances: Mapping[str, float] = said.get(str(it.item), {})
    honest = None
    if data is not None:
        chances = chances or chances_of(data, by)
        honest = honest_value(chances, data.values, data.raw)
    declared = it.declared if it.declared is not None else honest
    value = None if it.grade is None else it.worth
    return SubmissionCard(it, honest, declared, chances, carried.get(it.item), value)


def _gems(cards: Sequence[SubmissionCard], profile: GraderProfile) -> int:
    return sum(it.stored.grade in profile.grades[:1] for it in cards)


def _worth(cards: Sequence[SubmissionCard]) -> tuple[int, Decimal, Decimal] | None:
    """Of how many own cards that came back the worth and the bill are known, and both (money)."""
    known = [(it.value, it.carried) for it in cards if it.value is not None and it.carried is not None]
    if not known:
        return None
    return len(known), sum((value for value, _ in known), Decimal(0)), sum((cost for _, cost in known), Decimal(0))


def _post_class(session: Session, stored: StoredSubmission) -> PostClass | None:
    for carrier in list_carriers(session):
        if carrier.profile.name == stored.carrier:
            return next((it for it in carrier.profile.classes if it.id == stored.post_class), None)
    return None


def _try_plan(
    stored: StoredSubmission, cards: Sequence[SubmissionCard], profile: GraderProfile, by: Weighing,
    post: PostClass | None,
) -> tuple[SubmissionPlan | None, tuple[Fault, ...]]:  # fmt: skip
    unsaid = tuple(
        Fault(f"cards.{it.stored.item}.declared", "say what it is worth: neither a price raw nor graded is known")
        for it in cards
        if it.declared is None
    )
    planned = [
        PlannedCard(it.stored.item, it.stored.owner_name or YOU, it.stored.tier, it.declared or Decimal(0))
        for it in cards
    ]
    rate = None if profile.currency == by.home.currency else by.home.convert(Decimal(1), profile.currency)
    try:
        plan = plan_submission(
            planned, profile, rate, by.home.currency, post, stored.back, stored.membership
        )  # fmt: skip
    except InputError as error:
        return None, (*unsaid, *error.faults)
    return (replace(plan, gap=None) if unsaid else plan), unsaid


def _against(stored: StoredSubmission, charges: Sequence[Charge]) -> tuple[BilledAgainstPlan, ...]:
    planned = [(ChargeKind(kind), Decimal(it)) for kind, _, it in (stored.plan or {}).get("parts", ())]
    return bill_against_plan(planned, [(it.kind, it.home) for it in charges])


def post_submission(
    catalogue: Catalogue, document: int, version: int, day: date, tracking: str | None,
    supplies: Sequence[tuple[int, int]] = (),
) -> None:  # fmt: skip
    """A draft is posted: its cards are away from now on, what is expected of them is kept, so many of the supplies
    (number, count) are used. Raises NotFound, Conflict, InputError."""
    today = catalogue.today()
    if day > today:
        raise InputError.at("day", "is after today")
    with catalogue.database.transaction() as session:
        stored = submissions.find_submission(session, document, version)
        _is_draft(session, document)
        view = _view(session, document, today)
        if view.refusal or view.plan is None:
            raise InputError(list(view.refusal) or [Fault("cards", "put at least one card in")])
        numbers = [it.stored.item for it in view.cards]
        things = load_things(session, numbers)
        text = f"sent to {view.profile.name}: {len(things)} {'card' if len(things) == 1 else 'cards'}"
        forget_sending(session, document)
        keep_change(session, dealing.send_away(things, day, text), document)
        touch_document(session, document, DocumentState.SENT, text=text, day=day)
        due = None if view.promised is None else day + timedelta(view.promised + BY_POST)
        add_parcel(
            session, document, "out", numbers, carrier=stored.carrier, tracking=tracking, sent_on=day, due_on=due
        )  # fmt: skip
        for it in view.cards:
            if it.chances:
                keep_prediction(session, it.stored.item, document, "grade", day, chances=dict(it.chances))
            days = view.profile.tier(it.stored.tier)
            if days is not None and days.days is not None:
                keep_prediction(session, it.stored.item, document, "days", day, estimate=float(days.days))
        if supplies:
            use_up(session, document, supplies, day, text)
        plan = {
            "total": f"{view.plan.cost.total:f}",
            "parts": [[it.kind.value, it.name, f"{_cents(it.amount):f}"] for it in view.plan.parts],
            "chances": {str(it.stored.item): dict(it.chances) for it in view.cards},
        }
        submissions.put_cards(session, document, [(it.stored.item, it.stored.tier, it.declared) for it in view.cards])
        submissions.change_submission(
            session, document, plan=plan, tracking=tracking, sent_on=day,
            reference=f"{view.profile.name[:2].upper()}-{document}",
        )  # fmt: skip


def _cents(amount: Fraction) -> Decimal:
    return (Decimal(amount.numerator) / Decimal(amount.denominator)).quantize(Decimal("0.01"))


def unpost(session: Session, document: int) -> None:
    """The sending of a submission was taken back: it is a draft again."""
    forget_sending(session, document)
    submissions.change_submission(
        session, document, plan=None, reference=None, sent_on=None, question=None, stages=[]
    )  # fmt: skip
    touch_document(session, document, DocumentState.DRAFTED)
