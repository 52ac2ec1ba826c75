"""Borrowed values: the rule's example, the same by plain matrices in this test, and a simulated market with known truth
(C-37)."""

from datetime import date, timedelta
from decimal import Decimal

import numpy as np
import pytest
from scipy import optimize

from tobbix.core.base.errors import InputError
from tobbix.core.maths.mixed import Crossed, fit_under, fit_variances
from tobbix.core.pricing.borrowing import Borrowing, Spread, borrow
from tobbix.core.pricing.comps import Comp, CompKind
from tobbix.core.pricing.observing import CardKey, Observation, Rates

ON = date(2026, 11, 1)
GIVEN = Spread(0.5, 1.0, 0.0, 0.2, 0.15)


def sale(subject: str | None, line: str, price: float, ago: int = 0, state: str = "NM", kind: CompKind = CompKind.SOLD,
         number: str | None = None, at: int = 0) -> Observation:  # fmt: skip
    comp = Comp(kind, ON - timedelta(ago), Decimal(f"{price:.4f}"), "EUR", Decimal(0), Decimal(0), state)
    return Observation(f"{subject}{line}{price}{ago}{at}", CardKey("r", line, number or str(subject)), comp, subject)


def worth(found: Borrowing, number: str, line: str, state: str = "NM") -> list[float | None]:
    it = next(v for v in found.values if (v.card.number, v.card.line, v.state) == (number, line, state))
    return [None if x is None else round(x, 4 if number == "A" else 3) for x in (it.estimate, it.low, it.high)]


def test_the_example_of_the_rule() -> None:
    rows = [sale("A", "base", 2.00), sale("A", "base", 2.20), sale("A", "gold", 9.00), sale("B", "base", 5.00),
            sale("B", "gold", 99, kind=CompKind.ASK), sale("C", "gold", 99, kind=CompKind.BOOK_LOW)]  # fmt: skip
    found = borrow(rows, ON, Rates("EUR"), spread=GIVEN)
    bare = [v.estimate for v in found.values if v.card.number in "BC" and v.card.line == "gold"]
    assert [round(it or 0, 3) for it in bare] == [17.056, 12.138] and worth(found, "A", "base")[0] == 2.1457
    own = next(v for v in found.values if v.card == CardKey("r", "base", "A"))
    assert own.own_sales == 2 and 0.9 < own.own_weight < 1
    gold = next(v for v in found.values if v.card == CardKey("r", "gold", "B"))
    assert gold.low and gold.estimate and gold.high  # two lines are few: the rule's interval is widened by what is said
    ends = [gold.estimate * (end / gold.estimate) ** (1 / found.widened) for end in (gold.low, gold.high)]
    assert found.widened >= 1 and ends == pytest.approx([9.756, 29.818], abs=5e-4)
    # one way: variance between 0.09, within 0.04, the mean of 20 known: two sales about 30 make 27.868
    others = 50_000  # units at 20 each: then the mean is as good as known
    values = np.log([30, 30, *[20] * others])
    known = Crossed(values, np.zeros(values.size), np.r_[0, 0, 1 : others + 1], others + 1, [], [])
    assert float(np.exp(fit_under(known, [], 0.09, 0.04).predict(0, [])[0])) == pytest.approx(27.868, abs=1e-3)
    with pytest.raises(InputError, match="at least 20"):
        borrow(rows, ON, Rates("EUR"))
    with pytest.raises(InputError, match="several releases"):
        borrow([*rows, Observation("x", CardKey("s", "base", "A"), rows[0].comp)], ON, Rates("EUR"), spread=GIVEN)


def test_variances_effects_and_held_out_sales_are_those_of_plain_matrices() -> None:
    random = np.random.default_rng(37)
    n, many = 60, [6, 3, 2]
    levels = [random.integers(0, m, n) for m in many]
    unit = levels[0] * 3 + levels[1]
    unit = np.unique(unit, return_inverse=True)[1]
    age = random.uniform(0, 365, n)
    y = 1 + 0.0004 * age + random.normal(0, 0.2, n) + random.normal(0, 0.25, unit.max() + 1)[unit]
    for level, deviation, many_of in zip(levels, (0.5, 0.9, 0.3), many, strict=True):
        y = y + random.normal(0, deviation, many_of)[level]
    model = Crossed(y, age, unit, int(unit.max()) + 1, levels, many)
    x = np.c_[np.ones(n), age]
    z = [np.eye(m)[level] for m, level in zip([*many, model.units], [*levels, unit], strict=True)]

    def plain(variances: np.ndarray) -> tuple[float, np.ndarray]:
        """-2 log of the restricted likelihood by its definition, and the projection P."""
        v = sum(s * part @ part.T for s, part in zip(variances[:4], z, strict=True)) + variances[4] * np.eye(n)
        inverse = np.linalg.inv(v)
        inner = x.T @ inverse @ x
        p = inverse - inverse @ x @ np.linalg.solve(inner, x.T @ inverse)
        return float(np.linalg.slogdet(v)[1] + np.linalg.slogdet(inner)[1] + y @ p @ y), p

    groups, own, noise = fit_variances(model)
    ours = plain(np.array([*groups, own, noise]))[0]
    theirs = optimize.minimize(lambda logs: plain(np.exp(logs))[0], np.zeros(5), method="Nelder-Mead",
                               options={"maxiter": 4_000, "maxfev": 8_000, "xatol": 1e-4, "fatol": 1e-6})  # fmt: skip
    assert ours <= theirs.fun + 1e-3
    variances = np.array([0.25, 0.8, 0.1, 0.06, 0.04])
    fit = fit_under(model, list(variances[:3]), 0.06, 0.04)
    p = plain(variances)[1]
    beta = np.linalg.solve(
        *(lambda v: (x.T @ v @ x, x.T @ v @ y))(
            np.linalg.inv(sum(s * part @ part.T for s, part in zip(variances[:4], z, strict=True)) + 0.04 * np.eye(n))
        )
    )
    assert fit.effects[:2] == pytest.approx(beta)
    held, spread = fit.left_out(np.arange(n))
    assert held == pytest.approx(p @ y / np.diag(p)) and spread == pytest.approx(1 / np.diag(p))
    # a unit's prediction and how much its own sales weigh in it: by the plain predictor
    at = [int(levels[g][0]) for g in range(3)]
    cov = sum(s * part @ part[0] for s, part in zip(variances[:4], z, strict=True))
    plain_value = np.array([1.0, 0.0]) @ beta + cov @ p @ y
    assert fit.predict(int(unit[0]), at)[0] == pytest.approx(plain_value)
    same = np.flatnonzero((unit == unit[0]) & (levels[2] == levels[2][0]))
    moved = Crossed(y + 1e-3 * np.isin(np.arange(n), same), age, unit, model.units, levels, many)
    change = fit_under(moved, list(variances[:3]), 0.06, 0.04).predict(int(unit[0]), at)[0] - plain_value
    assert fit.weight_of(int(unit[0]), at, same) == pytest.approx(change / 1e-3)


def market(random: np.random.Generator, rare: bool) -> tuple[list[Observation], dict[tuple[str, str], float]]:
    """40 subjects in 12 lines by the variances of the design; every second version never sells."""
    subjects, lines = random.normal(0, 0.5, 40), random.normal(0, 1, 12)
    rows, truth = [], {}
    for s in range(40):
        for line in range(12):
            middle = 1.5 + subjects[s] + lines[line] + random.normal(0, 0.2)
            truth[f"{s}", f"l{line}"] = middle
            count = 0 if (s + line) % 2 and rare else 1 + random.poisson(0.6)
            rows += [
                sale(f"S{s}", f"l{line}", float(np.exp(middle + random.normal(0, 0.15))), int(random.integers(0, 360)),
                     number=f"{s}", at=at)
                for at in range(count)
            ]  # fmt: skip
            rows.append(sale(f"S{s}", f"l{line}", 99, kind=CompKind.ASK, number=f"{s}"))
    return rows, truth


def test_intervals_of_cards_without_sales_hold_the_truth_as_often_as_they_say() -> None:
    inside, total, errors, naive, honest, spreads = 0, 0, [], [], [], []
    for seed in range(4):
        rows, truth = market(np.random.default_rng(100 + seed), True)
        found = borrow(rows, ON, Rates("EUR"))
        means: dict[str, list[float]] = {}
        for seen in rows:
            if seen.comp.kind is CompKind.SOLD:
                means.setdefault(seen.card.line, []).append(float(np.log(float(seen.comp.price))))
        for it in found.values:
            if it.own_sales == 0:
                true = truth[it.card.number, it.card.line]
                assert it.estimate and it.low and it.high
                inside, total = inside + (np.log(it.low) <= true <= np.log(it.high)), total + 1
                errors.append(abs(np.log(it.estimate) - true))
                naive.append(abs(np.mean(means[it.card.line]) - true))
        honest.append(found.coverage.within)
        spreads.append([found.spread.subject, found.spread.line, found.spread.version, found.spread.sale])
    # twelve lines tell their own variance only to a third or so
    assert np.mean(spreads, axis=0) == pytest.approx([0.5, 1, 0.2, 0.15], rel=0.35)
    assert 0.75 <= inside / total <= 0.85
    assert np.mean(errors) < np.mean(naive) / 2
    assert all(it is not None and 0.75 <= it <= 0.88 for it in honest)


def test_what_nothing_tells_stays_unknown_and_far_off_sales_are_left_out() -> None:
    rows, _ = market(np.random.default_rng(9), False)
    found = borrow(rows, ON, Rates("EUR"), ["NM", "HP"])
    assert worth(found, "3", "l2", "HP") == [None, None, None]  # no sale in any other state tells what HP does
    steady = [sale("S0", "l0", 10 + 0.1 * at, at, number="0", at=at) for at in range(8)]
    wild = [sale("S0", "l0", 400, 3, number="0")]
    with_it, without = borrow([*rows, *steady, *wild], ON, Rates("EUR")), borrow([*rows, *steady], ON, Rates("EUR"))
    assert worth(with_it, "0", "l0") == worth(without, "0", "l0")
