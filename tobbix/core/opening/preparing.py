"""What is done before the first pack is cut, by what lies on the table. Common practice, no source."""

from tobbix.core.base.steps import Step
from tobbix.core.products.sheet import Format


def prepare(fmt: Format, boxes: int, are_whole: bool, cost_known: bool) -> tuple[Step, ...]:
    """The steps before a session of so many boxes; those that have no use for it are left out."""
    packs = f"{fmt.packs_per_box} packs" if fmt.packs_per_box != 1 else "1 pack"
    steps = []
    if are_whole:
        wrap = "The wrap of every box" if boxes > 1 else "The wrap of the box"
        steps += [
            Step("wrap", f"{wrap} is whole: photograph all sides.", "A claim for a resealed one needs it."),
            Step("film", "Film from the wrap to the last pack, in one take.", "What is missing can be shown then."),
            Step("count", f"Count the packs: {packs} in a box.", "One too few is said before it is opened."),
            Step("weigh", "Weigh it and log the weight, if you weigh.", "Only your own weights say whether it tells."),
        ]
    if not cost_known:
        steps.append(Step("cost", "Say what it cost, if you can.", "Without it there is no result."))
    steps += [
        Step("sleeves", "Sleeves and top loaders lie ready.", "A hit goes from the pack into a sleeve."),
        Step("hands", "Hands and table are clean and dry; no drinks.", ""),
        Step("blade", "Cut wraps away from your fingers.", "A blade stays off the packs and the cards."),
        Step("codes", "A place for codes and redemption cards.", "They run out; log them the same day."),
    ]
    return tuple(steps)
