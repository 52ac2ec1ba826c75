"""An opening as it goes: what a pull may be, what is still in the box, and what came out of it (Rules C-12 and C-13).

A session is of one or several boxes of a format, or of loose packs; packs are counted through, 1 for the first.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import Money
from tobbix.core.base.results import Run, Verdict
from tobbix.core.opening.remaining import Remaining, SeenInBox
from tobbix.core.opening.results import Observed
from tobbix.core.products.naming import copy_of, serial_fault
from tobbix.core.products.odds import Per
from tobbix.core.products.prices import line_versions
from tobbix.core.products.sheet import Format, Line, LineKind, ProductSheet
from tobbix.core.products.valuation import Valuation
from tobbix.core.products.verdict import amount_words
from tobbix.core.products.worth import worth_of_price


@dataclass(frozen=True, slots=True)
class Pulled:
    """Cards that came out of a pack: ``number`` None for base cards that nobody listed."""

    pack: int
    line: str
    number: str | None
    count: int = 1
    serial: str | None = None
    flaw: str | None = None


LEFT, GONE, OPENED = range(3)


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a session is. ``packs`` in all, ``gone`` of them opened by somebody else before, with the promised hits
    ``gone_hits`` by line as the seller says, who is trusted with ``trust``; ``opened`` of them here by now: those
    ``which`` are, by number, or without it the first after those gone."""

    packs: int
    opened: int
    gone: int = 0
    gone_hits: Mapping[str, int] = field(default_factory=dict)
    trust: float = 1.0
    which: frozenset[int] | None = None

    def state_of(self, pack: int) -> int:
        """LEFT for a pack that is left, GONE for one gone before, OPENED for one opened here."""
        if pack <= self.gone:
            return GONE
        is_open = pack <= self.gone + self.opened if self.which is None else pack in self.which
        return OPENED if is_open else LEFT

    @property
    def left(self) -> int:
        return self.packs - self.gone - self.opened


def cards_of_pack(fmt: Format, pack: int) -> int:
    """How many cards the ``pack``-th pack of boxes of a format holds; kinds of packs come in their order."""
    place = (pack - 1) % fmt.packs_per_box
    for kind in fmt.packs:
        if place < kind.count:
            return kind.cards
        place -= kind.count
    raise AssertionError("the packs of a box are counted through")


def spread_totals(
    sheet: ProductSheet, fmt: Format, pulled: Sequence[Pulled], packs: range, totals: Sequence[tuple[str, int]]
) -> list[Pulled]:
    """Packs that were opened off the record: hits of (line, count), their cards not known, and base for the rest.

    Nobody knows which pack held which hit: they are put one to a pack in turn, where there is room. Raises InputError
    at ``totals`` for a line that is not in the format, or for more hits than the packs have room.
    """
    base = sheet.base_line(fmt.id).id
    room = {pack: cards_of_pack(fmt, pack) - sum(item.count for item in pulled if item.pack == pack) for pack in packs}
    lines = [line for line, count in totals for _ in range(count)]
    for line in lines:
        known = sheet.line_by_id.get(line)
        if known is None or fmt.id in known.not_in or line == base:
            raise InputError.at("totals", f"the {fmt.name} holds no hits of “{line[:60]}”")
    if len(lines) > sum(room.values()):
        raise InputError.at(
            "totals", f"{len(lines)} hits do not fit into the {sum(room.values())} cards of these packs"
        )
    found: dict[tuple[int, str], int] = {}
    while lines:
        for pack in packs:
            if lines and room[pack] > 0:
                line = lines.pop()
                room[pack] -= 1
                found[pack, line] = found.get((pack, line), 0) + 1
    made = [Pulled(pack, line, None, count) for (pack, line), count in sorted(found.items())]
    return made + [Pulled(pack, base, None, left) for pack, left in room.items() if left > 0]


def check_pull(sheet: ProductSheet, fmt: Format, pulled: Sequence[Pulled], fresh: Pulled) -> None:
    """Refuse a pull that the format cannot hold. Raises InputError at ``line``, ``number``, ``serial`` or ``count``."""
    line = sheet.line_by_id.get(fresh.line)
    if line is None or fmt.id in line.not_in:
        raise InputError.at("line", f"the {fmt.name} holds no line “{fresh.line[:60]}”")
    if fresh.number is None and line.kind is not LineKind.BASE:
        raise InputError.at("number", f"say which card of {line.name} it is")
    numbers = {version.number for version in line_versions(sheet, line)}
    faults = []
    if fresh.number is not None and numbers and fresh.number not in numbers:
        faults.append(Fault("number", f"{line.name} has no card {fresh.number[:60]}"))
    if fresh.serial is not None:
        fault = _serial_fault(line, pulled, fresh)
        if fault is not None:
            faults.append(Fault("serial", fault))
    room = cards_of_pack(fmt, fresh.pack) - sum(item.count for item in pulled if item.pack == fresh.pack)
    if fresh.count > room:
        full = "is full" if room <= 0 else f"has room for {room} more"
        faults.append(Fault("count", f"pack {fresh.pack} {full}"))
    if faults:
        raise InputError(faults)


def _serial_fault(line: Line, pulled: Sequence[Pulled], fresh: Pulled) -> str | None:
    """What is wrong with the number of a copy: each exists once, and only of a line that is numbered."""
    fault = serial_fault(line.name, line.print_run, fresh.serial or "")
    if fault is not None:
        return fault
    said = copy_of(fresh.serial)
    same = [item for item in pulled if (item.line, item.number) == (fresh.line, fresh.number)]
    if any(copy_of(item.serial) == said for item in same):
        return f"copy {said} of {line.print_run} came out already"
    return None


@dataclass(frozen=True, slots=True)
class BegunBox:
    """The last box of a session that ended inside it: packs ``left`` and ``gone``, and the ``share`` of what the box
    carries that stays with those left."""

    left: int
    gone: int
    share: Fraction


def begun_box(per_box: int, reached: int, gone: int) -> BegunBox | None:
    """The box in which the ``reached``-th pack lies, None if that was its last; ``gone`` packs of the session's first
    box were opened by somebody else, and carry nothing. Rule C-15."""
    inside = reached % per_box
    if inside == 0:
        return None
    bought = per_box - max(gone - (reached - inside), 0)
    return BegunBox(per_box - inside, inside, Fraction(per_box - inside, bought))


def promised_lines(sheet: ProductSheet, format_id: str) -> dict[str, int]:
    """The lines of which a box promises a number, alone or with others, and that number."""
    return {line: g.count for g in sheet.guarantees_in(format_id) if g.per is Per.BOX for line, _ in g.lines}


def promised_hits(sheet: ProductSheet, format_id: str, pulled: Sequence[Pulled]) -> dict[str, int]:
    """The cards that are hits of a line that the format promises in each box, by line."""
    lines, found = promised_lines(sheet, format_id), Counter[str]()
    for item in pulled:
        if item.line in lines:
            found[item.line] += item.count
    return dict(found)


def observe(valuation: Valuation, progress: Progress, pulled: Sequence[Pulled], complete: bool) -> tuple[Observed, ...]:
    """The hits of every line with known odds in the packs that were opened, for a judgement; of what is promised, by
    one line or by several together, those of each complete box or case. Rule C-13."""
    model, fmt = valuation.model, valuation.format
    per_box, names = fmt.packs_per_box, {line.id: line.name for line in valuation.sheet.lines}
    counts, in_box = Counter[str](), Counter[tuple[str, int]]()
    for item in pulled:
        counts[item.line] += item.count
        in_box[item.line, (item.pack - 1) // per_box] += item.count
    whole = _whole_boxes(progress, per_box, complete)
    found, grouped = [], set[str]()
    for stated in valuation.stated.guarantees:
        lines = [line.id for line in valuation.sheet.lines if line.id in {*dict(stated.shares), *stated.undecided}]
        if any(line in model.rates for line in lines):
            continue  # it comes at random too: no box tells which was which
        grouped.update(lines)
        units = whole if stated.per is Per.BOX else _whole_cases(whole, fmt.boxes_per_case or 1)
        hits = [sum(in_box[line, box] for line in lines for box in boxes) for boxes in units]
        found.append(
            Observed(
                "+".join(lines), " or ".join(names[line] for line in lines), progress.opened,
                model.per_box(stated) / per_box, sum(counts[line] for line in lines), stated.count, tuple(hits),
            )
        )  # fmt: skip
    for line, expected in model.hits_per_box().items():
        if line != model.base and line not in grouped:
            found.append(Observed(line, names[line], progress.opened, expected / per_box, counts[line]))
    order = {line.id: at for at, line in enumerate(valuation.sheet.lines)}
    return tuple(sorted(found, key=lambda item: order[item.line.split("+")[0]]))


def seen_in_open_box(pulled: Sequence[Pulled], line: str, per_box: int) -> SeenInBox:
    """What the box that is open has shown of a line: that of the last pack of which anything is logged. Rule C-12."""
    box = max((item.pack for item in pulled), default=1) - 1
    here = [item for item in pulled if (item.pack - 1) // per_box == box // per_box]
    of_line = [item for item in here if item.line == line]
    packs = len({item.pack for item in here})
    return SeenInBox(packs, len({item.pack for item in of_line}), sum(item.count for item in of_line))


def _whole_boxes(progress: Progress, per_box: int, complete: bool) -> list[range]:
    """Boxes that nobody else began and that were opened to their end, each as a range of its own; of a session that
    still runs, not the present one."""
    opened = [pack for pack in range(1, progress.packs + 1) if progress.state_of(pack) == OPENED]
    present = -1 if complete or not opened else (opened[-1] - 1) // per_box
    by_box = Counter((pack - 1) // per_box for pack in opened)
    return [range(box, box + 1) for box in sorted(by_box) if by_box[box] == per_box and box != present]


def _whole_cases(boxes: Sequence[range], per_case: int) -> list[range]:
    """Cases of which every box is whole; the session's boxes are of one case as far as it goes."""
    whole = {box for some in boxes for box in some}
    starts = sorted({box // per_case * per_case for box in whole})
    return [range(start, start + per_case) for start in starts if whole.issuperset(range(start, start + per_case))]


def state_session(valuation: Valuation, ahead: Remaining) -> Verdict:
    """How many packs are left, and what is still in there. Rule C-12."""
    currency = valuation.sheet.currency
    if ahead.packs == 0:
        return Verdict(
            (
                Run("Every pack is open", "packs", True),
                Run(". Finish the session to move its cost to the cards."),
            ),
            (),
        )
    many = "One pack" if ahead.packs == 1 else f"{ahead.packs} packs"
    sentence = [Run(f"{many} left", "packs", True), Run(". ")]
    for group in ahead.live:
        if group.chance > 0:
            words = f"{group.left} of {group.name}" if group.promised > 1 else group.name
            sentence += [
                Run(f"{words} "),
                Run("is still in there" if group.trust == 1 else "may still be in there", "live", True),
                Run(f": 1 in {1 / group.chance:.1f} a pack. "),
            ]
        elif group.left:
            sentence.append(Run(f"{group.name}: not counted, since nobody is trusted about the packs that are gone. "))
        elif group.promised:
            sentence.append(Run(f"{group.name}: seen, no more is promised. "))
    ground = (
        Run(f"What is left holds {'at least' if ahead.lower_bound else 'about'} "),
        Run(amount_words(ahead.value, currency), "left"),
        Run(f" on average ({amount_words(ahead.per_pack, currency)} a pack). Average lines do not remember."),
    )
    return Verdict(tuple(sentence), ground)


def state_finished(cost: Decimal | None, worth: float, currency: str, unknown: int = 0) -> Verdict:
    """What a finished session cost (money at home, None: nobody remembers) and held (estimate), at least where the
    worth of some cards is ``unknown``. Rule C-13."""
    held = ("at least " if unknown else "") + amount_words(worth, currency)
    if cost is None:
        return Verdict((Run(f"It held {held}", "worth", True), Run("; what it cost, nobody remembers.")), ())
    gain = Money.from_estimate(worth - float(cost), currency).amount
    said = f"{gain:+,}".replace("-", "\u2212")
    cost_words = amount_words(float(cost), currency)
    return Verdict((Run(f"It cost {cost_words} and held {held}: "), Run(said, "gain", True), Run(".")), ())


TAKEN_BACK = Verdict((Run("This session was taken back", "state", True), Run("; what it opened is sealed.")), ())


@dataclass(frozen=True, slots=True)
class CardView:
    """A card of a line in words, and what it is worth on average (estimate, money; None if unknown)."""

    line_name: str
    subject: str
    worth: float | None


def view_card(valuation: Valuation, line: str, number: str | None) -> CardView:
    """A card that came out, or without a number any of its line."""
    sheet, value = valuation.sheet, valuation.lines.get(line)
    drawn = None if value is None else valuation.drawn(line)
    if line not in sheet.line_by_id:
        return CardView(line, "", None)
    known = sheet.line_by_id[line]  # also where its odds are not stated, so that nothing of it is expected
    if number is None:
        return CardView(known.name, "not listed", None if drawn is None else drawn.severity.mean)
    versions = line_versions(sheet, known)
    at = next((i for i, version in enumerate(versions) if version.number == number), None)
    if at is None:
        return CardView(known.name, "", None)
    subject, price = versions[at].subject, versions[at].price
    if drawn is not None:
        return CardView(known.name, subject, float(drawn.each[at]))
    return CardView(known.name, subject, None if price is None else worth_of_price(valuation.worth, line, float(price)))
