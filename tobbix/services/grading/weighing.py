"""Whether to grade: one card looked at closely, or all that are here as a table (C-26 to C-28)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

import numpy as np

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.results import Verdict
from tobbix.core.grading.calibrating import Calibration, GemRate, Outcome, calibrate, gem_rate
from tobbix.core.grading.expecting import Ground, KnownOfCard, exact_chances, expect, falling, fill_values
from tobbix.core.grading.gain import GradingGain, GradingQuestion, TierLimit, check_question, work_out_gain
from tobbix.core.grading.graders import GraderProfile, Tier
from tobbix.core.grading.known_faults import KnownFault, count_faults, may_have, state_faults
from tobbix.core.grading.many import GemCurve, ManyGains, draw_curve, work_out_gains
from tobbix.core.grading.pregrading import (
    Looked,
    PreGrade,
    SideMeasured,
    allows,
    pre_grade,
    state_pre_grade,
)
from tobbix.core.grading.submissions import BY_POST
from tobbix.core.grading.whether import state_table, state_whether
from tobbix.core.holdings.documents import Photo, Side
from tobbix.core.maths.severity import Array
from tobbix.core.pricing.fees import SellingWay
from tobbix.core.sorting.flaws import Flaw
from tobbix.core.sorting.flaws import Side as FaceOrBack
from tobbix.db.base import Session
from tobbix.db.grading.looking import (
    Candidate,
    SaidGrade,
    StoredMeasurement,
    came_back,
    candidates,
    latest_populations,
    looked_at,
    measurements_of,
    put_said_grade,
    said_grades,
)
from tobbix.db.grading.profiles import StoredGrader, find_grader, list_graders, usual_grader
from tobbix.db.holdings.loading import list_photos
from tobbix.db.products.describing import load_description
from tobbix.db.products.loading import find_release
from tobbix.db.products.values import versions_in_states
from tobbix.db.sorting.judging import flaws_of
from tobbix.services.grading.measuring import size_of_item
from tobbix.services.grading.profiles import GradingHabits, load_habits
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import Home, home_on
from tobbix.services.sorting.work import usual_work

AS_IT_IS = SellingWay("as-it-is", "as it is")  # of an owner who described no way of selling


@dataclass(frozen=True, eq=False)
class Weighing:
    """What cards are weighed by: a grader and a tier of it, what a card costs in that tier beside its part of parcels
    (money at home), the way of selling, habits, home and the record."""

    grader: StoredGrader
    tier: Tier
    fee: Decimal
    limit: TierLimit
    way: SellingWay
    habits: GradingHabits
    home: Home
    outcomes: tuple[Outcome, ...]
    record: Calibration | None

    @property
    def cost(self) -> Decimal:
        """All that grading a card costs (money at home)."""
        return self.fee + self.habits.per_card

    @property
    def months(self) -> Decimal | None:
        """How long it takes with both parcels."""
        return None if self.tier.days is None else Decimal(self.tier.days + BY_POST) / 30


def weighing(session: Session, grader: int, tier: str | None, today: date) -> Weighing:
    """What cards are weighed by at a grader, in a tier or its first. Raises NotFound, InputError without a rate."""
    stored = find_grader(session, grader)
    profile = stored.profile
    chosen = profile.tiers[0] if tier is None else profile.tier(tier)
    if chosen is None:
        raise NotFound(f"{profile.name} has no such tier")
    home = home_on(session, today)
    fee = at_home(home, chosen.fee * (1 + profile.duty_share), profile)
    limit = None if chosen.value_limit is None else at_home(home, chosen.value_limit, profile)
    usual = usual_work(session)
    outcomes = tuple(it for it in load_outcomes(session) if it.grader == profile.name)
    return Weighing(
        stored, chosen, fee, TierLimit(limit, at_home(home, chosen.up_charge, profile)),
        usual.way or AS_IT_IS, load_habits(session), home, outcomes,
        calibrate([it.gem for it in outcomes], [it.is_gem for it in outcomes]),
    )  # fmt: skip


def grader_asked(session: Session, grader: int | None) -> int:
    """A grader whose grades can be weighed; None: the one that most cards went to, or the first by name. Raises
    NotFound, Conflict where none is described, or for one who gives no grades."""
    if grader is not None:
        profile = find_grader(session, grader).profile
        if not profile.grades_cards:
            raise Conflict(f"{profile.name} gives no grades that could be weighed")
        return grader
    found = usual_grader(session)
    if found is None:
        raise Conflict("no grader is described yet; add one first")
    return found


def at_home(home: Home, amount: Decimal, profile: GraderProfile) -> Decimal:
    """An amount of a grader's currency at home. Raises InputError without a rate."""
    found = home.convert(amount, profile.currency)
    if found is None:
        raise InputError.at("grader", f"no rate of {profile.currency} is known; fetch or type one")
    return found


def load_outcomes(session: Session) -> list[Outcome]:
    """Every card whose grade was predicted and came back, by the day."""
    return [
        Outcome(item, name, title or "", day, falling(chances), grade)
        for item, _, _, name, _, title, day, chances, grade, _ in came_back(session)
    ]


@dataclass(frozen=True, eq=False)
class CardData:
    """A card with all that is known of it before it goes: sides measured, flaws, chances said by the owner, how many
    of its kind got which grade, the known faults of its release, what it goes for raw and by grade (money at
    home; grades from the gem down, None: not known; ``guessed`` those between or below known ones)."""

    card: Candidate
    measured: Mapping[Side, StoredMeasurement]
    flaws: tuple[Flaw, ...]
    said: SaidGrade | None
    population: Mapping[str, int]
    faults: tuple[KnownFault, ...]
    raw: Decimal | None
    values: Mapping[str, Decimal | None]
    guessed: frozenset[str]

    @property
    def about(self) -> KnownOfCard:
        seen = {FaceOrBack(side) for side, it in self.measured.items() if it.refused is None}
        unseen = may_have(self.faults, seen | {it.side for it in self.flaws})
        front, back = (_side(self.measured.get(side)) for side in (Side.FRONT, Side.BACK))
        looked = Looked(front, back, self.flaws, unseen)
        is_looked_at = bool(self.flaws) or any(it.found is not None for it in self.measured.values())
        return KnownOfCard(looked, is_looked_at, None if self.said is None else self.said.chances, self.population)


def _side(measured: StoredMeasurement | None) -> SideMeasured | None:
    found = None if measured is None else measured.found
    return None if found is None else SideMeasured(found.left_right[0], found.top_bottom[0], found.uncertainty)


def load_cards(
    session: Session, grader: StoredGrader, home: Home, items: Sequence[int] | None = None
) -> list[CardData]:
    """Raw cards that are here by themselves, or those of some, with all that is known of them, in a fixed number of
    queries."""
    profile = grader.profile
    rows = candidates(session, home.state, items)
    versions, numbers = sorted({it.version for it in rows}), [it.item for it in rows]
    graded = [f"{profile.name}:{grade}" for grade in profile.grades]
    conditions = sorted({it.condition for it in rows} | {home.state})
    values = {
        key: home.convert(value.amount, value.currency)
        for key, value in versions_in_states(session, versions, [*graded, *conditions]).items()
        if value.amount is not None
    }
    counted = latest_populations(session, versions, profile.name)
    measured, flaws = measurements_of(session, numbers), flaws_of(session, numbers)
    said = said_grades(session, numbers, grader.number)
    faults = {key: count_faults(*it) for key, it in looked_at(session, {it.release for it in rows}).items()}
    found = []
    for row in rows:
        raw = values.get((row.version, row.condition)) or values.get((row.version, home.state))
        known = {grade: values.get((row.version, f"{profile.name}:{grade}")) for grade in profile.grades}
        by_grade, guessed = fill_values(known, raw)
        sides = {side: measured[row.item, side] for side in (Side.FRONT, Side.BACK) if (row.item, side) in measured}
        found.append(
            CardData(row, sides, tuple(flaws.get(row.item, ())), said.get(row.item), counted.get(row.version, {}),
                     faults[row.release], raw, by_grade, guessed)
        )  # fmt: skip
    return found


def chances_of(data: CardData, by: Weighing, strict: bool = True) -> dict[str, float]:
    """The chances of each grade, from the gem down, by all that is known of a card."""
    return expect(data.about, by.grader.profile, float(by.habits.strength), by.record, strict)


@dataclass(frozen=True, eq=False)
class WorthRow:
    """A card of the table, ``by`` what its chances rest on: the chance of a gem, gain, chance of a loss against selling
    it raw, the chance of a gem from which on grading pays (0 always, over 1 never), gain by month and by unit of money
    tied up (NaN: not known)."""

    card: Candidate
    by: Ground
    raw: Decimal | None
    gem: float
    gain: float
    loss: float
    even: float
    per_month: float
    per_tied: float


@dataclass(frozen=True, eq=False)
class WorthTable:
    """All cards that are here at a grader in a tier, the greatest gain first."""

    by: Weighing
    rows: tuple[WorthRow, ...]
    verdict: Verdict


def weigh_all(catalogue: Catalogue, grader: int | None, tier: str | None, strict: bool = True) -> WorthTable:
    """Which of the raw cards that are here are worth grading. Rule C-26. Raises NotFound, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        by = weighing(session, grader_asked(session, grader), tier, today)
        cards = load_cards(session, by.grader, by.home)
    chances, gains = gains_of(cards, by, strict)
    months = float(by.months) if by.months else float("nan")
    rows = [
        WorthRow(
            data.card, data.about.ground, data.raw, float(chances[at, 0]), float(gains.gain[at]),
            float(gains.chance_of_loss[at]), float(gains.even[at]), float(gains.gain[at]) / months,
            float(gains.per_tied[at]),
        )
        for at, data in enumerate(cards)
    ]  # fmt: skip
    rows.sort(key=lambda it: (it.gain != it.gain, -it.gain if it.gain == it.gain else 0.0, it.card.item))
    pays = [it.gain for it in rows if it.gain > 0]
    unknown = sum(it.gain != it.gain for it in rows)
    verdict = state_table(by.grader.profile.name, by.tier.name, len(pays), sum(pays), unknown, by.home.currency)
    return WorthTable(by, tuple(rows), verdict)


def gains_of(cards: Sequence[CardData], by: Weighing, strict: bool = True) -> tuple[Array, ManyGains]:
    """The chances (shape (cards, grades)) and gains of cards."""
    grades = by.grader.profile.grades
    chances = np.array([list(chances_of(data, by, strict).values()) for data in cards]).reshape(-1, len(grades))
    values = np.array(
        [[np.nan if (it := data.values[grade]) is None else float(it) for grade in grades] for data in cards], float
    ).reshape(-1, len(grades))
    raw = np.array([np.nan if data.raw is None else float(data.raw) for data in cards])
    cost = np.full(len(cards), float(by.cost))
    return chances, work_out_gains(chances, values, raw, cost, by.way, by.habits.crack, by.limit)


@dataclass(frozen=True, eq=False)
class GraderView:
    """What one grader may make of a card: strictly and leniently by the pictures, what is gone by (with whether the
    owner said so, and that say's version), the best grade that each side's borders allow."""

    grader: StoredGrader
    strict: PreGrade
    lenient: PreGrade
    chances: Mapping[str, float]
    said_version: int
    is_said: bool
    front_allows: str | None
    back_allows: str | None


@dataclass(frozen=True, eq=False)
class CloseView:
    """A card looked at closely: its photos with what was measured, size against its set's, flaws, known faults of its
    release as its sheet says them and what is ``usual`` by what was marked, what each grader may
    make of it, and at the chosen one whether it is worth it. ``gain`` None: not everything is known (``missing`` says
    what)."""

    data: CardData
    photos: tuple[Photo, ...]
    size: tuple[float, float]
    faults: tuple[str, ...]
    usual: str | None
    graders: tuple[GraderView, ...]
    by: Weighing
    gain: GradingGain | None
    curve: GemCurve | None
    missing: str | None
    rate: GemRate | None
    verdict: Verdict
    pre_verdict: Verdict


def look_closely(
    catalogue: Catalogue, item: int, grader: int | None, tier: str | None, strict: bool = True
) -> CloseView:
    """A card before it goes, at a grader (None: the first) and a tier of it. Rules C-26 and C-27. Raises NotFound,
    Conflict for what is no raw card by itself, InputError."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        by = weighing(session, grader_asked(session, grader), tier, today)
        found = load_cards(session, by.grader, by.home, [item])
        if not found:
            raise Conflict("only an identified raw card that is here by itself can be looked at for grading")
        data = found[0]
        views = []
        for each in list_graders(session):
            if not each.profile.grades_cards:
                continue
            of_it = by if each.number == by.grader.number else weighing(session, each.number, None, today)
            card = data if each.number == by.grader.number else load_cards(session, each, by.home, [item])[0]
            views.append(_grader_view(card, of_it, strict))
        photos = tuple(list_photos(session, item))
        about = load_description(session, find_release(session, data.card.release, stub=True))
        size = size_of_item(session, item)
        faults = tuple(
            note.text for note in about.notes
            if note.kind.value == "fault" and note.line in (None, data.card.line)
            and note.card in (None, data.card.card)
        )  # fmt: skip
    view = next(it for it in views if it.grader.number == by.grader.number)
    gain, curve, missing = _weigh_one(data, by, view.chances)
    usual = state_faults(data.faults, data.about.looked.unseen)
    rate = gem_rate(by.grader.profile.name, by.outcomes) if by.outcomes else None
    verdict = state_whether(gain, view.chances, missing, rate, by.months, by.cost, by.home.currency)
    return CloseView(
        data, photos, size, faults, usual, tuple(views), by, gain, curve, missing, rate, verdict,
        state_pre_grade(view.strict, view.lenient, by.grader.profile.name),
    )  # fmt: skip


def _grader_view(data: CardData, by: Weighing, strict: bool) -> GraderView:
    profile, looked = by.grader.profile, data.about.looked
    return GraderView(
        by.grader, pre_grade(looked, profile, True), pre_grade(looked, profile, False), chances_of(data, by, strict),
        0 if data.said is None else data.said.version, data.said is not None, allows(looked.front, profile),
        allows(looked.back, profile, back=True),
    )  # fmt: skip


def _weigh_one(
    data: CardData, by: Weighing, chances: Mapping[str, float]
) -> tuple[GradingGain | None, GemCurve | None, str | None]:
    if data.raw is None:
        return None, None, "what it goes for raw is not known"
    question = question_of(data, by, chances)
    faults = check_question(question)
    if faults:
        grade = faults[0].field.rpartition(".")[2]
        return None, None, f"what a {grade} goes for is not known"
    values = [np.nan if (it := data.values[grade]) is None else float(it) for grade in chances]
    curve = draw_curve(
        list(chances.values()), values, float(data.raw), by.cost, by.way, by.habits.crack, by.limit
    )  # fmt: skip
    return work_out_gain(question), curve, None


def question_of(data: CardData, by: Weighing, chances: Mapping[str, float]) -> GradingQuestion:
    """The question of C-26 about a card, exactly: chances to six decimals that add up to 1."""
    exact = exact_chances(chances)
    return GradingQuestion(
        exact, {grade: data.values[grade] for grade in exact}, data.raw or Decimal(0), by.cost, by.way,
        by.habits.crack, by.limit, by.months,
    )  # fmt: skip


def say_chances(
    catalogue: Catalogue, item: int, grader: int, version: int, chances: Mapping[str, float] | None
) -> None:
    """The owner says the chances of grades, or with None goes by the pictures again. Raises NotFound, Conflict,
    InputError."""
    with catalogue.database.transaction() as session:
        profile = find_grader(session, grader).profile
        if chances is not None:
            strange = [grade for grade in chances if grade not in profile.grades]
            if strange:
                raise InputError.at(f"chances.{strange[0]}", f"{profile.name} gives no {strange[0]}")
            if any(not 0 <= chance <= 1 for chance in chances.values()):
                raise InputError.at("chances", "each must be from 0 to 100 %")
            if abs(sum(chances.values()) - 1) > 0.005:
                raise InputError.at("chances", f"they sum to {sum(chances.values()) * 100:.0f} %, not to 100 %")
            chances = {grade: chances.get(grade, 0.0) / sum(chances.values()) for grade in profile.grades}
        put_said_grade(session, item, grader, version, chances, catalogue.today())
