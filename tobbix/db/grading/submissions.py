"""Submissions with their cards in the store."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import delete, text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.holdings.states import DocumentState
from tobbix.db.grading.tables import SubmissionCardRow, SubmissionRow


@dataclass(frozen=True, slots=True)
class StoredCard:
    """A card of a submission at its place of the form: its name, state, owner (number and name of the party, None:
    one's own), tier, declared value (money at home; None: the honest default), the newest label from this submission,
    if it is back, whether that was cracked off since, and what the card is worth now (money at home; None: not
    known)."""

    item: int
    name: str
    state: str
    owner: int | None
    owner_name: str | None
    tier: str
    declared: Decimal | None
    grade: str | None
    certificate: str | None
    subgrades: Mapping[str, str] | None
    label_day: date | None
    cracked: bool
    worth: Decimal | None


@dataclass(frozen=True, slots=True)
class StoredSubmission:
    """A submission beside its document."""

    document: int
    grader: int
    version: int
    carrier: str | None
    post_class: str | None
    tracking: str | None
    back: Decimal
    membership: bool
    plan: Mapping[str, Any] | None
    reference: str | None
    stages: tuple[tuple[str, date], ...]
    question: str | None
    sent_on: date | None
    cards: tuple[StoredCard, ...]


def is_submission(session: Session, document: int) -> bool:
    """Whether a document is a submission that was drafted here."""
    return session.get(SubmissionRow, document) is not None


def add_submission(session: Session, document: int, grader: int) -> None:
    """A submission for a document."""
    session.add(
        SubmissionRow(document_id=document, grader_id=grader, version=1, back=Decimal(0), membership=False, stages=[])
    )
    session.flush()


_CARDS = """
    select c.item_id, i.name, i.state, i.owner_id, p.name, c.tier, c.declared, l.grade, l.certificate, l.subgrades,
        l.day, coalesce(l.cracked, false), h.amount
    from submission_card c join item i on i.id = c.item_id left join party p on p.id = i.owner_id
        left join held_value h on h.item_id = i.id
        left join lateral (select b.grade, b.certificate, b.subgrades, b.day,
            b.removed_by_id is not null and not exists (
                select from entry r where r.reverses_id = b.removed_by_id) as cracked from label b
            join entry e on e.id = b.entry_id
            where b.item_id = i.id and e.document_id = c.document_id
                and not exists (select from entry x where x.reverses_id = e.id)
            order by b.id desc limit 1) l on true
    where c.document_id = :document order by c.position, c.item_id
"""


def find_submission(session: Session, document: int, version: int | None = None) -> StoredSubmission:
    """A submission with its cards. Raises NotFound, or Conflict if it was changed since ``version``."""
    row = session.get(SubmissionRow, document, with_for_update=version is not None)
    if row is None:
        raise NotFound("there is no such submission")
    if version is not None and row.version != version:
        raise Conflict("this submission was changed meanwhile; look again, then retry")
    cards = tuple(StoredCard(*it) for it in session.execute(text(_CARDS), {"document": document}))
    return StoredSubmission(
        row.document_id, row.grader_id, row.version, row.carrier, row.post_class, row.tracking, row.back,
        row.membership, row.plan, row.reference,
        tuple((stage, date.fromisoformat(day)) for stage, day in row.stages), row.question, row.sent_on, cards,
    )  # fmt: skip


def change_submission(session: Session, document: int, **said: Any) -> None:
    """Change what is said of a submission, which is another version then."""
    row = session.get_one(SubmissionRow, document)
    for name, value in said.items():
        setattr(row, name, value)
    row.version += 1
    session.flush()


def put_stages(session: Session, document: int, stages: Sequence[tuple[str, date]], question: str | None) -> None:
    """Keep the grader's stages of a submission, and what it asks."""
    said = [[stage, day.isoformat()] for stage, day in stages]
    change_submission(session, document, stages=said, question=question)


def put_cards(session: Session, document: int, cards: Sequence[tuple[int, str, Decimal | None]]) -> None:
    """The cards of a submission in the order of the form, each with its tier and declared value."""
    session.execute(delete(SubmissionCardRow).where(SubmissionCardRow.document_id == document))
    session.add_all(
        SubmissionCardRow(document_id=document, item_id=item, position=at, tier=tier, declared=declared)
        for at, (item, tier, declared) in enumerate(cards)
    )
    session.flush()


def mark_submission(session: Session, document: int, removed: bool) -> None:
    """Give a draft up, or take it up again. Raises NotFound."""
    row = session.get(SubmissionRow, document)
    if row is None:
        raise NotFound("there is no such submission")
    row.removed_at = datetime.now(UTC) if removed else None


def drafts_with(session: Session, items: Sequence[int], but: int | None = None) -> dict[int, int]:
    """In which draft each of some things lies, by its document."""
    rows = session.execute(
        text(
            "select c.item_id, c.document_id from submission_card c join submission s using (document_id) "
            "join document d on d.id = c.document_id where d.state = 'drafted' and s.removed_at is null "
            "and c.item_id = any(:items) and c.document_id is distinct from cast(:but as bigint)"
        ),
        {"items": list(items), "but": but},
    )
    return dict(rows.all())


@dataclass(frozen=True, slots=True)
class SubmissionBrief:
    """A submission in brief: its document, grader, state, how many cards and how many of these are a friend's or still
    away, declared and charged (money at home), when it was posted and the grader's last stage, and what it asks."""

    document: int
    grader: str
    state: DocumentState
    cards: int
    friends: int
    away: int
    charged: Decimal
    planned: Decimal | None
    promised: int | None
    sent_on: date | None
    stage: str | None
    stage_day: date | None
    question: str | None
    day: date


_LIST = """
    select d.id, p.name, d.state, d.day, s.stages, s.sent_on, s.question, s.plan, g.profile,
        count(c.item_id), count(c.item_id) filter (where i.owner_id is not null),
        count(c.item_id) filter (where i.state = 'away' and d.state = 'sent'), array_agg(distinct c.tier),
        coalesce((select sum(ch.home) from charge ch join entry e on e.id = ch.entry_id where ch.document_id = d.id
            and not exists (select from entry x where x.reverses_id = e.id)), 0)
    from submission s join document d on d.id = s.document_id join grader g on g.id = s.grader_id
        join party p on p.id = g.party_id left join submission_card c on c.document_id = d.id
        left join item i on i.id = c.item_id
    where s.removed_at is null group by d.id, p.name, s.document_id, g.id order by d.id desc
"""


def list_submissions(session: Session) -> list[SubmissionBrief]:
    """All submissions, the newest first, in one query."""
    found = []
    rows = session.execute(text(_LIST))
    for number, grader, state, day, stages, sent, asks, plan, profile, cards, friends, away, tiers, charged in rows:
        promised = [it["days"] for it in profile["tiers"] if it["id"] in (tiers or ()) and it["days"] is not None]
        found.append(
            SubmissionBrief(
                number, grader, DocumentState(state), cards, friends, away, charged,
                None if plan is None else Decimal(plan["total"]), max(promised, default=None), sent,
                stages[-1][0] if stages else None, date.fromisoformat(stages[-1][1]) if stages else None, asks, day,
            )
        )  # fmt: skip
    return found


_OWED = """
    select p.name, sum(t.amount) from posting t join entry e on e.id = t.entry_id join party p on p.id = t.party_id
    where e.document_id = :document and t.account in ('receivable', 'payable') group by p.name order by p.name
"""


def owed_by_owner(session: Session, document: int) -> list[tuple[str, Decimal]]:
    """What each friend owes for a submission (money at home)."""
    return [tuple(row) for row in session.execute(text(_OWED), {"document": document})]


_CARRIED = """
    select v.item_id, coalesce(sum(v.share), 0) from (
        select m.item_id, m.basis - lag(m.basis) over (partition by m.item_id order by m.id) as share, e.document_id,
            e.event, e.id as entry
        from item_event m join entry e on e.id = m.entry_id
        where m.item_id = any(:items)) v
    where v.document_id = :document and v.event = 'service'
        and not exists (select from entry x where x.reverses_id = v.entry)
    group by v.item_id
"""


def carried_by_card(session: Session, document: int, items: Sequence[int]) -> dict[int, Decimal]:
    """What of a submission's bills each of one's own cards carries (money at home)."""
    asked = {"document": document, "items": list(items)}
    return dict(session.execute(text(_CARRIED), asked).all())


_EXPECTED = """
    select distinct on (item_id) item_id, chances from prediction where what = 'grade' and item_id = any(:items)
    order by item_id, id desc
"""


def expected_of(session: Session, items: Sequence[int]) -> dict[int, dict[str, float]]:
    """The chances of grades that were kept last of some things."""
    return dict(session.execute(text(_EXPECTED), {"items": list(items)}).all())
