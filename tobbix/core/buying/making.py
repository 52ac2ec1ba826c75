"""Make or buy a wanted grade: what a copy costs by grading raw ones, beside the slab (C-24)."""

from dataclasses import dataclass

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.products.verdict import amount_words


@dataclass(frozen=True, slots=True)
class Made:
    """What one copy at a wanted grade costs by grading raw ones (money), how many are graded for it on average, and
    what the ``slab``, and one a grade ``lower``, costs all-in beside it (None: not known)."""

    cost: float
    tries: float
    slab: float | None
    lower: float | None


def make_or_buy(
    raw: float, grading: float, chance: float, miss_net: float, slab: float | None = None, lower: float | None = None
) -> Made:
    """What a copy at a wanted grade costs by grading raw ones: (raw all-in + grading - (1 - q) x mean net of the
    misses) / q, with q the chance of the grade or better. Rule C-24.

    ``raw``, ``grading``, ``miss_net``, ``slab`` and that of a grade ``lower``: money. Raises InputError.

    >>> round(make_or_buy(20, 25, 0.3, 30).cost, 2)
    80.0
    """
    faults = [
        Fault(name, "must not be negative")
        for name, amount in (("raw", raw), ("grading", grading), ("miss_net", miss_net), ("slab", slab or 0.0))
        if amount < 0
    ]
    if not 0 < chance <= 1:
        faults.append(Fault("chance", "must be more than 0 and at most 100 %"))
    if faults:
        raise InputError(faults)
    return Made((raw + grading - (1 - chance) * miss_net) / chance, 1 / chance, slab, lower)


def state_made(found: Made, currency: str) -> Verdict:
    """Whether to grade raw copies or to buy the slab, and by how much. Rule C-24."""

    def words(amount: float) -> str:
        return amount_words(amount, currency)

    made = Run(words(max(found.cost, 0.0)), "made", True)
    tries = f"{found.tries:.1f}".removesuffix(".0")
    ground = [
        Run(f"About {tries} raw {'copy is' if tries == '1' else 'copies are'} graded for one; the misses are sold.")
    ]
    if found.lower is not None:
        ground.append(Run(f" A grade lower costs {words(found.lower)}: buy that if the label is not what you want."))
    ground.append(Run(" It may take many more: one that comes out well pays for those that do not."))
    if found.cost <= 0:
        return Verdict((Run("Grade raw ones: "), Run("the misses pay for it", "made", True), Run(".")), tuple(ground))
    if found.slab is None:
        return Verdict((Run("Making one costs about "), made, Run("; say what the slab costs.")), tuple(ground))
    gap = abs(found.slab - found.cost)
    if found.cost < found.slab:
        said = (
            Run("Grade raw ones: about "),
            made,
            Run(f" a copy, {words(gap)} less than the slab at {words(found.slab)}."),
        )
    else:
        said = (Run("Buy the slab at "), Run(words(found.slab), "slab", True),
                Run(f": making one costs about {words(found.cost)}, {words(gap)} more."))  # fmt: skip
    return Verdict(said, tuple(ground))
