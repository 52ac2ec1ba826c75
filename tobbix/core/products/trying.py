"""What if: corrections tried on a scratch copy of a sheet, compared with the sheet, kept as one change or dropped."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.errors import Fault, InputError, TobbixError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.answer import Answer
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.fields import as_decimal
from tobbix.core.products.revising import (
    parse_price,
    with_card_price,
    with_format_price,
    with_line_factor,
    with_odds,
    with_usable,
)
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.verdict import amount_words, often

MOST_EDITS = 500


class EditKind(StrEnum):
    """What a trial changes."""

    ODDS = "odds"
    CARD_PRICE = "card_price"
    LINE_PRICES = "line_prices"
    BOX_PRICE = "box_price"
    USABLE = "usable"


@dataclass(frozen=True, slots=True)
class Edit:
    """One trial: ``text`` as typed (odds, a price, a share; for all prices of a line a factor like ``0.8``)."""

    kind: EditKind
    text: str
    line: str | None = None
    number: str | None = None
    format: str | None = None
    pack: str | None = None

    @property
    def place(self) -> tuple[str | None, ...]:
        """What it is about: a later trial of the same replaces it."""
        return (self.kind.value, self.line, self.number, self.format, self.pack)


def add_edit(edits: Sequence[Edit], edit: Edit) -> tuple[Edit, ...]:
    """The trials with one more, in place of an earlier one of the same thing. Raises InputError past the most."""
    kept = tuple(other for other in edits if other.place != edit.place)
    if len(kept) >= MOST_EDITS:
        raise InputError.at("edits", f"a scratch copy holds at most {MOST_EDITS} changes")
    return (*kept, edit)


def try_edits(sheet: ProductSheet, edits: Sequence[Edit]) -> ProductSheet:
    """The sheet with all trials applied in order. Raises InputError or NotFound for one that cannot be."""
    for edit in edits:
        sheet = _apply(sheet, edit)
    return sheet


def _apply(sheet: ProductSheet, edit: Edit) -> ProductSheet:
    line, fmt = edit.line or "", edit.format or ""
    match edit.kind:
        case EditKind.ODDS:
            return with_odds(sheet, line, fmt, edit.pack, edit.text)
        case EditKind.CARD_PRICE:
            return with_card_price(sheet, line, edit.number or "", parse_price(edit.text, "text"))
        case EditKind.BOX_PRICE:
            return with_format_price(sheet, fmt, parse_price(edit.text, "text"))
        case EditKind.USABLE:
            return with_usable(sheet, fmt, edit.text)
    factor = as_decimal(edit.text.strip())
    if factor is None or not 0 < factor <= Decimal(1000):
        raise InputError.at("text", "give a factor over 0 and up to 1000; 0.8 takes a fifth off all prices of the line")
    return with_line_factor(sheet, line, factor)


def drop_stale(sheet: ProductSheet, edits: Sequence[Edit]) -> tuple[tuple[Edit, ...], tuple[Fault, ...]]:
    """The trials that can still be applied after the sheet changed, and why the others cannot."""
    kept: list[Edit] = []
    faults: list[Fault] = []
    for edit in edits:
        try:
            sheet = _apply(sheet, edit)
            kept.append(edit)
        except TobbixError as error:
            faults.append(Fault("edits", f"no longer possible: {error}"))
    return tuple(kept), tuple(faults)


def state_trial(before: tuple[BoxValue, Answer], after: tuple[BoxValue, Answer], edits: int) -> Verdict:
    """What the trials change, the chance of a loss first."""
    (old, old_answer), (new, new_answer) = before, after
    currency = new.valuation.sheet.currency
    if not edits:
        return Verdict((Run("Nothing is tried yet", "edits", True), Run(": change odds or prices below.")), ())
    change = new.mean - old.mean
    word = "more" if change >= 0 else "less"
    sentence = []
    if old_answer.loss is not None and new_answer.loss is not None:
        sentence = [
            Run("With this you "),
            *often("lose", new_answer.loss, "time", "times", "loss", new.lower_bound),
            Run("; as the sheet stands you "),
            *often("lose", old_answer.loss, "time", "times", bounded=old.lower_bound),
            Run(". "),
        ]
    sentence += [
        Run("The box is worth "),
        Run(amount_words(abs(change), currency), "change", True),
        Run(f" {word} on average."),
    ]
    changes = "one change" if edits == 1 else f"{edits} changes"
    return Verdict(tuple(sentence), (Run(f"A scratch copy with {changes}; the sheet itself is as it was."),))
