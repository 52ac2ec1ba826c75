"""Whether to grade, in words: for one card the chance of a gem that it needs first, for many how many are worth it."""

from collections.abc import Mapping
from decimal import Decimal

from tobbix.core.base.results import Run, Verdict
from tobbix.core.grading.calibrating import GemRate
from tobbix.core.grading.gain import GradingGain
from tobbix.core.holdings.sentences import amount


def state_whether(
    gain: GradingGain | None, chances: Mapping[str, float], missing: str | None, rate: GemRate | None,
    months: Decimal | None, cost: Decimal, currency: str,
) -> Verdict:  # fmt: skip
    """Grade it only if a gem is likely enough; beside it how often the owner's own came true."""
    gem, chance = next(iter(chances.items()))
    ground = []
    if gain is None:
        sentence = [Run("Nobody can say yet", "gain", True), Run(f": {missing}.")]
        ground.append("Type it, or fetch sales of it, and come back.")
    else:
        even = gain.break_even
        if even.case == "always":
            sentence = [Run("Grade it whatever comes", "even", True), Run(": it pays by what the lower grades bring")]
        elif even.case == "never":
            sentence = [Run("Do not grade it to sell", "even", True), Run(f": not even a {gem} pays for it")]
        else:
            sentence = [
                Run(f"Grade it only if a {gem} is at least "), Run(_percent(float(even.gem or 0)), "even", True),
                Run(f" likely; you think {_percent(chance)}"),
            ]  # fmt: skip
        if rate is not None and rate.of >= 5:
            sentence.append(Run(f", yours come true in {_percent(rate.share)}"))
        sentence.append(Run("."))
        long = "" if months is None else f" in {float(months):.0f} months" if months >= 2 else " in a month or so"
        ground.append(
            f"About {_signed(float(gain.gain), currency)}{long} after {amount(cost, currency)} of costs; in "
            f"{float(gain.chance_of_loss) * 100:.0f} of 100 cases selling it as it is would have been better."
        )
        ground.append(
            "Populations are picked by those who sent cards in, and count resubmissions; grading is an opinion."
        )
    return Verdict(tuple(sentence), (Run(" ".join(ground)),))


def state_table(grader: str, tier: str, many: int, total: float, unknown: int, currency: str) -> Verdict:
    """How many cards are worth grading, and what they gain."""
    if many == 0:
        sentence = [Run("No card", "many", True), Run(f" here is worth grading at {grader}, {tier}.")]
    else:
        cards = "1 card is" if many == 1 else f"{many:,} cards are"
        sentence = [Run(cards, "many", True), Run(f" worth grading at {grader}, {tier}: "),
                    Run(amount(total, currency), "gain"), Run(" in all before parcels.")]  # fmt: skip
    rest = [] if not unknown else [
        f"Of {unknown:,} {'card' if unknown == 1 else 'cards'} too little is known: what they go for raw or in a grade."
    ]  # fmt: skip
    rest.append("Estimates, by the population, what was seen of a card and your own record.")
    return Verdict(tuple(sentence), (Run(" ".join(rest)),))


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %"


def _signed(money: float, currency: str) -> str:
    return f"{'+' if money >= 0 else '-'}{amount(abs(money), currency)}"
