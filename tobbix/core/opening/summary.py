"""The sentences of the Opening step: what is being opened, and whether results are more than luck."""

from collections.abc import Sequence

from tobbix.core.base.results import Run, Verdict
from tobbix.core.opening.remaining import Remaining
from tobbix.core.opening.results import LineResult


def state_opening(running: int, boxes: int) -> Verdict:
    """How many sessions are not finished, and how many boxes or packs wait sealed. No cue to open them."""
    if running:
        many = "One session is" if running == 1 else f"{running} sessions are"
        sentence = [Run(f"{many} not finished", "running", True), Run("; nothing of it is lost.")]
    else:
        many = "nothing" if not boxes else "one box or pack" if boxes == 1 else f"{boxes} boxes or packs"
        sentence = [Run("Nothing is being opened", "running", True), Run(f"; {many} sealed on the desk.")]
    ground = (Run("Cut wrappers away from your fingers, and keep a blade off the cards. Opening usually loses money."),)
    return Verdict(tuple(sentence), ground)


def state_results(packs: int, results: Sequence[LineResult], stopped_hot: bool) -> Verdict:
    """Whether what came out of so many packs is more than luck. Rule C-13."""
    if not packs:
        return Verdict(
            (
                Run("No finished session of this format yet", "packs", True),
                Run("."),
            ),
            (),
        )
    known = [item for item in results if item.corrected is not None]
    odd = min(known, key=lambda item: item.corrected or 1.0, default=None)
    if odd is not None and (odd.corrected or 1.0) < 0.05:
        more = "more" if odd.observed > odd.expected else "less"
        sentence = [
            Run(f"{odd.name} came {more} often than its odds say", "odd", True),
            Run(f": {odd.observed} of {odd.expected:.1f} expected; by luck in {_of_100(odd.corrected or 0)}."),
        ]
    else:
        sentence = [
            Run("What came out fits the odds", "fits", True),
            Run(f": {packs} packs say nothing against any line."),
        ]
    ground = [Run("Corrected for having looked at many lines (Holm). ")]
    if stopped_hot:
        ground.append(Run("A session was stopped after a hot run, which biases the rates upward."))
    return Verdict(tuple(sentence), tuple(ground))


def state_some_packs(ahead: Remaining) -> list[Verdict]:
    """How likely 1, 2, ... of the packs left of the box that is open hold one of what it still owes. Rule C-12."""
    owed = ", ".join(f"{group.promised - group.seen} {group.name}" for group in ahead.live if group.left)
    left = f"of the {len(ahead.chances)} left of this box ({owed} still owed)"
    return [
        Verdict(
            (
                Run(f"{packs} pack" if packs == 1 else f"{packs} packs"),
                Run(f" {left}: at least one is in there with "),
                Run(f"{chance * 100:.1f} %", "chance", True),
                Run("."),
            ),
            (),
        )
        for packs, chance in enumerate(ahead.chances, 1)
    ]


def _of_100(chance: float) -> str:
    return "fewer than 0.1 of 100" if chance < 0.001 else f"{chance * 100:.1f} of 100"
