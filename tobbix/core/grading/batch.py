"""Which cards go into which tier, for the greatest expected gain in all (Rule C-29).

Each card may go into one tier that takes its declared value. A tier that is used has a least count and a return
parcel; anything sent has a parcel out; some tiers are for members, and a membership may have to be bought. A budget
covers fees, what each card costs besides, both parcels and that membership. A mixed-integer program, solved to proven
optimality by HiGHS (Huangfu and Hall 2018) through SciPy's ``milp``; what was chosen is then added up exactly. Sending
nothing is 0.

Example: of three cards that gain 10, 4 and -1 in a tier with a least count of 2, a parcel out at 6 and one back at 3:
the first two, for 5 in all.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

import numpy as np

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.grading.gain import Cracking, GradingQuestion, TierLimit, check_question, work_out_gain
from tobbix.core.grading.many import work_out_gains
from tobbix.core.holdings.sentences import amount
from tobbix.core.maths.programs import Row, find_least
from tobbix.core.pricing.fees import SellingWay

MOST_CARDS, MOST_TIERS = 5_000, 50


@dataclass(frozen=True, slots=True)
class BatchCard:
    """A card that may be sent: chances and values by grade, what it goes for raw, and its declared value (money; None:
    as raw)."""

    id: str
    chances: Mapping[str, Decimal]
    values: Mapping[str, Decimal | None]
    raw: Decimal
    declared: Decimal | None = None

    @property
    def stated(self) -> Decimal:
        return self.raw if self.declared is None else self.declared


@dataclass(frozen=True, slots=True)
class BatchTier:
    """A tier: its fee (money), least count, the declared value that it takes at most and what it charges more where a
    graded value passes that (money; None: no limit), and whether it is for members."""

    id: str
    fee: Decimal
    min_cards: int = 1
    value_limit: Decimal | None = None
    up_charge: Decimal = Decimal(0)
    members_only: bool = False


@dataclass(frozen=True)
class BatchQuestion:
    """Cards and tiers with what they share (money): ``per_card`` on top of the fee, the parcel out, one back for each
    tier used, a membership (its fee, None: there is none; ``owned``: it is paid), the budget (None: none), how many
    cards at most (None: any), and how slabs may be cracked out."""

    way: SellingWay
    cards: tuple[BatchCard, ...]
    tiers: tuple[BatchTier, ...]
    per_card: Decimal = Decimal(0)
    parcel_out: Decimal = Decimal(0)
    parcel_back: Decimal = Decimal(0)
    membership: Decimal | None = None
    owned: bool = False
    budget: Decimal | None = None
    most_cards: int | None = None
    crack: Cracking | None = None


@dataclass(frozen=True, slots=True)
class Batch:
    """What is sent where and gains in all (money, exact); ``membership``: it is bought for this; ``bound``: more is not
    possible (money), proven or not; ``why`` each card is in or out."""

    total_gain: Fraction
    membership: bool
    tiers: Mapping[str, tuple[str, ...]]
    not_sent: tuple[str, ...]
    bound: float
    proven: bool
    why: Mapping[str, str]


def choose_batch(asked: BatchQuestion, seconds: float | None = None) -> Batch:
    """The best batch. Rule C-29. ``seconds``: how long to look at most. Raises InputError with every fault."""
    _check(asked)
    gains = _estimate(asked)
    chosen, bound, proven = _solve(asked, gains, seconds)
    total, buys = _add_up(asked, chosen)
    if total <= 0:  # nothing is as good, and costs nothing
        chosen, total, buys = {}, Fraction(0), False
    sent: dict[str, list[str]] = {}
    for at in sorted(chosen):
        sent.setdefault(asked.tiers[chosen[at]].id, []).append(asked.cards[at].id)
    return Batch(
        total, buys, {tier.id: tuple(sent[tier.id]) for tier in asked.tiers if tier.id in sent},
        tuple(card.id for at, card in enumerate(asked.cards) if at not in chosen), max(bound, float(total)), proven,
        {card.id: _why(asked, gains, chosen, at) for at, card in enumerate(asked.cards)},
    )  # fmt: skip


def spent_on(asked: BatchQuestion, batch: Batch) -> Decimal:
    """What a batch costs before up-charges, as a budget counts it (money): fees, what each card costs besides, parcels,
    a membership that is bought for it. Rule C-29."""
    fees = {tier.id: tier.fee for tier in asked.tiers}
    spent = sum(
        ((fees[to] + asked.per_card) * len(cards) for to, cards in batch.tiers.items()), Decimal(0)
    )  # fmt: skip
    if batch.tiers:
        spent += asked.parcel_out + asked.parcel_back * len(batch.tiers)
    return spent + ((asked.membership or Decimal(0)) if batch.membership else 0)


def missing_cards(asked: BatchQuestion, batch: Batch) -> dict[str, int]:
    """How many cards more a tier with a least count would need that some cards could go into, by the tier. C-29."""
    found = {}
    for tier in asked.tiers:
        able = sum(tier.value_limit is None or card.stated <= tier.value_limit for card in asked.cards)
        if tier.id not in batch.tiers and 0 < able < tier.min_cards:
            found[tier.id] = tier.min_cards - able
    return found


def _estimate(asked: BatchQuestion) -> dict[tuple[int, int], float]:
    """What each card gains in each tier that takes it, in floats, whole columns at once: to choose by."""
    alike: dict[tuple[str, ...], list[int]] = {}
    for at, card in enumerate(asked.cards):
        alike.setdefault(tuple(card.chances), []).append(at)
    found: dict[tuple[int, int], float] = {}
    for grades, places in alike.items():
        cards = [asked.cards[at] for at in places]
        chances = np.array([[float(card.chances[grade]) for grade in grades] for card in cards])
        values = np.array(
            [[np.nan if (it := card.values.get(grade)) is None else float(it) for grade in grades] for card in cards]
        )
        raw = np.array([float(card.raw) for card in cards])
        for to, tier in enumerate(asked.tiers):
            cost = np.full(len(cards), float(tier.fee + asked.per_card))
            limit = TierLimit(tier.value_limit, tier.up_charge)
            gains = work_out_gains(chances, values, raw, cost, asked.way, asked.crack, limit).gain.tolist()
            found |= {
                (at, to): gain for at, card, gain in zip(places, cards, gains, strict=True) if _takes(asked, card, tier)
            }
    return dict(sorted(found.items()))


def _question(asked: BatchQuestion, card: BatchCard, tier: BatchTier) -> GradingQuestion:
    limit = TierLimit(tier.value_limit, tier.up_charge)
    return GradingQuestion(
        card.chances, card.values, card.raw, tier.fee + asked.per_card, asked.way, asked.crack, limit
    )  # fmt: skip


def _takes(asked: BatchQuestion, card: BatchCard, tier: BatchTier) -> bool:
    """Whether a card may go into a tier at all."""
    is_member = asked.owned or asked.membership is not None or not tier.members_only
    return is_member and (tier.value_limit is None or card.stated <= tier.value_limit)


def _add_up(asked: BatchQuestion, chosen: Mapping[int, int]) -> tuple[Fraction, bool]:
    """What a choice gains in all, exactly, and whether a membership is bought for it."""
    if not chosen:
        return Fraction(0), False
    used = set(chosen.values())
    buys = not asked.owned and any(asked.tiers[to].members_only for to in used)
    shared = asked.parcel_out + asked.parcel_back * len(used) + ((asked.membership or Decimal(0)) if buys else 0)
    exact = (work_out_gain(_question(asked, asked.cards[at], asked.tiers[to])).gain for at, to in chosen.items())
    return sum(exact, Fraction(0)) - Fraction(shared), buys


def _solve(
    asked: BatchQuestion, gains: Mapping[tuple[int, int], float], seconds: float | None
) -> tuple[dict[int, int], float, bool]:
    """The tier of each card that is sent, the bound on the gain, and whether it is proven the best."""
    if not gains:
        return {}, 0.0, True
    pairs = list(gains)
    many, tiers = len(pairs), len(asked.tiers)
    use, out, join = many, many + tiers, many + tiers + 1
    width = join + 1
    fee = float(asked.membership or 0) if not asked.owned else 0.0
    worth = np.zeros(width)  # milp finds the least
    worth[:many] = [-float(gains[pair]) for pair in pairs]
    worth[use:out], worth[out], worth[join] = float(asked.parcel_back), float(asked.parcel_out), fee
    rows: list[Row] = []
    of_card: dict[int, list[int]] = {}
    of_tier: dict[int, list[int]] = {}
    for i, (at, to) in enumerate(pairs):
        of_card.setdefault(at, []).append(i)
        of_tier.setdefault(to, []).append(i)
        rows.append(({i: 1.0, use + to: -1.0}, -np.inf, 0.0))
    rows += [(dict.fromkeys(of, 1.0), -np.inf, 1.0) for of in of_card.values() if len(of) > 1]
    upper = np.ones(width)
    for to, tier in enumerate(asked.tiers):
        of = of_tier.get(to, [])
        if len(of) < max(tier.min_cards, 1):
            upper[use + to] = 0.0
        rows.append(({**dict.fromkeys(of, 1.0), use + to: -float(max(tier.min_cards, 1))}, 0.0, np.inf))
        rows.append(({use + to: 1.0, out: -1.0}, -np.inf, 0.0))
        if tier.members_only and not asked.owned:
            rows.append(({use + to: 1.0, join: -1.0}, -np.inf, 0.0))
    if asked.most_cards is not None:
        rows.append((dict.fromkeys(range(many), 1.0), -np.inf, float(asked.most_cards)))
    if asked.budget is not None:
        spent = {i: float(asked.tiers[to].fee + asked.per_card) for i, (_, to) in enumerate(pairs)}
        spent |= {use + to: float(asked.parcel_back) for to in range(tiers)}
        spent |= {out: float(asked.parcel_out), join: fee}
        rows.append((spent, -np.inf, float(asked.budget)))
    found = find_least(worth, rows, np.zeros(width), upper, np.ones(width), seconds)
    if found.x is None:
        return {}, sum(max(float(gain), 0.0) for gain in gains.values()), False
    chosen = {at: to for i, (at, to) in enumerate(pairs) if found.x[i] > 0.5}
    bound = -float(found.mip_dual_bound) if found.mip_dual_bound is not None else -float(found.fun)
    return chosen, bound, found.status == 0


def _why(asked: BatchQuestion, gains: Mapping[tuple[int, int], float], chosen: Mapping[int, int], at: int) -> str:
    """Why a card is in or out, in words."""
    card, of_card = asked.cards[at], {to: gain for (card, to), gain in gains.items() if card == at}
    if at in chosen:
        return f"sent in {asked.tiers[chosen[at]].id}: it gains {float(of_card[chosen[at]]):,.2f} before parcels"
    if not of_card:
        members = all(tier.members_only for tier in asked.tiers) and asked.membership is None and not asked.owned
        if members:
            return "every tier is for members"
        return f"no tier takes a declared value of {card.stated:,.2f}"
    to, best = max(of_card.items(), key=lambda it: it[1])
    if best <= 0:
        return f"it gains nothing in any tier: {float(best):,.2f} at best, in {asked.tiers[to].id}"
    name = asked.tiers[to].id
    if not chosen:
        return f"it gains {float(best):,.2f} in {name}, but all together do not pay for the parcels and least counts"
    if asked.most_cards is not None and len(chosen) >= asked.most_cards:
        return f"it gains {float(best):,.2f} in {name}, but {asked.most_cards:,} cards gain more"
    if asked.budget is not None:
        return f"it gains {float(best):,.2f} in {name}, but the budget does more for others"
    return f"it gains {float(best):,.2f} in {name}, less than that tier’s parcel, least count or membership would cost"


def _check(asked: BatchQuestion) -> None:
    faults: list[Fault] = []
    for name in ("cards", "tiers"):
        if not getattr(asked, name):
            faults.append(Fault(name, "say at least one"))
        ids = [it.id for it in getattr(asked, name)]
        for at, key in enumerate(ids):
            if not key.strip():
                faults.append(Fault(f"{name}[{at}].id", "give it one"))
            elif key in ids[:at]:
                faults.append(Fault(f"{name}[{at}].id", f"{key[:60]} stands there twice"))
    if len(asked.cards) > MOST_CARDS or len(asked.tiers) > MOST_TIERS:
        faults.append(Fault("cards", f"at most {MOST_CARDS:,} cards and {MOST_TIERS} tiers"))
    for at, card in enumerate(asked.cards):
        faults += check_question(
            GradingQuestion(card.chances, card.values, card.raw, Decimal(0), asked.way), f"cards[{at}]."
        )
        if card.declared is not None and card.declared < 0:
            faults.append(Fault(f"cards[{at}].declared", "must not be negative"))
    for at, tier in enumerate(asked.tiers):
        for name in ("fee", "value_limit", "up_charge", "min_cards"):
            if (getattr(tier, name) or 0) < 0:
                faults.append(Fault(f"tiers[{at}].{name}", "must not be negative"))
    for name in ("per_card", "parcel_out", "parcel_back", "membership", "budget", "most_cards"):
        if (getattr(asked, name) or 0) < 0:
            faults.append(Fault(name if name != "membership" else "membership.fee", "must not be negative"))
    if asked.crack is not None and not 0 <= asked.crack.breakage <= 1:
        faults.append(Fault("crack.breakage", "must be from 0 to 1"))
    if faults:
        raise InputError(faults[:200])


def state_batch(found: Batch, names: Mapping[str, str], grader: str, currency: str) -> Verdict:
    """What to send where, and what that gains."""
    if not found.tiers:
        return Verdict((Run("Send nothing", "batch", True), Run(f": no batch at {grader} gains anything.")), ())
    parts = [f"{len(of_it)} in {names.get(to, to)}" for to, of_it in found.tiers.items()]
    many = " and ".join([", ".join(parts[:-1]), parts[-1]] if len(parts) > 1 else parts)
    sentence = (
        Run("Send "), Run(many, "batch", True), Run(": "), Run(amount(float(found.total_gain), currency), "gain"),
        Run(" in all after parcels" + (" and a membership." if found.membership else ".")),
    )  # fmt: skip
    sure = "Proven: nothing gains more" if found.proven else (
        f"Not proven: up to {amount(found.bound, currency)} could be possible"
    )  # fmt: skip
    return Verdict(sentence, (Run(f"{sure}, by the chances and prices as they are thought."),))
