"""Profiles of graders and carriers in the store."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tobbix.core.base.errors import Conflict, NotFound
from tobbix.core.grading.graders import CenteringLimit, GraderProfile, Tier, Whole
from tobbix.core.grading.submissions import CarrierProfile, PostClass
from tobbix.db.grading.tables import CarrierRow, GraderRow, SubmissionCardRow, SubmissionRow
from tobbix.db.holdings.saving import party_named


@dataclass(frozen=True, slots=True)
class StoredGrader:
    """A grader's profile with its number, the party that it is, and its version."""

    number: int
    party: int
    version: int
    profile: GraderProfile


def list_graders(session: Session) -> list[StoredGrader]:
    """All graders that are in use, by name."""
    query = select(GraderRow).where(GraderRow.removed_at.is_(None))
    return sorted(map(_to_grader, session.scalars(query)), key=lambda it: it.profile.name.lower())


def usual_grader(session: Session) -> int | None:
    """The grader that most cards went to; where none went, the first by name. None: none that grades is described."""
    sent = select(SubmissionRow.grader_id, func.count().label("cards")).join(
        SubmissionCardRow, SubmissionCardRow.document_id == SubmissionRow.document_id
    )
    of_each = sent.group_by(SubmissionRow.grader_id).subquery()
    query = select(GraderRow.id).outerjoin(of_each, of_each.c.grader_id == GraderRow.id)
    query = query.where(GraderRow.removed_at.is_(None), func.jsonb_array_length(GraderRow.profile["grades"]) > 0)
    return session.scalar(query.order_by(of_each.c.cards.desc().nulls_last(), GraderRow.name, GraderRow.id).limit(1))


def find_grader(session: Session, number: int) -> StoredGrader:
    """A grader, perhaps one that is out of use. Raises NotFound."""
    row = session.get(GraderRow, number)
    if row is None:
        raise NotFound("there is no such grader")
    return _to_grader(row)


def put_grader(session: Session, number: int | None, version: int, profile: GraderProfile) -> int:
    """Keep a new grader, or change one; its number. Raises NotFound, Conflict."""
    if number is None:
        party = party_named(session, profile.name, "grader")
        row = session.scalar(select(GraderRow).where(GraderRow.party_id == party))
        if row is not None and row.removed_at is None:
            raise Conflict(f"there is {profile.name} already")
        row = row or GraderRow(party_id=party, version=0)
        row.removed_at = None
    else:
        found = session.get(GraderRow, number, with_for_update=True)
        if found is None:
            raise NotFound("there is no such grader")
        row = found
        if row.version != version:
            raise Conflict("this grader was changed meanwhile; look again, then retry")
    row.version += 1
    row.profile = _grader_to_json(profile)
    session.add(row)
    session.flush()
    return row.id


def mark_grader(session: Session, number: int, removed_at: datetime | None) -> None:
    """Take a grader out of use, or use it again. Raises NotFound."""
    row = session.get(GraderRow, number)
    if row is None:
        raise NotFound("there is no such grader")
    row.removed_at = removed_at


def _to_grader(row: GraderRow) -> StoredGrader:
    return StoredGrader(row.id, row.party_id, row.version, _grader_from_json(row.name, row.profile))


def _text(value: Decimal | None) -> str | None:
    return None if value is None else f"{value:f}"


def _grader_to_json(it: GraderProfile) -> dict[str, Any]:
    return {
        "currency": it.currency, "grades": list(it.grades), "subgrades": list(it.subgrades),
        "tiers": [
            {
                "id": tier.id, "name": tier.name, "fee": _text(tier.fee), "min_cards": tier.min_cards,
                "value_limit": _text(tier.value_limit), "up_charge": _text(tier.up_charge), "days": tier.days,
                "members_only": tier.members_only,
            }
            for tier in it.tiers
        ],
        "membership": _text(it.membership), "refusal": _text(it.refusal),
        "limits": [[limit.grade, _text(limit.front), _text(limit.back)] for limit in it.limits],
        "whole": it.whole.value, "cap": _text(it.cap), "back_weight": _text(it.back_weight),
        "duty_share": _text(it.duty_share), "duty_fixed": _text(it.duty_fixed), "columns": list(it.columns),
        "packing": list(it.packing),
    }  # fmt: skip


def _money(said: str | None) -> Decimal | None:
    return None if said is None else Decimal(said)


def _grader_from_json(name: str, it: Mapping[str, Any]) -> GraderProfile:
    tiers = tuple(
        Tier(
            tier["id"], tier["name"], Decimal(tier["fee"]), tier["min_cards"], _money(tier["value_limit"]),
            Decimal(tier["up_charge"]), tier["days"], tier["members_only"],
        )
        for tier in it["tiers"]
    )  # fmt: skip
    limits = tuple(CenteringLimit(grade, Decimal(front), Decimal(back)) for grade, front, back in it["limits"])
    return GraderProfile(
        name, it["currency"], tuple(it["grades"]), tiers, tuple(it["subgrades"]), _money(it["membership"]),
        Decimal(it["refusal"]), limits, Whole(it["whole"]), Decimal(it["cap"]), Decimal(it["back_weight"]),
        Decimal(it["duty_share"]), Decimal(it["duty_fixed"]), tuple(it["columns"]), tuple(it["packing"]),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class StoredCarrier:
    """A carrier with its classes, its party and its version."""

    party: int
    version: int
    profile: CarrierProfile


def list_carriers(session: Session) -> list[StoredCarrier]:
    """All carriers of which the classes are known, by name."""
    found = [
        StoredCarrier(
            row.party_id, row.version,
            CarrierProfile(row.name, tuple(
                PostClass(
                    it["id"], it["name"], Decimal(it["price"]), _money(it["insured_to"]), it["days"],
                    it.get("tracked", False), _size(it.get("least")) or (Decimal(0),) * 3, _size(it.get("most")),
                    _money(it.get("most_weight")), it.get("no_rigid", False), _money(it.get("value_limit")),
                    Decimal(it.get("loss", "0.01")), it.get("claim_days"),
                )
                for it in row.profile["classes"]
            )),
        )
        for row in session.scalars(select(CarrierRow))
    ]  # fmt: skip
    return sorted(found, key=lambda it: it.profile.name.lower())


def _size(said: Sequence[str] | None) -> tuple[Decimal, Decimal, Decimal] | None:
    return None if said is None else (Decimal(said[0]), Decimal(said[1]), Decimal(said[2]))


def put_carrier(session: Session, version: int, carrier: CarrierProfile) -> None:
    """Keep a carrier by its name. Raises Conflict."""
    party = party_named(session, carrier.name, "carrier")
    row = session.get(CarrierRow, party, with_for_update=True) or CarrierRow(party_id=party, version=0)
    if row.version != version:
        raise Conflict("this carrier was changed meanwhile; look again, then retry")
    row.version += 1
    row.profile = {
        "classes": [
            {"id": it.id, "name": it.name, "price": _text(it.price), "insured_to": _text(it.insured_to),
             "days": it.days, "tracked": it.tracked, "least": [f"{side:f}" for side in it.least],
             "most": None if it.most is None else [f"{side:f}" for side in it.most],
             "most_weight": _text(it.most_weight), "no_rigid": it.no_rigid, "value_limit": _text(it.value_limit),
             "loss": f"{it.loss:f}", "claim_days": it.claim_days}
            for it in carrier.classes
        ]
    }  # fmt: skip
    session.add(row)
    session.flush()
