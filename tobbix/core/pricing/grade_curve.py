"""The value of a card by its grade: it never falls as the grade rises, though thin and old sales say so (Rule C-19).

Example: grades 3 to 8 at 180, 32, 175, 240, 233, 720 with weights 4, 1, 3, 3, 2, 1 are fitted at 127.42, 127.42, 175,
237.18, 237.18, 720.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.maths.severity import Array


@dataclass(frozen=True, slots=True)
class GradeValue:
    """What a grade went for (money; None: it has no sales), and the weight of its sales: the sum over them of
    2^(-age / half-life)."""

    grade: str
    value: float | None
    weight: float = 1.0


@dataclass(frozen=True, slots=True)
class Fitted:
    """A grade's raw ``value`` and the ``fitted`` one (money; None: not known); ``estimated`` from its neighbours."""

    grade: str
    value: float | None
    fitted: float | None
    estimated: bool


@dataclass(frozen=True, slots=True)
class GradeCurve:
    """All grades upwards, and the pairs of neighbours of which the lower went for more."""

    fit: tuple[Fitted, ...]
    reversals: tuple[tuple[str, str], ...]


def rise(values: Array, weights: Array) -> Array:
    """The never falling values nearest to some (weighted least squares), by pooling neighbours that violate it (Barlow
    and others 1972, *Statistical Inference under Order Restrictions*). Rule C-19.

    >>> [float(value) for value in rise(np.array([1.0, 3.0, 2.0]), np.ones(3))]
    [1.0, 2.5, 2.5]
    """
    pools: list[tuple[float, float, int]] = []  # mean, weight, how many
    for value, weight in zip(values.tolist(), weights.tolist(), strict=True):
        pool = (value, weight, 1)
        while pools and pools[-1][0] >= pool[0]:
            mean, heavy, count = pools.pop()
            both = heavy + pool[1]
            pool = ((mean * heavy + pool[0] * pool[1]) / both, both, count + pool[2])
        pools.append(pool)
    return np.repeat([mean for mean, *_ in pools], [count for *_, count in pools])


def fit_curve(grades: Sequence[GradeValue], ratios: Mapping[str, float] | None = None) -> GradeCurve:
    """Fit values by grade, upwards; a grade without sales lies between its fitted neighbours, by its place or by the
    ``ratios`` of its set, and beyond them it is unknown. Rule C-19.

    Raises InputError for a grade that is there twice, a value, a weight or a ratio that is not more than 0.
    """
    faults = []
    for at, item in enumerate(grades):
        if item.grade in {other.grade for other in grades[:at]}:
            faults.append(Fault(f"grades[{at}].grade", f"“{item.grade}” is there twice"))
        if item.value is not None and not item.value > 0:
            faults.append(Fault(f"grades[{at}].value", "must be more than 0"))
        if not item.weight > 0:
            faults.append(Fault(f"grades[{at}].weight", "must be more than 0"))
    faults += [Fault(f"ratios.{g}", "must be more than 0") for g, ratio in (ratios or {}).items() if not ratio > 0]
    if faults:
        raise InputError(faults)
    known = [at for at, item in enumerate(grades) if item.value is not None]
    raw = np.array([log(grades[at].value or 1.0) for at in known])
    logs = dict(zip(known, rise(raw, np.array([grades[at].weight for at in known])).tolist(), strict=True))
    found = []
    for at, item in enumerate(grades):
        if at in logs:
            found.append(Fitted(item.grade, item.value, exp(logs[at]), False))
            continue
        below, above = max((k for k in known if k < at), default=None), min((k for k in known if k > at), default=None)
        if below is None or above is None:
            found.append(Fitted(item.grade, None, None, False))
            continue
        share = _share(grades, at, below, above, ratios)
        found.append(Fitted(item.grade, None, exp(logs[below] + share * (logs[above] - logs[below])), True))
    pairs = zip(known, known[1:], strict=False)
    return GradeCurve(
        tuple(found),
        tuple((grades[a].grade, grades[b].grade) for a, b in pairs if (grades[a].value or 0) > (grades[b].value or 0)),
    )


def _share(grades: Sequence[GradeValue], at: int, below: int, above: int, ratios: Mapping[str, float] | None) -> float:
    """How far a grade lies between two others: by its place in the list, or by its set's ratios where they tell."""
    said = [None if ratios is None else ratios.get(grades[place].grade) for place in (below, at, above)]
    low, here, high = (None if ratio is None else log(ratio) for ratio in said)
    if low is None or here is None or high is None or high == low:
        return (at - below) / (above - below)
    return (here - low) / (high - low)
