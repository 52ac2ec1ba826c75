"""Claims for parcels: filed, paid or refused; and what the parcels so far say of each class: losses and days (C-31,
C-32)."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.holdings import dealing
from tobbix.core.holdings.states import DocumentState
from tobbix.core.maths.statistics import wilson
from tobbix.core.selling.claims import Claim, ClaimState, check_claim, list_papers
from tobbix.db.base import Session
from tobbix.db.grading.profiles import list_carriers
from tobbix.db.holdings.loading import list_photos, load_document, parcels_of
from tobbix.db.holdings.saving import keep_change
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.selling import claims, orders
from tobbix.services.buying.booking import ChargeInput, to_home
from tobbix.services.products.catalogue import Catalogue


@dataclass(frozen=True, eq=False)
class ClaimView:
    """What may be claimed of an order's parcel, or was: at most ``most`` (money at home), until when, with which
    papers."""

    claim: Claim | None
    most: Decimal
    until: str | None
    papers: tuple[str, ...]
    currency: str


def read_claim(catalogue: Catalogue, document: int) -> ClaimView:
    """A claim as it stands, or what one would need. Raises NotFound, Conflict for what was not posted."""
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document)
        parcel = next((it for it in parcels_of(session, document) if it.direction == "out"), None)
        if parcel is None or order.post is None:
            raise Conflict("it was not posted")
        worth, insured = _limits(session, order)
        has_photos = any(list_photos(session, line.item) for line in order.lines)
        return ClaimView(
            claims.find_claim(session, document), worth if insured is None else min(worth, insured),
            order.post.get("claim_until"), list_papers(order.reference, parcel.tracking, has_photos),
            load_preferences(session).currency,
        )  # fmt: skip


def _limits(session: Session, order: orders.StoredOrder) -> tuple[Decimal, Decimal | None]:
    """What the buyer paid for an order, and how far its class insures (money at home)."""
    worth = sum((line.home for line in order.lines), Decimal(0))
    post = order.post or {}
    for carrier in list_carriers(session):
        for it in carrier.profile.classes:
            names = (it.name, f"{it.name} ({carrier.profile.name})")  # the second where there are several carriers
            if carrier.profile.name == post.get("carrier") and post.get("class") in names:
                return worth, it.insured_to
    return worth, None


def file_claim(catalogue: Catalogue, document: int, version: int, amount: Decimal, words: str) -> None:
    """A claim is filed with the carrier. Raises NotFound, Conflict when it is too late, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        order = orders.find_order(session, document)
        state = load_document(session, document).state
        if state not in (DocumentState.SENT, DocumentState.DISPUTED, DocumentState.RETURNED) or order.post is None:
            raise Conflict("only of a parcel that is on its way, complained of or paid back can something be claimed")
        until = (order.post or {}).get("claim_until")
        worth, insured = _limits(session, order)
        check_claim(amount, words, worth, today, None if until is None else type(today).fromisoformat(until), insured)
        claims.put_claim(session, document, version, ClaimState.FILED, today, amount, words.strip())


def settle_claim(catalogue: Catalogue, document: int, version: int, paid: Decimal | None, purse: str) -> None:
    """A claim is paid, or with None refused: what comes in is income of that order. Raises NotFound, Conflict,
    InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        claim = claims.find_claim(session, document)
        if claim is None:
            raise NotFound("nothing was claimed")
        if claim.state is not ClaimState.FILED:
            raise Conflict(f"this claim was {claim.state.value} already")
        if paid is not None and paid <= 0:
            raise InputError.at("paid", "must be over 0; or say that it was refused")
        order = orders.find_order(session, document)
        state = ClaimState.REFUSED if paid is None else ClaimState.PAID
        claims.put_claim(session, document, version, state, claim.filed_on, claim.amount, claim.words)
        if paid is not None:
            home = load_preferences(session).currency
            cash = to_home(session, ChargeInput("other", paid, home, today, purse), home).line(home, comes_in=True)
            change = dealing.take_damages(cash, today, f"claim paid: {order.reference}")
            keep_change(session, change, document)


def withdraw_claim(catalogue: Catalogue, document: int) -> None:
    """A claim that was filed is withdrawn. Raises NotFound, Conflict for one that is settled."""
    with catalogue.database.transaction() as session:
        claim = claims.find_claim(session, document)
        if claim is None:
            raise NotFound("nothing was claimed")
        if claim.state is not ClaimState.FILED:
            raise Conflict(f"this claim was {claim.state.value}")
        claims.drop_claim(session, document)


@dataclass(frozen=True, slots=True)
class ClassRecord:
    """What the own parcels of a class say: how many came to an end, of how many there was a claim, the share of these
    with its Wilson 95 %, the days promised and taken (means; None: none arrived)."""

    name: str
    parcels: int
    claims: int
    low: float
    high: float
    promised: float | None
    took: float | None
    late: int


def class_records(catalogue: Catalogue) -> list[ClassRecord]:
    """What the parcels so far say of each class. Rule C-32."""
    with catalogue.database.transaction() as session:
        counted, days = claims.parcels_by_class(session), claims.days_by_class(session)
    found = []
    for name, (parcels, lost) in sorted(counted.items()):
        of = [(promised, took) for each, promised, took in days if each == name]
        said = [promised for promised, _ in of if promised is not None]
        low, high = wilson(lost, parcels)
        found.append(
            ClassRecord(
                name, parcels, lost, low, high, sum(said) / len(said) if said else None,
                sum(took for _, took in of) / len(of) if of else None,
                sum(promised is not None and took > promised for promised, took in of),
            )
        )  # fmt: skip
    return found


def learnt_loss(records: Mapping[str, tuple[int, int]], name: str, said: Decimal) -> Decimal:
    """The chance that a parcel of a class is lost: the carrier's profile counts as much as 200 parcels, and the own
    ones of ``records`` (how many of each class, and of how many there was a claim) move it. Rule C-31."""
    parcels, lost = records.get(name, (0, 0))
    return round((said * _PRIOR + lost) / (_PRIOR + parcels), 6)


_PRIOR = 200
