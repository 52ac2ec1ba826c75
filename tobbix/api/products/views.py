"""Core results as what the Products step sends."""

from collections.abc import Sequence

from tobbix.api.base.verdicts import show_verdict
from tobbix.api.products import schemas as out
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.products.answer import BoundAnswer, draw_histogram
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.most_to_pay import MostToPay
from tobbix.core.products.odds import plain
from tobbix.core.products.overview import FormatAnswer
from tobbix.core.products.prices import VersionPrice, line_versions
from tobbix.core.products.revising import write_guarantee, write_odds
from tobbix.core.products.sheet import Format, Line, LineKind, ProductSheet
from tobbix.core.products.valuation import Unit
from tobbix.core.products.verdict import basis_words, guesses_of
from tobbix.core.products.worth import Worth
from tobbix.core.products.writing import price_text
from tobbix.services.products.answering import ChaseAnswer, HoldingAnswer, LastChange, UnitAnswer

_BEST_CARDS = 10


def _show_most(most: MostToPay) -> out.MostOut:
    return out.MostOut.model_validate(most, from_attributes=True)


def _quantiles(value: BoxValue) -> dict[str, float]:
    return {f"{share:g}": amount for share, amount in value.quantiles.items()}


def show_format(sheet: ProductSheet, answered: FormatAnswer) -> out.FormatOut:
    figures = None
    if answered.worked is not None and answered.answer is not None:
        value = answered.worked.value
        figures = out.FiguresOut(
            mean=value.mean,
            quantiles=_quantiles(value),
            loss=answered.answer.loss,
            most=_show_most(answered.answer.most),
            lower_bound=value.lower_bound,
            guesses=list(guesses_of(value.valuation)),
            meets_rule=answered.meets_rule,
        )
    return show_format_alone(sheet, answered.format, figures, answered.refused)


def show_format_alone(
    sheet: ProductSheet, fmt: Format, figures: out.FiguresOut | None = None, refused: str | None = None
) -> out.FormatOut:
    return out.FormatOut(
        id=fmt.id,
        name=fmt.name,
        channel=fmt.channel,
        contents=fmt.describe(),
        packs=[pack.id for pack in fmt.packs],
        packs_per_box=fmt.packs_per_box,
        cards_per_box=fmt.cards_per_box,
        boxes_per_case=fmt.boxes_per_case,
        usable=float(fmt.usable),
        case_price=price_text(fmt.case_price, sheet.currency),
        price=price_text(fmt.price, sheet.currency),
        figures=figures,
        refused=refused,
    )


def show_release(sheet: ProductSheet, formats: Sequence[FormatAnswer]) -> out.ReleaseOut:
    return out.ReleaseOut(
        id=sheet.id,
        title=sheet.release.title,
        publisher=sheet.release.publisher,
        year=sheet.release.year,
        currency=sheet.currency,
        priced_on=sheet.priced_on,
        revision=sheet.revision,
        price_revision=price_revision(sheet),
        lines=len(sheet.lines),
        cards=sum(len(line.cards) for line in sheet.lines),
        formats=[show_format(sheet, answered) for answered in formats],
    )


def show_line(sheet: ProductSheet, line: Line) -> out.LineOut:
    versions = line_versions(sheet, line)
    odds = []
    guaranteed: dict[str, str] = {}
    for fmt in sheet.formats:
        packs = sorted({o.pack for o in line.odds_in(fmt.id)}, key=lambda pack: pack or "") or [None]
        if line.kind is not LineKind.BASE:
            odds += [out.OddsOut(format=fmt.id, pack=pack, text=write_odds(line, fmt.id, pack)) for pack in packs]
        for guarantee in sheet.guarantees:
            if guarantee.format == fmt.id and line.id in dict(guarantee.lines):
                share = dict(guarantee.lines)[line.id]
                part = "split unknown" if share is None else f"{float(share) * 100:g} %"
                guaranteed[fmt.id] = f"{part} of {guarantee.count} per {guarantee.per}"
    return out.LineOut(
        id=line.id,
        name=line.name,
        kind=line.kind.value,
        print_run=line.print_run,
        redemption=line.redemption,
        cards=len(versions),
        unpriced=sum(version.price is None for version in versions),
        cards_of=None if line.cards_of is None else sheet.line_by_id[line.cards_of].name,
        price_multiple=None if line.price_multiple is None else plain(line.price_multiple),
        price_floor=price_text(line.price_floor, sheet.currency),
        odds=odds,
        guaranteed=guaranteed,
    )


def show_guarantees(sheet: ProductSheet) -> list[out.GuaranteeOut]:
    return [
        out.GuaranteeOut(number=number, format=guarantee.format, text=write_guarantee(sheet, guarantee))
        for number, guarantee in enumerate(sheet.guarantees)
    ]


def price_revision(sheet: ProductSheet) -> int:
    """The revision of the prices that a stored sheet was priced by."""
    return 1 if sheet.book is None else sheet.book.revision


def show_revision(sheet: ProductSheet, change: LastChange | None) -> out.RevisionOut:
    """The revisions after a change, and which change that was."""
    return out.RevisionOut(
        revision=sheet.revision,
        price_revision=price_revision(sheet),
        change=None if change is None else change.number,
        what=None if change is None else change.what,
    )


def show_card(sheet: ProductSheet, line: str, version: VersionPrice) -> out.CardOut:
    value = None if sheet.book is None else sheet.book.cards.get((line, version.number))
    return out.CardOut(
        day=None if value is None else value.day,
        source=None if value is None else value.source,
        number=version.number,
        subject=version.subject,
        weight=plain(version.weight),
        price=price_text(version.price, sheet.currency),
        own=version.own,
    )


def _show_unit(unit: UnitAnswer, packs_per_box: int) -> out.UnitOut:
    packs = 1 if unit.holding.unit is Unit.PACK else packs_per_box * unit.holding.boxes
    return out.UnitOut(
        name=unit.name,
        price=unit.price,
        mean=unit.value.mean,
        middle=unit.value.outcomes.quantile(0.5),
        loss=unit.loss,
        most=unit.most.sticker,
        most_per_pack=unit.most.sticker / packs,
    )


def show_basis(worth: Worth, currency: str) -> out.BasisOut:
    return out.BasisOut(
        basis=worth.basis,
        way=worth.way.id if isinstance(worth.way, SellingWay) else None,
        way_name=None if worth.way is None else worth.way.name,
        floor=worth.floor,
        bulk=worth.bulk,
        words=basis_words(worth, currency),
    )


def _show_bound(bound: BoundAnswer | None) -> out.BoundOut | None:
    if bound is None:
        return None
    middle = bound.value.outcomes.quantile(0.5)
    return out.BoundOut(mean=bound.value.mean, middle=middle, loss=bound.loss, most=bound.most.sticker)


def show_answer(found: HoldingAnswer) -> out.AnswerOut:
    sheet, worked, answer = found.looked.sheet, found.worked, found.answer
    value, outcomes, fmt = worked.value, worked.value.outcomes, worked.value.valuation.format
    histogram = draw_histogram(outcomes, answer.asked.outlay)
    lines_value = sum(share.value or 0.0 for share in value.by_line)
    count = value.holding.boxes
    return out.AnswerOut(
        release=sheet.id,
        release_title=sheet.release.title,
        revision=sheet.revision,
        price_revision=price_revision(sheet),
        currency=sheet.currency,
        priced_on=sheet.priced_on,
        format=show_format_alone(sheet, fmt),
        unit=value.holding.unit.value,
        boxes=count,
        basis=show_basis(value.valuation.worth, sheet.currency),
        price=None if answer.asked.sticker is None else answer.asked.sticker / count,
        landed=answer.asked.landed,
        outlay=answer.asked.outlay,
        other_series=list(found.other_series),
        loss=answer.loss,
        verdict=show_verdict(answer.verdict),
        mean=value.mean,
        deviation=outcomes.deviation,
        quantiles=_quantiles(value),
        worst_tenth=value.worst_tenth,
        most=_show_most(answer.most),
        rule=out.RuleOut.model_validate(found.looked.preferences.rule, from_attributes=True),
        histogram=out.HistogramOut(edges=histogram.edges.tolist(), chances=histogram.chances.tolist()),
        by_line=[
            out.LineShareOut(
                line=share.line,
                name=share.name,
                cards=share.cards,
                hits=share.hits,
                value=share.value,
                share=None if share.value is None or lines_value <= 0 else share.value / lines_value,
            )
            for share in value.by_line
        ],
        best_cards=[
            out.CardShareOut(
                line=card.line,
                line_name=card.line_name,
                number=card.number,
                subject=card.subject,
                one_in=count / card.copies if card.copies > 0 else None,
                price=card.price,
                worth=card.worth,
                value=card.value,
                share=card.value / lines_value if lines_value > 0 else 0.0,
                assumed=card.assumed,
            )
            for card in value.cards[:_BEST_CARDS]
        ],
        top_heavy=out.TopHeavyOut.model_validate(value.top_heavy, from_attributes=True),
        units=[_show_unit(unit, fmt.packs_per_box) for unit in found.beside],
        lower_bound=value.lower_bound,
        assumed=[out.AssumedOut.model_validate(a, from_attributes=True) for a in value.assumed],
        unknown=[out.UnknownOut.model_validate(u, from_attributes=True) for u in value.left_out],
        low=_show_bound(answer.low),
        high=_show_bound(answer.high),
        grid=out.GridOut(
            step=outcomes.step,
            points=outcomes.size,
            parts=len(outcomes.parts),
            error=outcomes.error,
        ),
    )


def show_chase(found: ChaseAnswer) -> out.ChaseOut:
    chase, sheet = found.chase, found.looked.sheet
    return out.ChaseOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        format=show_format_alone(sheet, found.format),
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        what=found.what,
        price=found.sticker,
        verdict=show_verdict(found.verdict),
        one_in_boxes=1 / chase.per_box,
        first_box=chase.first_box,
        pack=found.format.packs[chase.pack].id if len(found.format.packs) > 1 else None,
        of_one_box=[out.PackChanceOut(packs=packs, chance=chance) for packs, chance in chase.of_one_box],
        needed=[
            out.NeededOut(
                chance=need.chance,
                packs=need.packs,
                boxes=need.boxes,
                spent=None if need.boxes is None or chase.price is None else need.boxes * chase.price,
            )
            for need in chase.needed
        ],
        curve=[out.CurvePointOut(boxes=boxes, chance=chance) for boxes, chance in chase.curve],
        boxes_until_first=chase.boxes_until_first,
        single=chase.single,
        long_run=chase.long_run,
        until_first=chase.until_first,
    )
