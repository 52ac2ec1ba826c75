"""The sentence that a box's page opens with: where things stand at today's price, and what that rests on."""

from dataclasses import dataclass

from tobbix.core.base.money import Money
from tobbix.core.base.results import Matter, Run, Verdict
from tobbix.core.products.box_value import BoxValue
from tobbix.core.products.chase import Chase
from tobbix.core.products.most_to_pay import BuyingCosts, MostToPay, PayingRule, Standard
from tobbix.core.products.valuation import Unit, Valuation
from tobbix.core.products.worth import ValueBasis, Worth

_NEVER = 1e-9
_NAMED = 3
_LEFT = {
    Matter.ODDS: "left out",
    Matter.PRICE: "left out",
    Matter.RESULTS: "left out",
    Matter.SPLIT: "split unknown",
}


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked for a holding: ``sticker`` price, what it costs ``landed``, and ``outlay``, with the owner's time
    for opening it (money); None if not known."""

    sticker: float | None
    landed: float | None
    outlay: float | None


def ask(sticker: float | None, value: BoxValue, costs: BuyingCosts) -> Asked:
    """What a holding costs at a sticker price per box or pack, bought together."""
    if sticker is None:
        return Asked(None, None, None)
    total = sticker * value.holding.boxes
    landed = costs.landed(total)
    return Asked(total, landed, landed + costs.time * value.boxes)


def basis_words(worth: Worth, currency: str) -> str:
    """What the values rest on, as a person says it."""
    if worth.way is None:
        words = "Before selling costs"
    elif worth.basis is ValueBasis.FLOOR:
        words = f"Net of {worth.way.name}’s fees, cards under {amount_words(worth.floor, currency)} as bulk"
    else:
        words = f"Net of {worth.way.name}’s fees"
    if worth.factor != 1:
        words += f", prices at {worth.factor * 100:g} % of today’s"
    if worth.horizon.kept < 1:
        words += f", {worth.horizon.months:g} months of falling prices"
    return words


def in_words(chance: float, singular: str, plural: str) -> str:
    """A chance as people say it, never rounded to a certainty that it is not.

    >>> in_words(0.826, "box", "boxes"), in_words(0.9972, "box", "boxes"), in_words(0.004, "box", "boxes")
    ('8 boxes out of 10', '997 boxes out of 1,000', '4 boxes out of 1,000')
    """
    if chance <= _NEVER or chance >= 1 - _NEVER:
        return f"no {singular}" if chance < 0.5 else f"every {singular}"
    for whole, near in ((10, 0.03), (100, 1.0), (1_000, 1.0)):
        count = round(chance * whole)
        if 0 < count < whole and abs(chance - count / whole) <= near:
            return f"{count} {singular if count == 1 else plural} out of {whole:,}"
    return f"fewer than 1 {singular} out of 1,000" if chance < 0.5 else f"more than 999 {plural} out of 1,000"


def often(verb: str, chance: float, one: str, many: str, figure: str | None = None, bounded: bool = False) -> list[Run]:
    """How often something happens, after its subject; ``bounded``: that often at most, since something is unknown.

    >>> "".join(run.text for run in often("loses", 0.8, "box", "boxes", bounded=True))
    'may lose in up to 8 boxes out of 10'
    >>> ["".join(run.text for run in often("lose", chance, "box", "boxes")) for chance in (0.0, 1.0)]
    ['never lose', 'lose in every box']
    """
    marked = figure is not None
    if chance <= _NEVER:
        return [Run("never", figure, marked), Run(f" {verb}")]
    words = in_words(chance, one, many)
    if bounded:
        verb = f"may {verb.removesuffix('s')}"
        verb += " in" if chance >= 1 - _NEVER else " in up to"
    else:
        verb += " in"
    return [Run(f"{verb} "), Run(words, figure, marked)]


def least_often(name: str, loss: float, bounded: bool) -> list[Run]:
    """Which of several loses least often, and how often."""
    if loss <= _NEVER:
        return [Run(f"{name} "), *often("loses", loss, "time", "times", "loss")]
    words = Run(in_words(loss, "time", "times"), "loss", True)
    return [Run(f"{name} loses least often: in {'up to ' if bounded else ''}"), words]


def guesses_of(valuation: Valuation) -> tuple[str, ...]:
    """What counts in a valuation that nobody knows: what the owner assumes, what counts by rule, what is left out."""
    names = {
        Matter.ODDS: "your odds of {0} ({1})",
        Matter.RESULTS: "your own odds of {0} ({1})",
        Matter.PRICE: "your price of unknown cards of {0}",
        Matter.SPLIT: "your split of {0} ({1})",
    }
    found = [names[item.matter].format(item.name, item.words) for item in valuation.assumed if item.by_owner]
    for item in valuation.assumed:
        if not item.by_owner:
            count = len(item.cards)
            prices = "one price" if count == 1 else f"{count} prices"
            found.append(f"{prices} of {item.name} at its average")
    left_out = [f"{left.name} {_LEFT[left.matter]}" for left in valuation.left_out()]
    return (*found, *dict.fromkeys(left_out))


def guessed(valuation: Valuation) -> list[Run]:
    """The same as a sentence, with a blank after it; nothing where all is known."""
    guesses = guesses_of(valuation)
    if not guesses:
        return []
    many = "a guess" if len(guesses) == 1 else f"{len(guesses)} guesses"
    named, others = "; ".join(guesses[:_NAMED]), len(guesses) - _NAMED
    return [
        Run(f"It rests on {many}: "),
        Run(named + (f"; and {others} more" if others > 0 else ""), "guess"),
        Run(". "),
    ]


def amount_words(value: float, currency: str) -> str:
    """An estimate as an amount of money, rounded once."""
    return f"{Money.from_estimate(value, currency).amount:,}"


def state_verdict(value: BoxValue, asked: Asked, most: MostToPay, rule: PayingRule, case: float | None) -> Verdict:
    """One sentence with the answer and one with its ground, figures named. Rules C-04 and C-07.

    ``case`` is the chance that a case loses, or None.
    """
    currency = value.valuation.sheet.currency
    one, many, this = nouns_of(value)
    at_least = "at least " if value.lower_bound else ""
    sentence: list[Run]
    if value.mean <= 0 and value.lower_bound:  # what is known to be worth nothing is no unknown
        sentence = [
            Run(f"Nothing is known of what {this} is worth: "),
            Run("no line has enough prices", "unknown", True),
        ]
        sentence.append(Run(". Give the prices of its cards first."))
        return Verdict(tuple(sentence), _ground(value, None))
    if asked.outlay is None or asked.sticker is None:
        sentence = [
            Run(f"{this[0].upper()}{this[1:]} holds {at_least}"),
            Run(amount_words(value.outcomes.quantile(0.5), currency), "middle", True),
            Run(" in the middle and "),
            Run(amount_words(value.mean, currency), "mean", True),
            Run(" on average. Give today’s price to see how likely it is to lose."),
        ]
        return Verdict(tuple(sentence), _ground(value, case))
    loss = 1 - value.outcomes.chance_at_least(asked.outlay)
    sentence = [
        Run("At "),
        Run(amount_words(asked.sticker, currency), "price"),
        Run(" you "),
        *often("lose", loss, one, many, "loss", value.lower_bound),
        Run(". "),
    ]
    limit = Run(amount_words(most.sticker, currency), "most_to_pay", True)
    reason = "half of them pay" if rule.standard is Standard.CHANCE and rule.chance == 0.5 else "your rule holds"
    if most.sticker <= 0:
        sentence.append(Run("No price meets your rule; leave it sealed, or leave it."))
    elif asked.sticker > most.sticker:
        sentence += [Run("Open only under "), limit, Run(".")]
    else:
        sentence += [Run("It stays worth opening up to "), limit, Run(f", where {reason}.")]
    return Verdict(tuple(sentence), _ground(value, case))


def nouns_of(value: BoxValue) -> tuple[str, str, str]:
    """What one, several and this one are called: a box, a tin, a pack, a case, a lot."""
    if value.holding.unit is Unit.PACK:
        return "pack", "packs", "a pack"
    count = value.holding.boxes
    if count == 1:
        last = value.valuation.format.name.split()[-1].lower()
        one = last if last.isalpha() and last.isascii() else "box"
        return one, one + ("es" if one.endswith(("x", "s", "ch")) else "s"), f"a {one}"
    if count == value.valuation.format.boxes_per_case:
        return "case", "cases", "a case"
    return "time", "times", f"a lot of {count} boxes"


def _ground(value: BoxValue, case: float | None) -> tuple[Run, ...]:
    currency = value.valuation.sheet.currency
    parts = [Run(basis_words(value.valuation.worth, currency), "basis")]
    if value.lower_bound:
        parts.append(Run(", and a lower bound"))
    if value.holding.searched > 0:
        parts.append(Run(f"; {value.holding.searched * 100:g} % of loose packs counted as searched, their hits gone"))
    if value.outcomes.samples:
        parts.append(Run("; further copies sell for less, so the spread comes from a simulation"))
    parts += [Run(". "), *guessed(value.valuation)]
    if case is not None:
        parts += [Run("A case "), *often("loses", case, "case", "cases", "case_loss", value.lower_bound), Run(". ")]
    if value.cards and value.top_heavy.best_one is not None:
        best = value.cards[0]
        parts += [
            Run("What carries most: "),
            Run(f"{best.subject}, {best.line_name}", "best_card"),
            Run(f", with {value.top_heavy.best_one * 100:.0f} % of the value at "),
            Run(amount_words(best.price, currency), "best_price"),
            Run(" a copy."),
        ]
    return tuple(parts)


def state_chase(found: Chase, what: str, valuation: Valuation, made: float | None = None) -> Verdict:
    """What it takes to pull ``what``, beside its price to buy; ``made`` boxes of the format exist, about. Rule C-08.

    More boxes than exist are never asked for (C-09). If something that the boxes hold is unknown, the net spend is at
    most what is said.
    """
    currency, bounded = valuation.sheet.currency, bool(valuation.left_out())
    by_chance = {item.chance: item for item in found.needed}
    likely, half, reached = by_chance[0.9].boxes, by_chance[0.5].boxes, by_chance[0.5].reached
    if likely is not None and made is not None and likely > made:
        sentence = [
            Run(f"{what[0].upper()}{what[1:]} is not to be had that way", "boxes", True),
            Run(f": nine chances in ten take {likely:,} boxes, and only about {made:,.0f} were made."),
        ]
    elif likely is None:
        sentence = [Run(f"Nobody opens enough boxes to pull {what}", "boxes", True), Run(".")]
    else:
        boxes = Run(f"{likely:,} {'box' if likely == 1 else 'boxes'}", "boxes", True)
        sentence = [Run(f"To pull {what} with nine chances in ten you open "), boxes, Run(".")]
    if found.until_first is not None and found.single is not None:
        spent, single = amount_words(abs(found.until_first), currency), amount_words(found.single, currency)
        word = ("spend up to" if bounded else "spend") if found.until_first >= 0 else "gain"
        sentence += [
            Run(f" Until the first comes you {word} "),
            Run(spent, "until_first", True),
            Run(" on average; to buy one costs "),
            Run(single, "single"),
            Run("."),
        ]
    ground = [Run(basis_words(valuation.worth, currency), "basis"), Run(", what else the boxes hold taken off. ")]
    ground += guessed(valuation)
    if half is not None and reached is not None:
        boxes_opened = "box" if half == 1 else "boxes"
        ground += [
            Run(f"With {half:,} {boxes_opened} it has come in "),
            Run(in_words(reached, "chase", "chases"), "half"),
        ]
        ground.append(Run(". "))
    ground.append(Run("One in so many boxes does not mean that so many boxes hold one."))
    return Verdict(tuple(sentence), tuple(ground))
