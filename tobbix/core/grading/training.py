"""Training the eye: what a trainee measured and said of a card against what is known of it (Rule C-41).

Simulated scans have borders that are known; own cards have the grade that came back. Kept are the errors of centering
in percentage points with their bias by direction, and the Brier score of the chances. A bias is offered as a
correction, never applied unasked.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from tobbix.core.base.results import Run, Verdict

LEAST = 8  # trials before a bias is spoken of


@dataclass(frozen=True, slots=True)
class BorderTrial:
    """Left and top as percent of both borders, as they were placed and as they are."""

    placed: tuple[float, float]
    known: tuple[float, float]

    @property
    def errors(self) -> tuple[float, float]:
        """By how many points each was off; positive: too large."""
        return self.placed[0] - self.known[0], self.placed[1] - self.known[1]


@dataclass(frozen=True, slots=True)
class EyeBias:
    """The mean error of one direction (points), its 95 %, and the size of a usual error."""

    mean: float
    half: float
    usual: float

    @property
    def is_clear(self) -> bool:
        """Whether the record tells it from none."""
        return abs(self.mean) > self.half


@dataclass(frozen=True, slots=True)
class TrainedEye:
    """How a trainee does, over so many trials: left/right and top/bottom by themselves (None: too few)."""

    trials: int
    left_right: EyeBias | None
    top_bottom: EyeBias | None


def judge_eye(trials: Sequence[BorderTrial]) -> TrainedEye:
    """The biases of an eye. Rule C-41.

    >>> judge_eye([BorderTrial((52.0, 50.5), (50.0, 50.0))] * 10).left_right
    EyeBias(mean=2.0, half=0.0, usual=2.0)
    """
    if len(trials) < LEAST:
        return TrainedEye(len(trials), None, None)
    return TrainedEye(len(trials), *(_bias([trial.errors[at] for trial in trials]) for at in (0, 1)))


def _bias(errors: Sequence[float]) -> EyeBias:
    many = len(errors)
    mean = sum(errors) / many
    spread = sqrt(sum((error - mean) ** 2 for error in errors) / (many - 1))
    return EyeBias(mean, 1.96 * spread / sqrt(many), sum(map(abs, errors)) / many)


def score_chances(said: Sequence[tuple[float, bool]]) -> float | None:
    """The Brier score (1950) of chances of a gem that were said against what came; None for none. Rule C-41.

    >>> score_chances([(0.25, False), (1.0, True)])
    0.03125
    """
    return sum((chance - came) ** 2 for chance, came in said) / len(said) if said else None


def state_eye(eye: TrainedEye) -> Verdict:
    """How good the eye is at borders, and what to mind."""
    if eye.left_right is None or eye.top_bottom is None:
        left = LEAST - eye.trials
        more = "card" if left == 1 else "cards"
        return Verdict((Run(f"{left} more {more}", "trials", True), Run(" until your record says something.")), ())
    usual = (eye.left_right.usual + eye.top_bottom.usual) / 2
    sentence = [Run("You are off by "), Run(f"{usual:.1f} points", "error", True), Run(" on average")]
    leans = [
        f"{abs(it.mean):.1f} too much at the {names[0] if it.mean > 0 else names[1]}"
        for it, names in ((eye.left_right, ("left", "right")), (eye.top_bottom, ("top", "bottom")))
        if it.is_clear
    ]
    rest = f": {' and '.join(leans)}." if leans else ", with no lean that could be told from chance."
    return Verdict((*sentence, Run(rest)), (Run(f"{eye.trials} cards."),))
