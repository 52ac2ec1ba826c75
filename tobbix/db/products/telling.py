"""What versions show, and how to tell them: for identifying a card."""

from collections.abc import Sequence

from sqlalchemy import or_, select, text
from sqlalchemy.orm import Session

from tobbix.core.products.describing import CardSize, NoteKind, size_of
from tobbix.core.products.identifying import Candidate
from tobbix.db.products.tables import LineSizeRow, ReleaseNoteRow

_MEASURES = ("width", "height", "thickness", "weight", "first", "last")
_SHOWN = """
    select v.id, r.key, concat_ws(' ', r.name, r.series, r.year), r.year, l.key, l.name, c.number, v.variant, c.subject,
        l.print_run, l.id, coalesce(c.debut, false),
        exists (select from card_subject cs join subject s on s.id = cs.subject_id
            where cs.card_id = c.id and s.watched)
    from unnest(cast(:versions as bigint[])) with ordinality as wanted (id, place)
        join version v on v.id = wanted.id join card c on c.id = v.card_id join line l on l.id = v.line_id
        join release r on r.id = l.release_id
    order by wanted.place
"""


def load_candidates(session: Session, versions: Sequence[int]) -> list[Candidate]:
    """What some versions show, in their order, with the notes on how to tell them or their line."""
    rows = session.execute(text(_SHOWN), {"versions": list(versions)}).all()
    lines = {row[10] for row in rows}
    sizes: dict[int, list[CardSize]] = {}
    for size in session.scalars(select(LineSizeRow).where(LineSizeRow.line_id.in_(lines)).order_by(LineSizeRow.id)):
        sizes.setdefault(size.line_id, []).append(CardSize(*(getattr(size, name) for name in _MEASURES)))
    notes = session.scalars(
        select(ReleaseNoteRow)
        .where(ReleaseNoteRow.kind == NoteKind.TELLING.value)
        .where(or_(ReleaseNoteRow.version_id.in_(versions), ReleaseNoteRow.line_id.in_(lines)))
        .order_by(ReleaseNoteRow.id)
    ).all()
    return [
        Candidate(
            version=row[0], release=row[1], release_title=row[2], year=row[3], line=row[4], line_name=row[5],
            number=row[6], variant=row[7], subject=row[8], print_run=row[9],
            size=size_of(row[6], sizes.get(row[10], [])),
            telling=tuple(
                it.text for it in notes if row[0] == it.version_id or (it.version_id is None and it.line_id == row[10])
            ),
            debut=row[11], watched=row[12],
        )
        for row in rows
    ]  # fmt: skip
