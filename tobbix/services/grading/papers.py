"""Papers of a submission: the form in the grader's order, the packing list, a friend's statement, the label."""

from collections.abc import Mapping
from decimal import Decimal

from tobbix.core.base.errors import NotFound
from tobbix.core.holdings.sentences import amount
from tobbix.db.grading.looking import Candidate, candidates
from tobbix.db.holdings.loading import find_item
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.pricing.side_by_side import releases_named
from tobbix.formats.item_lists import write_csv
from tobbix.formats.papers import Column, PaperPart, today_in_words, write_label, write_paper
from tobbix.services.grading.submissions import SubmissionView, read_submission
from tobbix.services.products.catalogue import Catalogue

_HEADS: Mapping[str, tuple[str, float, bool]] = {
    "line": ("no.", 5, True), "name": ("card", 30, False), "number": ("number", 9, False),
    "release": ("release", 22, False), "variant": ("variant", 10, False), "serial": ("serial", 9, False),
    "declared": ("declared", 11, True), "tier": ("tier", 11, False), "condition": ("condition", 10, False),
    "certificate": ("certificate", 12, False),
}  # fmt: skip


def _rows(catalogue: Catalogue, view: SubmissionView) -> list[dict[str, str]]:
    """What may stand on a form, of each card in its order."""
    with catalogue.database.transaction() as session:
        usual = load_preferences(session).sheet_condition
        known = {it.item: it for it in candidates(session, usual, [card.stored.item for card in view.cards])}
        items = {card.stored.item: find_item(session, card.stored.item, lock=False) for card in view.cards}
        titles = dict(releases_named(session))
    rows = []
    for at, card in enumerate(view.cards, 1):
        item, candidate = items[card.stored.item], known.get(card.stored.item)
        tier = view.profile.tier(card.stored.tier)
        rows.append({
            "line": str(at), "name": card.stored.name, "number": item.card or "",
            "release": titles.get(item.release or "", item.release or ""), "variant": item.variant or "",
            "serial": item.serial or "",
            "declared": "" if card.declared is None else amount(card.declared, view.currency),
            "tier": card.stored.tier if tier is None else tier.name,
            "condition": _condition(candidate, item.condition), "certificate": card.stored.certificate or "",
        })  # fmt: skip
    return rows


def _condition(candidate: Candidate | None, said: str | None) -> str:
    return said or ("" if candidate is None else candidate.condition)


def write_form(catalogue: Catalogue, document: int) -> bytes:
    """The form with its packing list and steps, as PDF. Raises NotFound."""
    view = read_submission(catalogue, document)
    rows = _rows(catalogue, view)
    columns = [(name, *_HEADS[name]) for name in view.profile.columns]
    total = sum((it.declared or Decimal(0) for it in view.cards), Decimal(0))
    form = PaperPart(
        "Form", (f"{len(rows)} {'card' if len(rows) == 1 else 'cards'}, declared at {amount(total, view.currency)} "
                 f"{view.currency} in all.",),
        tuple(Column(head, share, figures) for _, head, share, figures in columns),
        tuple(tuple(row[name] for name, *_ in columns) for row in rows),
    )  # fmt: skip
    packing = PaperPart("How it is packed", (), steps=view.profile.packing) if view.profile.packing else None
    listed = PaperPart(
        "Packing list, in the order in which the cards lie",
        (),
        (Column("no.", 5, True), Column("card", 60), Column("seen", 10)),
        tuple((row["line"], f"{row['name']} {row['number']}", "\u25a1") for row in rows),
    )
    return write_paper(
        _title(view), [form, *([] if packing is None else [packing]), listed],
        f"{view.stored.reference or f'draft {document}'}, {today_in_words()}",
    )  # fmt: skip


def _title(view: SubmissionView) -> str:
    return f"Submission to {view.profile.name}"


def write_form_csv(catalogue: Catalogue, document: int) -> bytes:
    """The form as CSV, in the columns of the grader. Raises NotFound."""
    view = read_submission(catalogue, document)
    columns = view.profile.columns
    return write_csv(columns, (tuple(row[name] for name in columns) for row in _rows(catalogue, view)))


def write_statement(catalogue: Catalogue, document: int, owner: str) -> bytes:
    """What a friend's cards of a submission cost and what came of them, as PDF. Raises NotFound."""
    view = read_submission(catalogue, document)
    own = [it for it in view.cards if it.stored.owner_name == owner]
    if not own:
        raise NotFound("nobody of that name has a card in it")
    share = dict(view.owed).get(owner, Decimal(0))
    part = PaperPart(
        f"For {owner}", ("Every charge over the cards that it was for, in equal parts; what a lost card is worth is "
                         "settled apart.",),
        (Column("card", 50), Column("came back as", 22), Column("certificate", 18)),
        tuple((it.stored.name, _came(it.stored.grade, it.stored.state), it.stored.certificate or "") for it in own),
    )  # fmt: skip
    owed = PaperPart("", (f"You owe {amount(share, view.currency)} {view.currency} for this submission so far.",))
    return write_paper(f"Statement: {_title(view)}", [part, owed], today_in_words())


def _came(grade: str | None, state: str) -> str:
    return grade or {"away": "not back yet", "lost": "lost"}.get(state, "no grade")


def write_address(catalogue: Catalogue, document: int) -> bytes:
    """The label of the parcel, as PDF. Raises NotFound."""
    view = read_submission(catalogue, document)
    return write_label((view.profile.name, "Submissions"), (), f"{view.stored.reference or ''}")
