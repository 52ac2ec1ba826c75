"""Mixed-integer programs as rows of named coefficients, solved to proven optimality by HiGHS (Huangfu and Hall 2018)
through SciPy's ``milp``."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from scipy import optimize, sparse

from tobbix.core.maths.severity import Array

Row = tuple[Mapping[int, float], float, float]  # coefficients by variable, and what their sum is at least and at most


def find_least(
    cost: Array, rows: Sequence[Row], lower: Array, upper: Array, whole: Array, seconds: float | None = None
) -> Any:
    """The variables (shape (n,)) that cost least within their bounds and the ``rows``; ``whole`` is 1 where one must be
    whole. ``seconds``: how long to look at most. SciPy's result: its ``x`` is None where nothing was found."""
    matrix = sparse.csr_array(
        ([v for row, _, _ in rows for v in row.values()],
         ([r for r, (row, _, _) in enumerate(rows) for _ in row], [c for row, _, _ in rows for c in row])),
        shape=(len(rows), cost.size),
    )  # fmt: skip
    options = {"mip_rel_gap": 0.0, **({} if seconds is None else {"time_limit": seconds})}
    limits = optimize.LinearConstraint(matrix, [row[1] for row in rows], [row[2] for row in rows])
    bounds = optimize.Bounds(lower, upper)
    return optimize.milp(cost, integrality=np.asarray(whole), bounds=bounds, constraints=limits, options=options)
