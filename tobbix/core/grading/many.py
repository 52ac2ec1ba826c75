"""Expected gains of hundreds of cards at once, as a table to choose from (Rule C-26).

The same rule as for one card (``gain.work_out_gain``, exact), in floats over whole columns: 300 cards are revalued in
a few milliseconds. Estimates only; what is booked or sent is worked out by the exact one.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from tobbix.core.grading.gain import Cracking, TierLimit
from tobbix.core.maths.severity import Array
from tobbix.core.pricing.fees import SellingWay


@dataclass(frozen=True, eq=False)
class ManyGains:
    """By card (shape (n,)): the gain, what it nets on average and raw, the chance of a loss against selling it raw, the
    chance of a gem from which on grading pays (0 always, over 1 never), and the gain by unit of money tied up. NaN
    where a grade may come whose value is not known, or where that of the gem is not."""

    gain: Array
    expected_net: Array
    raw_net: Array
    chance_of_loss: Array
    even: Array
    per_tied: Array


def work_out_gains(
    chances: Array, values: Array, raw: Array, cost: Array, way: SellingWay, crack: Cracking | None = None,
    tier: TierLimit | None = None,
) -> ManyGains:  # fmt: skip
    """The gains of many cards. ``chances`` and ``values`` (money, NaN: not known) by card and grade from the gem down
    (shape (n, grades)), what they go for ``raw`` and what grading each costs (shape (n,), money). Rule C-26.
    """
    net = way.net_values(values)
    if crack is not None:
        price = raw if crack.price is None else np.full_like(raw, float(crack.price))
        cracked = (1 - float(crack.breakage)) * way.net_values(price) - float(crack.cost)
        net = np.maximum(net, cracked[:, None])
    net = np.maximum(net, 0.0)
    if tier is not None and tier.value_limit is not None:
        net = net - np.where(values > float(tier.value_limit), float(tier.up_charge), 0.0)
    comes = chances > 0
    is_known = ~((comes & np.isnan(values)).any(axis=1) | np.isnan(values[:, 0]))
    net = np.where(np.isnan(values), 0.0, net)
    raw_net = np.maximum(way.net_values(raw), 0.0)
    need = raw_net + cost
    expected = (chances * net).sum(axis=1)
    loss = (chances * (net < need[:, None] - 1e-9)).sum(axis=1)
    gain = expected - need
    rest = 1 - chances[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        below = (chances[:, 1:] * net[:, 1:]).sum(axis=1) / rest
        even = np.where(
            net[:, 0] <= below, np.where(below >= need, 0.0, 2.0), (need - below) / (net[:, 0] - below)
        )  # fmt: skip
        even = np.where(even > 1, 2.0, even)
        even = np.where(rest <= 0, np.where(net[:, 0] >= need, 0.0, 2.0), even)
        per_tied = gain / need
    columns = (gain, expected, raw_net, loss, np.maximum(even, 0.0), per_tied)
    return ManyGains(*(np.where(is_known & ~np.isnan(raw), column, np.nan) for column in columns))


@dataclass(frozen=True, eq=False)
class GemCurve:
    """The gain over the chance of a gem (both shape (points,)), the other grades in proportion."""

    gem: Array
    gain: Array


def draw_curve(
    chances: Sequence[float], values: Sequence[float], raw: float, cost: Decimal, way: SellingWay,
    crack: Cracking | None = None, tier: TierLimit | None = None, points: int = 21,
) -> GemCurve:  # fmt: skip
    """How the gain of one card rises with the chance of a gem. Where nothing but a gem was thought possible, the next
    grade takes the rest."""
    said = np.array(chances, float)
    rest = said[1:].sum()
    below = said[1:] / rest if rest > 0 else np.eye(len(said) - 1)[0]
    gem = np.linspace(0, 1, points)
    table = np.column_stack([gem, (1 - gem)[:, None] * below])
    many = (np.tile(np.array(values, float), (points, 1)), np.full(points, raw), np.full(points, float(cost)))
    return GemCurve(gem, work_out_gains(table, *many, way, crack, tier).gain)
