"""The sentences of the planning pages: how sure, the whole set, how many exist."""

from collections.abc import Sequence

from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.completing import SetAnswer
from tobbix.core.products.producing import Production
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.sureness import HoldingLoss, MarketCurves, MeanSpread, surest
from tobbix.core.products.valuation import Valuation
from tobbix.core.products.verdict import amount_words, basis_words, guessed, often


def state_sureness(
    holdings: Sequence[HoldingLoss],
    curves: MarketCurves,
    mixed_loss: float | None,
    spread: MeanSpread,
    box: BoxValue,
) -> Verdict:
    """The surest loss first, then what a halved market makes of one box. Rule C-06."""
    currency = box.valuation.sheet.currency
    ground = [
        Run(basis_words(box.valuation.worth, currency), "basis"),
        Run(". Because prices are uncertain, the average itself lies between "),
        Run(amount_words(spread.low, currency), "low"),
        Run(" and "),
        Run(amount_words(spread.high, currency), "high"),
        Run(" nine times in ten."),
    ]
    if guess := guessed(box.valuation):
        ground += [Run(" "), *guess]
    worst = surest(holdings)
    box_loss = next((item.loss for item in holdings if item.name == "Box"), None)
    if worst is None or box_loss is None or curves.at_price is None or worst.loss is None:
        sentence = [Run("Give today’s price", "price", True), Run(" to see how sure a loss is.")]
        return Verdict(tuple(sentence), tuple(ground))
    halved = 1 - float(curves.at_price[curves.factors.index(0.5)])
    bound = box.lower_bound

    def loses(loss: float, figure: str | None = None) -> list[Run]:
        return often("loses", loss, "time", "times", figure, bound)

    sentence = [Run("One box "), *loses(box_loss, "loss")]
    if worst.name != "Box" and worst.loss > box_loss + 0.005:
        sentence += [Run(f", a {_lower(worst.name)} "), *loses(worst.loss)]
    sentence += [Run("; if the market halves before you sell, a box "), *loses(halved), Run(".")]
    if mixed_loss is not None:
        ground += [Run(" With the market as unsure as you say, a box "), *loses(mixed_loss), Run(".")]
    return Verdict(tuple(sentence), tuple(ground))


def _lower(name: str) -> str:
    return name[0].lower() + name[1:]


def state_set(
    answer: SetAnswer, currency: str, made: float | None = None, valuation: Valuation | None = None
) -> Verdict:
    """How many packs a set takes, and where buying the rest begins to be cheaper; ``made`` packs, or boxes where those
    are counted, exist, about, and more are never asked for. The guesses in a ``valuation`` are named. Rule C-09."""
    many = "boxes" if answer.unit == "box" else "packs"
    about = "" if answer.error is None else "about "
    sentence = [
        Run(f"To complete {answer.pieces.name} takes {about}"),
        Run(f"{answer.mean:,.0f} {many}", "mean", True),
        Run(" on average. "),
    ]
    stop, buy_all = answer.stop, answer.buy_all
    if made is not None and answer.mean > made:
        sentence = [
            Run(f"{answer.pieces.name[0].upper()}{answer.pieces.name[1:]}: not to be had that way", "mean", True),
            Run(f". It would take {answer.mean:,.0f} {many}, and only about {made:,.0f} were made. "),
        ]
    if answer.pays:
        sentence += [
            Run("Each one pays for itself at these prices", "pays", True),
            Run(": there is no point at which buying the rest is cheaper."),
        ]
    elif stop is None or buy_all is None:
        sentence.append(Run("Give the box’s price and the cards’ to see where to stop."))
    elif stop.packs == 0:
        sentence += [
            Run("Buy it card by card instead: "),
            Run(amount_words(buy_all, currency), "buy_all", True),
            Run("."),
        ]
    else:
        sentence += [
            Run("Stop after "),
            Run(f"{stop.packs:,.0f} {many if stop.packs != 1 else answer.unit}", "stop", True),
            Run(f" and buy the rest: {amount_words(stop.cost or 0.0, currency)} in all."),
        ]
    ground = [Run("Worked out exactly" if answer.error is None else f"Simulated, give or take {2 * answer.error:,.1f}")]
    words = ", a pack may hold a card twice" if answer.repeats else ", no card twice in a pack"
    ground.append(Run(words if answer.unit == "pack" else ", box by box"))
    if answer.short:
        ground.append(Run(f", {answer.short} short prints come less often"))
    ground.append(Run(". Half of all tries are done sooner than "))
    ground.append(Run("unknown" if answer.half is None else f"{answer.half:,.0f} {many}", "half"))
    ground.append(Run("."))
    if answer.pieces.missing_lines:
        ground.append(Run(f" Not from this format: {', '.join(answer.pieces.missing_lines)}."))
    if valuation is not None and (guess := guessed(valuation)):
        ground += [Run(" "), *guess]
    return Verdict(tuple(sentence), tuple(ground))


def state_production(sheet: ProductSheet, production: Production) -> Verdict:
    """How many boxes were made of what is best known. Rule C-10."""
    known = [item for item in production.formats if item.packs is not None]
    silent = [item for item in production.estimates if item.packs is None]
    rest: tuple[Run, ...] = ()
    if silent:
        names = ", ".join(item.name for item in silent)
        rest = (Run(f"Not identified: {names} ({silent[0].why})."),)
    if not known:
        if not production.estimates:
            return Verdict((Run("No numbered line tells", "unknown", True), Run(" how many were made.")), rest)
        return Verdict((Run("How many were made is not identified", "unknown", True), Run(" by these odds.")), rest)
    best = max(known, key=lambda item: item.estimates)
    fmt = sheet.format_by_id[best.format]
    boxes, packs = best.boxes or 0.0, best.packs or 0.0
    what = f"{_rounded(boxes)} of the {fmt.name}" if fmt.packs_per_box > 1 else f"{_rounded(packs)} of the {fmt.name}"
    sentence = [Run("About "), Run(what, "made", True), Run(" were made")]
    if best.estimates > 1 and best.low is not None and best.high is not None:
        low, high = best.low / fmt.packs_per_box, best.high / fmt.packs_per_box
        sentence.append(Run(f": {best.estimates} lines say between {_rounded(low)} and {_rounded(high)}"))
    else:
        sentence.append(Run(", as one line says; there is nothing to check it by"))
    sentence.append(Run("."))
    return Verdict(tuple(sentence), rest)


def _rounded(figure: float) -> str:
    """A count to three digits, as an estimate is said."""
    return f"{float(f'{figure:.3g}'):,.0f}"
