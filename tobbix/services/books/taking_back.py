"""Taking back anything that was booked, by itself, from wherever it is seen. Rule C-16."""

from tobbix.core.base.errors import Conflict
from tobbix.core.holdings.history import after_taking_back
from tobbix.core.holdings.ledger import Event
from tobbix.core.holdings.states import DocumentKind, DocumentState
from tobbix.db.grading.submissions import is_submission
from tobbix.db.holdings.loading import load_document, load_entry, load_parcels, standing_entries
from tobbix.db.holdings.saving import forget_arrival, touch_document
from tobbix.db.opening.loading import find_session, session_of
from tobbix.db.selling.orders import find_order
from tobbix.services.buying.amending import unreceive
from tobbix.services.buying.booking import take_back_entry
from tobbix.services.grading.submissions import unpost
from tobbix.services.opening.closing import reopen
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.selling import packing
from tobbix.services.selling.own_prices import withdraw_prices


def take_back(catalogue: Catalogue, number: int) -> str:
    """Take an entry back; its document is then as it was before it. What is the whole of a document is undone with it.
    What it said.

    Raises NotFound, or Conflict, which says by what, if something stands on it.
    """
    with catalogue.database.transaction() as session:
        document, entry, _ = load_entry(session, number)
        take_back_entry(session, number, catalogue.today())
        found = load_document(session, document)
        if found.kind is DocumentKind.PURCHASE and entry.event is Event.RECEIPT:
            unreceive(session, document)
        elif found.kind is DocumentKind.OPENING and entry.event is Event.OPENING:
            session_number = session_of(session, document)
            if session_number is not None:
                reopen(catalogue, session, find_session(session, session_number))
        elif (
            found.kind is DocumentKind.SUBMISSION and entry.event is Event.SENDING and is_submission(session, document)
        ):
            unpost(session, document)
        else:
            if found.kind is DocumentKind.SUBMISSION:
                forget_arrival(session, document, number)
            if entry.event is Event.SALE:
                withdraw_prices(session, document, catalogue.today())
            left = standing_entries(session, document)
            was_sent = document in load_parcels(session, [document])
            state = after_taking_back(found.kind, found.state, entry.event, bool(left), was_sent)
            touch_document(session, document, state)
        return entry.text


def cancel_order(catalogue: Catalogue, document: int, version: int) -> None:
    """An order that is not posted is cancelled: it is unpacked, and what was booked of it is taken back; its things are
    here again. Raises NotFound, Conflict."""
    with catalogue.database.transaction() as session:
        order = find_order(session, document, version)
        if load_document(session, document).state is not DocumentState.PAID:
            raise Conflict("only an order that is not posted is cancelled; after that it is paid back, or returned")
        if order.packed_on is not None:
            packing.unpack(catalogue, document)
        for number, _ in standing_entries(session, document):
            take_back(catalogue, number)
