"""What the owner assumes where a sheet says nothing: odds, the value of a line's unknown cards, a split (Rule C-01).

An assumption never passes for knowledge: it is kept beside the sheet, gives way to what the sheet says later, and is
named with every result that rests on it.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import InputError, NotFound
from tobbix.core.base.results import Assumed, Matter
from tobbix.core.products.odds import Basis, Odds, parse_statement
from tobbix.core.products.sheet import Guarantee, LineKind, ProductSheet


@dataclass(frozen=True, slots=True)
class Assumptions:
    """``own_odds``: (format, line, statement, how it came about) as the owner saw them come, in place of what the sheet
    states;
    ``odds``: (format, line, statement); ``values``: (line, price of its unknown cards, money);
    ``splits``: (format, line, share of the guarantee whose split is unknown)."""

    odds: tuple[tuple[str, str, str], ...] = ()
    values: tuple[tuple[str, Decimal], ...] = ()
    splits: tuple[tuple[str, str, Decimal], ...] = ()
    own_odds: tuple[tuple[str, str, str, str], ...] = ()


NOTHING_ASSUMED = Assumptions()


def assume(sheet: ProductSheet, format_id: str, assumptions: Assumptions) -> tuple[ProductSheet, tuple[Assumed, ...]]:
    """The sheet with what is assumed of one format put where it says nothing, and what that was. Rule C-01.

    What the sheet says by now wins over what was assumed. Shares of a split that do not reach 1 leave the rest to the
    lines without one.
    """
    notes: list[Assumed] = []
    silent = {line.id for line in sheet.silent_lines(format_id)}
    for fmt, line_id, text in assumptions.odds:
        line = sheet.line_by_id.get(line_id)
        if fmt != format_id or line is None or line.kind is LineKind.BASE:
            continue
        said = [odds for odds in line.odds if odds.format == fmt]
        if line_id not in silent and not (said and all(odds.basis is Basis.UNSTATED for odds in said)):
            continue
        others = tuple(odds for odds in line.odds if odds.format != fmt)
        changed = replace(line, odds=(*others, Odds(fmt, parse_statement(text, "odds"), Basis.AVERAGE)))
        sheet = replace(sheet, lines=tuple(changed if item is line else item for item in sheet.lines))
        notes.append(Assumed(line.id, line.name, (), 0.0, 0.0, Matter.ODDS, by_owner=True, words=text))
    for fmt, line_id, text, words in assumptions.own_odds:
        line = sheet.line_by_id.get(line_id)
        if fmt != format_id or line is None:
            continue
        said = [odds for odds in line.odds if odds.format == fmt]
        if len(said) != 1 or said[0].basis is not Basis.AVERAGE:
            continue
        own = Odds(fmt, parse_statement(text, "odds"), Basis.AVERAGE, said[0].pack)
        changed = replace(line, odds=tuple(own if odds is said[0] else odds for odds in line.odds))
        lines = tuple(changed if item is line else item for item in sheet.lines)
        sheet = replace(sheet, lines=lines)
        notes.append(Assumed(line.id, line.name, (), 0.0, 0.0, Matter.RESULTS, by_owner=True, words=words))
    shares = {line: share for fmt, line, share in assumptions.splits if fmt == format_id}
    if shares:
        guarantees = tuple(_split(sheet, g, shares, notes) if g.format == format_id else g for g in sheet.guarantees)
        sheet = replace(sheet, guarantees=guarantees)
    return sheet, tuple(notes)


def _split(sheet: ProductSheet, guarantee: Guarantee, shares: dict[str, Decimal], notes: list[Assumed]) -> Guarantee:
    open_lines = [line for line, share in guarantee.lines if share is None]
    given = {line: shares[line] for line in open_lines if line in shares}
    if not given:
        return guarantee
    room = 1 - sum(share for _, share in guarantee.lines if share is not None)
    if sum(given.values()) > room:
        return guarantee  # the sheet has changed since: there is no room for what was assumed
    for line, share in given.items():
        words = f"{float(share) * 100:g} % of the hits"
        notes.append(Assumed(line, sheet.line_by_id[line].name, (), 0.0, 0.0, Matter.SPLIT, by_owner=True, words=words))
    return replace(guarantee, lines=tuple((line, given.get(line, share)) for line, share in guarantee.lines))


def check_assumption(sheet: ProductSheet, kind: Matter, line_id: str, format_id: str | None, text: str) -> None:
    """Refuse an assumption that cannot be: an unknown line or format, odds or a share that make no sense. Rule C-01.

    Raises NotFound, or InputError at ``text``.
    """
    if line_id not in sheet.line_by_id:
        raise NotFound(f"{sheet.release.title} has no line “{line_id}”")
    if kind is not Matter.PRICE and format_id not in sheet.format_by_id:
        raise NotFound(f"{sheet.release.title} has no format “{format_id}”")
    if kind is Matter.ODDS:
        parse_statement(text, "text")
    elif kind is Matter.SPLIT:
        share = parse_share(text, "text")
        open_guarantees = [g for g in sheet.guarantees if g.format == format_id and (line_id, None) in g.lines]
        if not open_guarantees:
            raise InputError.at("text", "this line has no unknown split in this format")
        known = max(sum(share for _, share in g.lines if share is not None) for g in open_guarantees)
        if share > 1 - known:
            raise InputError.at("text", f"the sheet leaves {float(1 - known):g} for the lines whose split is unknown")


def parse_share(text: str, field: str) -> Decimal:
    """A share as typed: ``0.6`` or ``60 %``. Raises InputError naming ``field``."""
    words = text.strip()
    percent = words.endswith("%")
    try:
        value = Fraction(words.removesuffix("%").strip()) / (100 if percent else 1)
    except (ValueError, ZeroDivisionError):
        raise InputError.at(field, f"“{words[:40]}” is not a share; write 0.6 or 60 %") from None
    if not 0 <= value <= 1:
        raise InputError.at(field, "a share is from 0 to 1, or 0 % to 100 %")
    return Decimal(value.numerator) / Decimal(value.denominator)
