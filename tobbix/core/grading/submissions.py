"""A submission before it goes: what it will cost by card and owner, what is declared, and whether it is insured (Rules
C-25 and C-32).

Examples: a membership of 90 that saves 8 a card pays from the twelfth card; 12 % of a bill of 552.00 is 66.24, so of a
duty of 71.10 there are 4.86 that nothing explains.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_HALF_UP, Decimal
from fractions import Fraction

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.grading.graders import GraderProfile
from tobbix.core.grading.submission_cost import GradingCharge, SentCard, SubmissionCost, share_submission
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import ChargeKind


@dataclass(frozen=True, slots=True)
class PostClass:
    """How a parcel goes: its price, up to which value it is insured (money at home; None: not at all), and the days
    promised. For packing (C-31): whether it is tracked, the sizes it takes (mm, largest first; ``most`` None: not said,
    so nothing is packed for it), grams at most, whether it takes nothing rigid, up to which value, the chance of loss
    (share), and within how many days after posting a claim must be in (C-32)."""

    id: str
    name: str
    price: Decimal
    insured_to: Decimal | None = None
    days: int | None = None
    tracked: bool = False
    least: tuple[Decimal, Decimal, Decimal] = (Decimal(0), Decimal(0), Decimal(0))
    most: tuple[Decimal, Decimal, Decimal] | None = None
    most_weight: Decimal | None = None
    no_rigid: bool = False
    value_limit: Decimal | None = None
    loss: Decimal = Decimal("0.01")
    claim_days: int | None = None


@dataclass(frozen=True, slots=True)
class CarrierProfile:
    """A carrier with its classes."""

    name: str
    classes: tuple[PostClass, ...]


def check_carrier(carrier: CarrierProfile) -> None:
    """Raises InputError with every fault, at its field."""
    faults = [] if carrier.name.strip() else [Fault("name", "say what the carrier is called")]
    if not carrier.classes:
        faults.append(Fault("classes", "say at least one class"))
    for at, it in enumerate(carrier.classes):
        if not it.name.strip() or it.name in [other.name for other in carrier.classes[:at]]:
            faults.append(Fault(f"classes[{at}].name", "give each class a name of its own"))
        for name in ("price", "insured_to", "days", "most_weight", "value_limit", "claim_days"):
            if (getattr(it, name) or 0) < 0:
                faults.append(Fault(f"classes[{at}].{name}", "must not be negative"))
        if not 0 <= it.loss <= 1:
            faults.append(Fault(f"classes[{at}].loss", "must be from 0 to 100 %"))
        if it.most is not None and any(low > high for low, high in zip(it.least, it.most, strict=True)):
            faults.append(Fault(f"classes[{at}].most", "the largest size must not be under the smallest"))
    if faults:
        raise InputError(faults)


@dataclass(frozen=True, slots=True)
class PlannedCard:
    """A card of a draft: its number, whose it is, its tier and declared value (money at home)."""

    item: int
    owner: str
    tier: str
    declared: Decimal


@dataclass(frozen=True, slots=True)
class PlanPart:
    """A part of what a submission will cost: what it is for, in words, and how much (money at home)."""

    kind: ChargeKind
    name: str
    amount: Fraction


@dataclass(frozen=True, slots=True)
class SubmissionPlan:
    """What a submission will cost: all of it by card and owner, its parts, and what is not insured of the parcel out
    (money; None: no class was chosen)."""

    cost: SubmissionCost
    parts: tuple[PlanPart, ...]
    gap: Decimal | None

    @property
    def shared(self) -> Fraction:
        """What of it does not grow with the cards: parcels, a membership (money at home)."""
        kinds = (ChargeKind.SHIPPING, ChargeKind.OTHER)
        return sum((part.amount for part in self.parts if part.kind in kinds), Fraction(0))


def plan_submission(
    cards: Sequence[PlannedCard], profile: GraderProfile, rate: Decimal | None, home: str,
    out: PostClass | None = None, back: Decimal = Decimal(0), membership: bool = False,
) -> SubmissionPlan:  # fmt: skip
    """What a submission will cost by the grader's profile. Rule C-25. ``rate``: home units for one of the grader's
    currency (None: they are the same). ``back`` (of the grader's currency) for the return parcel; ``membership``: a
    year's is bought for it. Raises InputError where a tier does not take a card.
    """
    faults, charges = list[Fault](), list[tuple[ChargeKind, GradingCharge]]()
    by_tier: dict[str, list[str]] = {}
    exchange = Fraction(1) if rate is None else Fraction(rate)
    for card in cards:
        tier = profile.tier(card.tier)
        if tier is None:
            faults.append(Fault(f"cards.{card.item}.tier", "is no tier of this grader"))
            continue
        by_tier.setdefault(card.tier, []).append(str(card.item))
        if tier.value_limit is not None and Fraction(card.declared) > Fraction(tier.value_limit) * exchange:
            most = amount(float(Fraction(tier.value_limit) * exchange), home)
            faults.append(Fault(f"cards.{card.item}.declared", f"{tier.name} takes up to {most}"))
    for key, of_it in by_tier.items():
        tier = profile.tier(key)
        assert tier is not None  # it would have been a fault
        if len(of_it) < tier.min_cards:
            faults.append(Fault("cards", f"{tier.name} takes {tier.min_cards} cards or more; there are {len(of_it)}"))
        fee = tier.fee * len(of_it)
        name = f"{tier.name}, {len(of_it)} x {tier.fee:f}"
        charges.append((ChargeKind.SERVICE, GradingCharge(name, fee, profile.currency, rate, tuple(of_it))))
        if tier.members_only and not membership and profile.membership is not None:
            faults.append(Fault("membership", f"{tier.name} is for members"))
    if faults or not cards:
        raise InputError(faults or [Fault("cards", "put at least one card in")])
    service = sum((charge.amount for _, charge in charges), Decimal(0))

    def add(kind: ChargeKind, name: str, amount: Decimal, currency: str, at: Decimal | None) -> None:
        if amount:
            charges.append((kind, GradingCharge(name, amount, currency, at, None)))

    add(ChargeKind.SHIPPING, "the parcel back", back, profile.currency, rate)
    duty = profile.duty_share * service + profile.duty_fixed
    add(ChargeKind.DUTY, "duty or tax on the service", duty, profile.currency, rate)
    if membership:
        add(ChargeKind.OTHER, "membership", profile.membership or Decimal(0), profile.currency, rate)
    if out is not None:
        add(ChargeKind.SHIPPING, f"the parcel out, {out.name}", out.price, home, None)
    cost = share_submission(
        home, [SentCard(str(it.item), it.owner) for it in cards], [charge for _, charge in charges]
    )  # fmt: skip
    parts = tuple(
        PlanPart(kind, it.name, Fraction(it.amount) * (1 if it.rate is None else Fraction(it.rate)))
        for kind, it in charges
    )
    gap = None if out is None else insurance_gap([it.declared for it in cards], out.insured_to)
    return SubmissionPlan(cost, parts, gap)


def insurance_gap(values: Sequence[Decimal], insured_to: Decimal | None) -> Decimal:
    """What of a parcel's value would be lost with it: its value beyond what it is insured to (money). Rule C-32.

    >>> insurance_gap([Decimal(400), Decimal(350)], Decimal(500))
    Decimal('250')
    """
    return max(sum(values, Decimal(0)) - (insured_to or Decimal(0)), Decimal(0))


BY_POST = 10  # days that both parcels take together, common practice, no source


def is_late(days: int | None, promised: int | None) -> bool:
    """Whether something is away for more days than promised and the post takes.

    >>> is_late(51, 40), is_late(50, 40), is_late(90, None)
    (True, False, False)
    """
    return days is not None and promised is not None and days > promised + BY_POST


def honest_value(
    chances: Mapping[str, float], values: Mapping[str, Decimal | None], raw: Decimal | None
) -> Decimal | None:
    """What a card is honestly declared at: its value in the grade that is most likely, never under what it goes for
    raw; None where neither is known."""
    likely = max(chances, key=lambda grade: chances[grade]) if chances else None
    graded = None if likely is None else values.get(likely)
    known = [it for it in (graded, raw) if it is not None]
    return max(known) if known else None


def membership_pays_from(fee: Decimal, saved: Decimal) -> int | None:
    """From which card in its year a membership pays that saves so much a card (money). Rule C-25.

    >>> membership_pays_from(Decimal(90), Decimal(8))
    12
    """
    return None if saved <= 0 else int((fee / saved).to_integral_value(ROUND_CEILING))


def alone_pays_from(fixed: Decimal, per_card: Decimal, flat: Decimal) -> int | None:
    """From how many cards on sending by oneself (so much for the parcels, so much a card) costs less than a group at a
    flat price a card; None: never. Rule C-25.

    >>> alone_pays_from(Decimal(60), Decimal(18), Decimal(24))
    11
    """
    return None if flat <= per_card else int(fixed / (flat - per_card)) + 1


@dataclass(frozen=True, slots=True)
class BilledAgainstPlan:
    """What a bill is for beside what was planned of that (money at home; None: not planned, or not billed)."""

    kind: ChargeKind
    planned: Decimal | None
    billed: Decimal | None

    @property
    def difference(self) -> Decimal:
        return (self.billed or Decimal(0)) - (self.planned or Decimal(0))


def bill_against_plan(
    planned: Iterable[tuple[ChargeKind, Decimal]], billed: Iterable[tuple[ChargeKind, Decimal]]
) -> tuple[BilledAgainstPlan, ...]:
    """A bill beside its plan, by what each part is for (money at home). Rule C-25."""
    sums: list[dict[ChargeKind, Decimal]] = []
    for parts in (planned, billed):
        of_kind: dict[ChargeKind, Decimal] = {}
        for kind, part in parts:
            of_kind[kind] = of_kind.get(kind, Decimal(0)) + part
        sums.append(of_kind)
    plan, bill = sums
    return tuple(BilledAgainstPlan(kind, plan.get(kind), bill.get(kind)) for kind in dict.fromkeys([*plan, *bill]))


def explain_duty(duty: Decimal, base: Decimal, share: Decimal, fixed: Decimal = Decimal(0)) -> Decimal:
    """What of a duty a share of the bill it is on and a fixed part do not explain (money of one currency). Rule C-25.

    >>> explain_duty(Decimal("71.10"), Decimal("552.00"), Decimal("0.12"))
    Decimal('4.86')
    """
    return duty - (share * base + fixed).quantize(Decimal("0.01"), ROUND_HALF_UP)


def state_membership(profile: GraderProfile) -> str | None:
    """From which card in its year a membership pays, by the cheapest tiers with and without; None: there is none, or
    no tier is only for members. Rule C-25."""
    members = [tier.fee for tier in profile.tiers if tier.members_only]
    others = [tier.fee for tier in profile.tiers if not tier.members_only]
    if profile.membership is None or not members or not others:
        return None
    saved = min(others) - min(members)
    first = membership_pays_from(profile.membership, saved)
    of = f"{amount(profile.membership, profile.currency)} {profile.currency}"
    if first is None:
        return f"A membership of {of} saves nothing."
    return (
        f"A membership of {of} saves {amount(saved, profile.currency)} a card: it pays from card {first} in its year."
    )


def state_alone(plan: SubmissionPlan, cards: int, flat: Decimal, home: str) -> str:
    """Sending by oneself against a group at a flat price a card (money at home). Rule C-25."""
    own = (Fraction(plan.cost.total) - plan.shared) / cards
    exact = Decimal(own.numerator) / Decimal(own.denominator)
    shared = Decimal(plan.shared.numerator) / Decimal(plan.shared.denominator)
    first = alone_pays_from(shared, exact, flat)
    if first is None:
        return f"A group at {amount(flat, home)} a card is always cheaper: each costs {amount(exact, home)} by itself."
    less = "cheaper" if cards >= first else "dearer"
    return f"Against a group at {amount(flat, home)} a card, sending alone pays from {first} cards: now it is {less}."


def state_plan(plan: SubmissionPlan, cards: int, home: str) -> Verdict:
    """What a submission will cost, and what of it is not insured."""
    each = amount(plan.cost.total / cards, home)
    sentence = [
        Run("1 card" if cards == 1 else f"{cards} cards"), Run(f" cost {amount(plan.cost.total, home)}: "),
        Run(each, "each", True), Run(" a card"),
    ]  # fmt: skip
    if plan.gap:
        sentence.append(Run(f"; {amount(plan.gap, home)} of the parcel is not insured"))
    return Verdict((*sentence, Run(".")), (Run("As planned; the bill says what it was."),))


def state_submissions(away: int, many: int, late: int, asking: Sequence[str], drafts: int) -> Verdict:
    """What is away for grading, what is late, and who asks."""
    if asking:
        first = Run(f"{asking[0]} asks something", "question", True)
        sentence: tuple[Run, ...] = (first, Run(": answer it, so that it goes on."))
    elif away:
        cards = "1 card is" if away == 1 else f"{away:,} cards are"
        ways = "1 submission" if many == 1 else f"{many} submissions"
        sentence = (Run(cards, "away", True), Run(f" away for grading, in {ways}."))
    else:
        sentence = (Run("Nothing is away for grading", "away", True), Run("."))
    ground = []
    if late:
        ground.append(f"{late} {'is' if late == 1 else 'are'} later than promised.")
    if drafts:
        ground.append(f"{drafts} {'is' if drafts == 1 else 'are'} drafted and not posted.")
    return Verdict(sentence, (Run(" ".join(ground)),) if ground else ())


def state_submission(
    state: str, grader: str, cards: int, came: int, away: int, gems: int, days: int | None, promised: int | None,
    question: str | None, billed: Decimal, worth: tuple[int, Decimal, Decimal] | None, home: str, grades: bool = True,
) -> Verdict:  # fmt: skip
    """Where a submission stands, and once it is back what came of it; ``grades``: it went to one who grades.
    ``worth``: of how many own cards the worth and the cost are known, and both (money)."""
    if cards == 0:
        return Verdict((Run("No card is in it yet", "cards", True), Run(": choose some under Worth grading.")), ())
    if state == "drafted":
        return Verdict((Run("It cannot go as it is", "refusal", True), Run(": mend what is marked.")), ())
    many = "1 card" if cards == 1 else f"{cards} cards"
    ground = [f"Billed {amount(billed, home)} so far." if billed else "Nothing is billed yet."]
    if question:
        return Verdict((Run(f"{grader} asks: "), Run(question, "question", True)), (Run(ground[0]),))
    if away:
        back = "" if not came else f"; {came} of {cards} are back"
        sentence = [Run(many, "cards", True), Run(f" at {grader} for {days or 0} days{back}.")]
        if promised is not None:
            late = ": it is late" if is_late(days, promised) else ""
            ground.insert(0, f"Promised in {promised} days and the post{late}.")
    elif not grades:
        sentence = [Run(many, "cards", True), Run(f" went to {grader}; what came back stands below.")]
    else:
        sentence = [Run(f"{gems} of {came}", "gems", True), Run(f" came back as the top grade of {grader}.")]
        if worth is not None:
            known, value, cost = worth
            of = "The one" if known == 1 else f"The {known}"
            ground.append(
                f"{of} of yours whose worth and bill are known are worth {amount(value, home)} now; grading them cost "
                f"{amount(cost, home)}."
            )
    return Verdict(tuple(sentence), (Run(" ".join(ground)),))
