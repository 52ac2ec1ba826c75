"""Results of the planning questions as what is sent."""

from collections.abc import Sequence

from tobbix.api.base.verdicts import show_verdict
from tobbix.api.products import planning_schemas as out
from tobbix.api.products.schemas import LineShareOut
from tobbix.api.products.views import show_basis, show_format_alone
from tobbix.core.planning.rip_hold_buy import note_choices
from tobbix.core.products.answer import draw_curve
from tobbix.core.products.completing import SetPoint
from tobbix.core.products.revising import write_odds
from tobbix.core.products.sheet import LineKind
from tobbix.services.products.assuming import Assumption
from tobbix.services.products.planning import (
    ChoiceAnswer,
    ComparisonAnswer,
    CompletionAnswer,
    ProductionAnswer,
    SurenessAnswer,
)
from tobbix.services.products.simulating import Simulation
from tobbix.services.products.trying import Side, TrialAnswer

_CURVE_POINTS = 160


def _show_curve(curve: Sequence[tuple[float, float]]) -> list[out.AtLeastOut]:
    return [out.AtLeastOut(amount=amount, chance=chance) for amount, chance in curve]


def show_sureness(found: SurenessAnswer) -> out.SurenessOut:
    sheet, curves = found.looked.sheet, found.curves
    box = next(item for item in found.holdings if item.name == "Box")
    return out.SurenessOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        priced_on=sheet.priced_on,
        format=show_format_alone(sheet, found.format),
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        price=found.price,
        outlay=box.outlay,
        verdict=show_verdict(found.verdict),
        holdings=[out.HoldingLossOut.model_validate(item, from_attributes=True) for item in found.holdings],
        curves=out.MarketCurvesOut(
            factors=list(curves.factors),
            prices=curves.prices.tolist(),
            chances=curves.chances.tolist(),
            at_price=None if curves.at_price is None else curves.at_price.tolist(),
        ),
        mixed_loss=found.mixed_loss,
        spread=out.MeanSpreadOut.model_validate(found.spread, from_attributes=True),
        own_spread=found.uncertainty.own,
        market_spread=found.uncertainty.market,
    )


def show_comparison(found: ComparisonAnswer) -> out.ComparisonOut:
    sheet = found.looked.sheet
    formats = []
    for facts in found.facts:
        plain = {name: getattr(facts, name) for name in out.FormatFactsOut.model_fields if name != "format"}
        plain["only_here"], plain["guesses"] = list(facts.only_here), list(facts.guesses)
        plain["curve"] = _show_curve(facts.curve)
        formats.append(out.FormatFactsOut(format=show_format_alone(sheet, facts.format), **plain))
    return out.ComparisonOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        priced_on=sheet.priced_on,
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        verdict=show_verdict(found.verdict),
        formats=formats,
        refused=[out.RefusedOut(name=name, why=why) for name, why in found.refused],
    )


def show_set(found: CompletionAnswer) -> out.SetOut:
    answer, sheet = found.answer, found.looked.sheet

    def point(item: SetPoint) -> out.SetPointOut:
        return out.SetPointOut.model_validate(item, from_attributes=True)

    step = max(len(answer.curve) // _CURVE_POINTS, 1)
    return out.SetOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        format=show_format_alone(sheet, found.format),
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        verdict=show_verdict(found.verdict),
        name=answer.pieces.name,
        cards=len(answer.pieces),
        unit="box" if answer.unit == "box" else "pack",
        price=answer.price,
        way=answer.way,
        repeats=answer.repeats,
        short=answer.short,
        mean=answer.mean,
        error=answer.error,
        half=answer.half,
        nine_tenths=answer.nine_tenths,
        curve=[point(item) for item in answer.curve[::step]],
        buy_all=answer.buy_all,
        stop=None if answer.stop is None else point(answer.stop),
        missing=list(answer.pieces.missing_lines),
    )


def show_production(found: ProductionAnswer) -> out.ProductionOut:
    sheet, production = found.looked.sheet, found.production
    shares = dict(production.shares)
    names = {fmt.id: fmt.name for fmt in sheet.formats}
    return out.ProductionOut(
        release_title=sheet.release.title,
        verdict=show_verdict(found.verdict),
        estimates=[out.PrintEstimateOut.model_validate(item, from_attributes=True) for item in production.estimates],
        formats=[
            out.FormatMadeOut(
                format=item.format,
                name=names[item.format],
                estimates=item.estimates,
                packs=item.packs,
                low=item.low,
                high=item.high,
                boxes=item.boxes,
                cases=item.cases,
                share=shares.get(item.format),
            )
            for item in production.formats
        ],
        copies=[out.CopiesOut.model_validate(item, from_attributes=True) for item in production.copies],
    )


def show_choice(found: ChoiceAnswer) -> out.ChoiceOut:
    sheet, sums, sealed = found.looked.sheet, found.sums, found.sealed
    return out.ChoiceOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        format=show_format_alone(sheet, found.format),
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        verdict=show_verdict(found.verdict),
        price=found.asked.sticker,
        landed=found.asked.landed,
        outlay=found.asked.outlay,
        mean=found.value.mean,
        sealed_value=sealed.value,
        growth=sealed.growth,
        years=sealed.years,
        keeping=sealed.keeping,
        open=sums.open,
        open_loss=sums.open_loss,
        sell_sealed=sums.sell_sealed,
        hold=sums.hold,
        hold_sum=sums.hold_sum,
        singles_cost=sums.singles_cost,
        wanted_share=sums.wanted_share,
        best=sums.best,
        notes=note_choices(sums, sealed, sheet.currency),
        thresholds=[
            out.ThresholdOut(choice=t.choice, what=t.what, value=t.value, words=t.words(sheet.currency))
            for t in sums.thresholds
        ],
        wanted=[
            out.WantedOut(line=line, number=number, name=card.name, price=card.price, copies=card.copies)
            for line, number, card in found.wanted
        ],
        unpriced=list(found.unpriced),
    )


def show_assumptions(found: list[Assumption]) -> out.AssumptionsOut:
    shown = [out.AssumptionOut.model_validate(item, from_attributes=True) for item in found]
    return out.AssumptionsOut(assumptions=shown)


def show_wanted(found: list[tuple[str, str]]) -> out.WantedListOut:
    return out.WantedListOut(wanted=[out.WantedCardOut(line=line, number=number) for line, number in found])


def show_trial(found: TrialAnswer) -> out.TrialOut:
    sheet = found.looked.sheet
    fmt = found.before.value.valuation.format
    # both curves end where the farther one does, so that one can be seen to lie over the other
    reach = max(side.value.outcomes.quantile(0.98) for side in (found.before, found.after))
    return out.TrialOut(
        release_title=sheet.release.title,
        currency=sheet.currency,
        format=show_format_alone(sheet, fmt),
        basis=show_basis(found.looked.standpoint.worth, sheet.currency),
        verdict=show_verdict(found.verdict),
        version=found.version,
        edits=[out.EditOut.model_validate(edit, from_attributes=True) for edit in found.edits],
        stale=[fault.message for fault in found.stale],
        before=_show_side(found.before, reach),
        after=_show_side(found.after, reach),
    )


def _show_side(side: Side, reach: float) -> out.SideOut:
    value = side.value
    sheet, fmt = value.valuation.sheet, value.valuation.format
    whole = sum(share.value or 0.0 for share in value.by_line)
    return out.SideOut(
        price=None if fmt.price is None else float(fmt.price),
        usable=float(fmt.usable),
        mean=value.mean,
        middle=value.outcomes.quantile(0.5),
        loss=side.answer.loss,
        most=side.answer.most.sticker,
        lower_bound=value.lower_bound,
        by_line=[
            LineShareOut(
                line=share.line,
                name=share.name,
                cards=share.cards,
                hits=share.hits,
                value=share.value,
                share=None if share.value is None or whole <= 0 else share.value / whole,
            )
            for share in value.by_line
        ],
        curve=_show_curve(draw_curve(value.outcomes, reach)),
        odds={line.id: write_odds(line, fmt.id, None) for line in sheet.lines if line.kind is not LineKind.BASE},
    )


def show_simulation(found: Simulation) -> out.SimulationOut:
    task = found.task
    same = ("number", "kind", "state", "done", "total", "asked", "result", "fault")
    return out.SimulationOut(
        seed=task.asked["seed"], is_current=found.is_current, **{name: getattr(task, name) for name in same}
    )
