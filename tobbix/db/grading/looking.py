"""What was measured on photos, and what is expected of cards, in the store."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict
from tobbix.core.grading.centering import Centering, Segment
from tobbix.core.holdings.documents import Side
from tobbix.core.sorting.flaws import Flaw
from tobbix.core.sorting.flaws import Side as FaceOrBack
from tobbix.db.grading.tables import MeasurementRow, PreGradeRow
from tobbix.db.holdings.documents import PhotoRow
from tobbix.db.holdings.tables import ItemRow
from tobbix.db.products.tables import ReleaseRow
from tobbix.db.sorting.judging import to_flaw
from tobbix.db.sorting.tables import FlawRow


@dataclass(frozen=True, eq=False)
class StoredMeasurement:
    """What was measured on a photo of a side: the lines and what follows, or why there is nothing."""

    photo: int
    item: int
    side: Side
    version: int
    edges: tuple[Segment, ...]
    frame: tuple[Segment, ...]
    by_hand: bool
    found: Centering | None
    refused: str | None


def find_measurement(session: Session, photo: int) -> StoredMeasurement | None:
    """What was measured on a photo; None: nobody did."""
    found = list(_measured(session, MeasurementRow.photo_id == photo))
    return found[0] if found else None


def measurements_of(session: Session, items: Iterable[int]) -> dict[tuple[int, Side], StoredMeasurement]:
    """What was measured last of each side of some things."""
    return {(it.item, it.side): it for it in _measured(session, PhotoRow.item_id.in_(list(items)))}


def _measured(session: Session, which: Any) -> Iterable[StoredMeasurement]:
    query = (
        select(MeasurementRow, PhotoRow.item_id, PhotoRow.side)
        .join(PhotoRow, PhotoRow.id == MeasurementRow.photo_id)
        .where(which)
        .order_by(PhotoRow.id)
    )
    for row, item, side in session.execute(query):
        edges, frame = (_segments((row.lines or {}).get(name, ())) for name in ("edges", "frame"))
        found = None if row.found is None else _to_centering(row.found)
        yield StoredMeasurement(
            row.photo_id, item, Side(side), row.version, edges, frame, row.by_hand, found, row.refused
        )


def _segments(said: Iterable[Sequence[float]]) -> tuple[Segment, ...]:
    return tuple(((x1, y1), (x2, y2)) for x1, y1, x2, y2 in said)


def put_measurement(
    session: Session, photo: int, version: int, edges: Sequence[Segment], frame: Sequence[Segment], by_hand: bool,
    found: Centering | None, refused: str | None,
) -> int:  # fmt: skip
    """Keep what was measured on a photo; the version of it. Raises Conflict."""
    row = session.get(MeasurementRow, photo, with_for_update=True) or MeasurementRow(photo_id=photo, version=0)
    if row.version != version:
        raise Conflict("this picture was measured anew meanwhile; look again, then retry")
    row.version += 1
    row.lines = None if found is None else {
        name: [[*start, *end] for start, end in lines] for name, lines in (("edges", edges), ("frame", frame))
    }  # fmt: skip
    row.by_hand, row.refused = by_hand, refused
    row.found = None if found is None else {
        name: getattr(found, name)
        for name in ("left_right", "top_bottom", "uncertainty", "rotation", "corners", "frame", "size", "tilt")
    }  # fmt: skip
    session.add(row)
    session.flush()
    return row.version


def _to_centering(said: Mapping[str, Any]) -> Centering:
    kept: dict[str, Any] = {name: tuple(said[name]) for name in ("left_right", "top_bottom", "uncertainty")}
    kept |= {name: tuple(tuple(point) for point in said[name]) for name in ("corners", "frame")}
    size = None if said["size"] is None else tuple(said["size"])
    return Centering(**kept, rotation=said["rotation"], size=size, tilt=said["tilt"])


def looked_at(
    session: Session, releases: Iterable[str]
) -> dict[str, tuple[dict[int, list[Flaw]], set[tuple[int, FaceOrBack]]]]:
    """Of each of some releases: the flaws that were marked on its cards, and which sides of them were measured."""
    keys = list(releases)
    found = {key: (dict[int, list[Flaw]](), set[tuple[int, FaceOrBack]]()) for key in keys}
    of_release = (ItemRow.release_id == ReleaseRow.id) & ReleaseRow.key.in_(keys)
    marked = select(FlawRow, ReleaseRow.key).join(ItemRow, ItemRow.id == FlawRow.item_id).join(ReleaseRow, of_release)
    for row, key in session.execute(marked.order_by(FlawRow.id)):
        found[key][0].setdefault(row.item_id, []).append(to_flaw(row))
    measured = (
        select(PhotoRow.item_id, PhotoRow.side, ReleaseRow.key)
        .join(MeasurementRow, MeasurementRow.photo_id == PhotoRow.id)
        .join(ItemRow, ItemRow.id == PhotoRow.item_id)
        .join(ReleaseRow, of_release)
        .where(MeasurementRow.refused.is_(None), PhotoRow.side.in_([Side.FRONT.value, Side.BACK.value]))
    )
    for item, side, key in session.execute(measured):
        found[key][1].add((item, FaceOrBack(side)))
    return found


@dataclass(frozen=True, slots=True)
class SaidGrade:
    """The chances of grades that the owner said of a thing at a grader, with their version."""

    chances: Mapping[str, float]
    version: int
    day: date


def said_grades(session: Session, items: Sequence[int], grader: int) -> dict[int, SaidGrade]:
    """What the owner said of some things at a grader."""
    query = select(PreGradeRow).where(PreGradeRow.item_id.in_(items), PreGradeRow.grader_id == grader)
    return {row.item_id: SaidGrade(row.chances, row.version, row.day) for row in session.scalars(query)}


def put_said_grade(
    session: Session, item: int, grader: int, version: int, chances: Mapping[str, float] | None, day: date
) -> None:
    """Keep the chances that the owner says; None: what follows from the pictures again. Raises Conflict."""
    query = select(PreGradeRow).where(PreGradeRow.item_id == item, PreGradeRow.grader_id == grader)
    row = session.scalar(query.with_for_update())
    if (0 if row is None else row.version) != version:
        raise Conflict("these chances were changed meanwhile; look again, then retry")
    if chances is None:
        if row is not None:
            session.delete(row)
    else:
        row = row or PreGradeRow(item_id=item, grader_id=grader, version=0)
        row.version, row.chances, row.day = row.version + 1, dict(chances), day
        session.add(row)
    session.flush()


_CANDIDATES = """
    select i.id, i.name, i.version_id, coalesce(i.condition, :usual), i.owner_id, r.key,
        concat_ws(' ', r.name, r.series, r.year), l.key, c.number, i.never_for_sale,
        (select k.document_id from submission_card k join submission s on s.document_id = k.document_id
            join document d on d.id = k.document_id
            where k.item_id = i.id and d.state = 'drafted' and s.removed_at is null limit 1)
    from item i join version v on v.id = i.version_id join card c on c.id = v.card_id
        join line l on l.id = i.line_id join release r on r.id = i.release_id
    where i.state = 'held' and i.kind = 'card' and i.count = 1
        and not exists (select from label b where b.item_id = i.id
            and not exists (select from entry e where e.reverses_id = b.entry_id)
            and (b.removed_by_id is null or exists (select from entry e where e.reverses_id = b.removed_by_id)))
        and (cast(:items as bigint[]) is null or i.id = any(:items))
    order by i.id
"""


@dataclass(frozen=True, slots=True)
class Candidate:
    """A raw card that may be graded: its number, name, version, condition, owner (None: one's own), release (key and
    title), line and number of the card, whether it is never for sale, and the draft that
    it lies in."""

    item: int
    name: str
    version: int
    condition: str
    owner: int | None
    release: str
    release_title: str
    line: str
    card: str
    keeps: bool
    draft: int | None


def candidates(session: Session, usual: str, items: Sequence[int] | None = None) -> list[Candidate]:
    """Every raw card that is here by itself and identified, or those of some; ``usual`` the condition of what says
    none."""
    asked = {"usual": usual, "items": None if items is None else list(items)}
    return [Candidate(*row) for row in session.execute(text(_CANDIDATES), asked)]


_POPULATIONS = """
    select distinct on (version_id, grade) version_id, grade, count from population
    where version_id = any(:versions) and grader = :grader order by version_id, grade, day desc
"""


def latest_populations(session: Session, versions: Sequence[int], grader: str) -> dict[int, dict[str, int]]:
    """How many of each of some versions a grader gave each grade, as it was counted last."""
    found: dict[int, dict[str, int]] = {}
    for version, grade, count in session.execute(text(_POPULATIONS), {"versions": list(versions), "grader": grader}):
        found.setdefault(version, {})[grade] = count
    return found


_CAME = """
    select p.item_id, d.id, g.id, pa.name, r.key, concat_ws(' ', r.name, r.series, r.year), b.day, p.chances, b.grade,
        i.version_id
    from prediction p join document d on d.id = p.document_id join party pa on pa.id = d.party_id
        left join grader g on g.party_id = pa.id
        join item i on i.id = p.item_id left join release r on r.id = i.release_id
        join label b on b.item_id = p.item_id
        join entry e on e.id = b.entry_id and e.document_id = d.id
    where p.what = 'grade' and not exists (select from entry x where x.reverses_id = e.id)
    order by b.day, p.item_id
"""


def came_back(session: Session) -> list[tuple[Any, ...]]:
    """Every card whose grade was predicted and came back: item, document, grader (number, name), release (key, title),
    the day, the chances that were said, the grade, its version."""
    return [tuple(row) for row in session.execute(text(_CAME))]


_TWICE = """
    select pa.name, b.item_id, b.grade from label b join party pa on pa.id = b.grader_id
    where not exists (select from entry e where e.reverses_id = b.entry_id) order by b.item_id, b.id
"""


def all_grades(session: Session) -> list[tuple[str, int, str]]:
    """Every grade that was ever given to a thing: grader, item, grade."""
    return [tuple(row) for row in session.execute(text(_TWICE))]
