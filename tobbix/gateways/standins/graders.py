"""A simulated grader: it takes its time, asks back now and then, grades by what a card shows with some noise, charges
up, sends back in one parcel or two, and sometimes errs. The same submission is always answered alike."""

from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from random import Random

from tobbix.core.grading.graders import GraderProfile
from tobbix.core.holdings.states import ChargeKind
from tobbix.gateways.ports import CardGraded, CardSent, FormSent, GraderAnswer, GraderCharge, GraderStage

_VARIES = 0.55  # grades, as one card is graded twice
_ASKS, _REFUSES, _SLIPS, _SPLITS = 0.35, 0.03, 0.03, 12


class SimulatedGrader:
    """A grader by its profile, simulated from the reference of each submission."""

    def __init__(self, profile: GraderProfile) -> None:
        self.profile = profile

    def ask(self, form: FormSent, on: date) -> GraderAnswer:
        """What it says of a submission as of a day."""
        random = Random(f"{form.reference} {self.profile.name}")
        there = form.sent_on + timedelta(random.randint(2, 6))
        tiers = {it.tier for it in form.cards}
        promised = max((tier.days or 30 for tier in form.profile.tiers if tier.id in tiers), default=30)
        begun = there + timedelta(max(int(promised * random.uniform(0.3, 0.5)), 1))
        ready = there + timedelta(max(int(promised * random.uniform(0.8, 1.5)), 2))
        asks = random.random() < _ASKS
        grades = [self._grade(it, Random(f"{form.reference} {it.line}")) for it in form.cards]
        if len(grades) > 3 and random.random() < _SLIPS:  # two labels are swapped
            grades[0], grades[1] = _swapped(grades[0], grades[1])
        back = ready + timedelta(random.randint(1, 3))
        steps = ((GraderStage.UNDER_WAY, form.sent_on), (GraderStage.RECEIVED, there), (GraderStage.GRADING, begun),
                 (GraderStage.GRADED, ready), (GraderStage.RETURNED, back))  # fmt: skip
        stages = tuple((stage, day) for stage, day in steps if day <= on)
        question = None
        if asks and begun <= on < ready:
            card = form.cards[random.randrange(len(form.cards))]
            question = f"Line {card.line}: which printing is this? Say so, and we go on."
        is_ready, is_back = ready <= on, back <= on
        return GraderAnswer(
            stages, question, self._bill(form, grades) if is_ready else (), tuple(grades) if is_ready else (),
            self._parcels(form.cards, back, random) if is_back else (),
        )  # fmt: skip

    def _grade(self, card: CardSent, random: Random) -> CardGraded:
        if random.random() < _REFUSES:
            return CardGraded(card.line, None, None, (), "refused: evidence of trimming")
        scale = self.profile.numbers
        shows = random.choice((8.6, 9.2, 9.6)) if card.shows is None else card.shows

        def given(spread: float) -> str:
            seen = shows + random.gauss(0, spread)
            return min(self.profile.grades, key=lambda grade: abs(float(grade) - seen))

        certificate = f"{random.randrange(10**7, 10**8)}"
        if not self.profile.subgrades:
            return CardGraded(card.line, given(_VARIES), certificate, (), None)
        parts = tuple((name, given(_VARIES)) for name in self.profile.subgrades)
        values = sorted(float(grade) for _, grade in parts)
        step = scale[0] - scale[1]
        whole = min(sum(values) / len(values), values[0] + float(self.profile.cap) * step)
        grade = max((it for it in self.profile.grades if float(it) <= whole + step / 2), key=float)
        return CardGraded(card.line, grade, certificate, parts, None)

    def _bill(self, form: FormSent, grades: Sequence[CardGraded]) -> tuple[GraderCharge, ...]:
        """Fees by tier, up-charges for gems in a tier with a low limit, refused cards, and the parcel back."""
        charges = []
        of_line = {it.line: it for it in grades}
        for tier in form.profile.tiers:
            lines = tuple(it.line for it in form.cards if it.tier == tier.id)
            taken = tuple(line for line in lines if of_line[line].grade is not None)
            if taken:
                charges.append(
                    GraderCharge(
                        ChargeKind.SERVICE, f"{tier.name}, {len(taken)} x {tier.fee}", tier.fee * len(taken), taken
                    )
                )
            up = tuple(
                it.line for it in form.cards
                if it.tier == tier.id and tier.value_limit is not None and it.declared * 3 > tier.value_limit
                and of_line[it.line].grade == form.profile.grades[0]
            )  # fmt: skip
            if up and tier.up_charge:
                charges.append(GraderCharge(ChargeKind.SERVICE, "up-charge", tier.up_charge * len(up), up))
        refused = tuple(it.line for it in grades if it.grade is None)
        if refused and form.profile.refusal:
            charges.append(
                GraderCharge(ChargeKind.SERVICE, "refused cards", form.profile.refusal * len(refused), refused)
            )
        return (*charges, GraderCharge(ChargeKind.SHIPPING, "parcel back", Decimal(14) + len(form.cards) // 2, None))

    def _parcels(
        self, cards: Sequence[CardSent], back: date, random: Random
    ) -> tuple[tuple[date, tuple[int, ...]], ...]:
        lines = tuple(it.line for it in cards)
        if len(lines) <= _SPLITS or random.random() < 0.5:
            return ((back, lines),)
        half = len(lines) // 2
        return (back, lines[:half]), (back + timedelta(2), lines[half:])


def _swapped(one: CardGraded, other: CardGraded) -> tuple[CardGraded, CardGraded]:
    return (
        CardGraded(one.line, other.grade, other.certificate, other.subgrades, other.words),
        CardGraded(other.line, one.grade, one.certificate, one.subgrades, one.words),
    )
