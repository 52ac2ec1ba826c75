"""Claims for what was lost or broken in the post: until when, for how much, and with which papers (Rule C-32)."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Conflict, Fault, InputError


class ClaimState(StrEnum):
    """How far a claim is."""

    FILED = "filed"
    PAID = "paid"
    REFUSED = "refused"


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim of a document's parcel (money at home)."""

    document: int
    version: int
    filed_on: date
    amount: Decimal
    words: str
    state: ClaimState


def check_claim(
    amount: Decimal, words: str, worth: Decimal, today: date, until: date | None, insured: Decimal | None
) -> None:  # fmt: skip
    """A claim as it is filed; ``worth`` is what the buyer paid, ``until`` the last day for it, ``insured`` how far the
    class insures (money; None: not known). Raises Conflict when it is too late, InputError."""
    if until is not None and today > until:
        raise Conflict(f"a claim had to be in by {until:%-d %B %Y}")
    faults = []
    most = worth if insured is None else min(worth, insured)
    if not 0 < amount <= most:
        why = "what was paid for it" if most == worth else "what the class insures"
        faults.append(Fault("amount", f"must be over 0 and at most {most:.2f}, {why}"))
    if not words.strip():
        faults.append(Fault("words", "say what happened: lost, or what is broken"))
    if faults:
        raise InputError(faults)


def list_papers(reference: str, tracking: str | None, has_photos: bool) -> tuple[str, ...]:
    """What usually goes with a claim: common practice, no source; the carrier's own list decides."""
    papers = [f"the slip or listing of {reference} with what was paid", "the receipt of the post office"]
    papers.append(f"the tracking number {tracking}" if tracking else "proof of posting, as it was not tracked")
    papers.append("the photos from before it was packed" if has_photos else "photos of the thing, if there are any")
    papers += ["what the buyer wrote", "of something broken: photos of the packing, and all of it kept"]
    return tuple(papers)
