"""How good the eye is: predicted grades against received ones, and trials (C-28, C-41); a second opinion on a slab that
came back (C-30)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError, NotFound
from tobbix.core.base.results import Verdict
from tobbix.core.grading.calibrating import (
    Calibration,
    GemRate,
    GraderSpread,
    Outcome,
    calibrate,
    gem_rates,
    grader_spread,
    state_calibration,
)
from tobbix.core.grading.centering import Segment, center_by_lines
from tobbix.core.grading.expecting import exact_chances, fill_values
from tobbix.core.grading.second_opinion import (
    Again,
    Opinion,
    Weighed,
    seen_again,
    spread_by,
    state_weighed,
    weigh_again,
)
from tobbix.core.grading.simulated_scans import SimulatedScan, scan_size, simulate_scan
from tobbix.core.grading.submissions import BY_POST
from tobbix.core.grading.training import BorderTrial, TrainedEye, judge_eye, score_chances, state_eye
from tobbix.core.holdings.documents import Label
from tobbix.db.grading import trials
from tobbix.db.grading.looking import all_grades
from tobbix.db.grading.profiles import list_graders
from tobbix.db.grading.trials import Replay, StoredTrial
from tobbix.db.holdings.loading import find_item, load_labels
from tobbix.db.products.values import versions_in_states
from tobbix.formats.pictures import write_jpeg
from tobbix.services.grading.profiles import load_habits
from tobbix.services.grading.weighing import AS_IT_IS, at_home, load_outcomes
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on
from tobbix.services.sorting.work import usual_work

BY = ("grader", "release", "quarter", "bucket")
SCAN = 640  # pixels of the longer side of a scan to train on


@dataclass(frozen=True, eq=False)
class RecordView:
    """The record: its calibration (None: nothing came back), gem rates by grader, release, quarter and bucket, how much
    each grader differs from itself, and every outcome."""

    calibration: Calibration | None
    rates: Mapping[str, tuple[GemRate, ...]]
    spreads: tuple[tuple[str, GraderSpread], ...]
    outcomes: tuple[Outcome, ...]
    eye: TrainedEye
    verdict: Verdict


def read_record(catalogue: Catalogue) -> RecordView:
    """How predictions did. Rule C-28."""
    with catalogue.database.transaction() as session:
        outcomes, grades, seen = load_outcomes(session), all_grades(session), trials.list_trials(session)
    found = calibrate([it.gem for it in outcomes], [it.is_gem for it in outcomes])
    spreads = tuple(sorted(_spreads(grades).items()))
    gems = sum(it.is_gem for it in outcomes)
    return RecordView(
        found, {by: tuple(gem_rates(outcomes, by)) for by in BY} if outcomes else {}, spreads, tuple(outcomes),
        judge_eye(_borders(seen)), state_calibration(found, gems),
    )  # fmt: skip


def _spreads(grades: Sequence[tuple[str, int, str]]) -> dict[str, GraderSpread]:
    """How much each grader differs from itself, by cards that it saw more than once."""
    twice: dict[str, dict[int, list[float]]] = {}
    for grader, item, grade in grades:
        try:
            twice.setdefault(grader, {}).setdefault(item, []).append(float(grade))
        except ValueError:
            continue  # a grade in words differs from nothing by how much
    found = {grader: grader_spread(list(of_it.values())) for grader, of_it in twice.items()}
    return {grader: spread for grader, spread in found.items() if spread is not None}


def _borders(seen: Sequence[StoredTrial]) -> list[BorderTrial]:
    return [
        BorderTrial((it.said["left"], it.said["top"]), (it.known["left"], it.known["top"]))
        for it in seen
        if it.seed is not None
    ]


@dataclass(frozen=True, eq=False)
class TrainingView:
    """What to train on next: a simulated scan by its seed, an own card whose grade came back (None: none is left), the
    eye so far, and the errors of the trials (points) with the Brier score of the chances that were said."""

    seed: int
    replay: Replay | None
    eye: TrainedEye
    errors: tuple[tuple[float, float], ...]
    said: int
    brier: float | None
    verdict: Verdict


def read_training(catalogue: Catalogue) -> TrainingView:
    """What to train on. Rule C-41."""
    with catalogue.database.transaction() as session:
        seen, replay = trials.list_trials(session), trials.next_replay(session)
    borders = _borders(seen)
    eye = judge_eye(borders)
    chances = [(it.said["gem"], it.known["gem"] == 1) for it in seen if it.item is not None]
    brier = score_chances(chances)
    seed = 1 + max((it.seed for it in seen if it.seed is not None), default=1_000)
    return TrainingView(
        seed, replay, eye, tuple(it.errors for it in borders), len(chances), brier, state_eye(eye)
    )  # fmt: skip


def training_scan(seed: int) -> bytes:
    """A simulated scan by its seed (JPEG)."""
    return write_jpeg(_scan(seed).pixels)


def size_of_scan() -> tuple[int, int]:
    """Width and height of a scan to train on (pixels)."""
    return scan_size(SCAN)


def _scan(seed: int) -> SimulatedScan:
    return simulate_scan(seed, SCAN)


@dataclass(frozen=True, slots=True)
class BorderTruth:
    """What was placed and what is known (percent at the left and at the top)."""

    placed: tuple[float, float]
    known: tuple[float, float]


def try_borders(
    catalogue: Catalogue, seed: int, edges: Sequence[Segment], frame: Sequence[Segment]
) -> BorderTruth:  # fmt: skip
    """A trial on a simulated scan, by the lines that were placed. Raises InputError where they make no card, Conflict
    for a scan that was tried before."""
    placed = center_by_lines(edges, frame)
    left, top = placed.left_right[0], placed.top_bottom[0]
    scan = _scan(seed)
    with catalogue.database.transaction() as session:
        if trials.was_tried(session, seed):
            raise Conflict("this one was tried before")
        trials.add_trial(session, seed, None, {"left": left, "top": top}, {"left": scan.left, "top": scan.top})
    return BorderTruth((left, top), (scan.left, scan.top))


def try_card(catalogue: Catalogue, item: int, chances: Mapping[str, float]) -> str:
    """A trial on an own card: the chances that are said; the grade that it got. Raises Conflict, InputError."""
    if abs(sum(chances.values()) - 1) > 0.005 or any(it < 0 for it in chances.values()):
        raise InputError.at("chances", f"they sum to {sum(chances.values()) * 100:.0f} %, not to 100 %")
    with catalogue.database.transaction() as session:
        replay = trials.next_replay(session)
        if replay is None or replay.item != item:
            raise Conflict("this card was tried before; look again")
        gem = replay.grades[0]
        known = {"grade": replay.grade, "gem": 1.0 if replay.grade == gem else 0.0}
        trials.add_trial(session, None, item, {"chances": dict(chances), "gem": chances.get(gem, 0.0)}, known)
        return replay.grade


@dataclass(frozen=True, eq=False)
class OpinionView:
    """A slab: its chain of labels, what it is worth as it is, and every way weighed; ``missing`` why not."""

    item: int
    name: str
    labels: tuple[Label, ...]
    value: Decimal | None
    ways: tuple[Weighed, ...]
    missing: str | None
    currency: str
    verdict: Verdict | None


def second_opinion(catalogue: Catalogue, item: int) -> OpinionView:
    """What to do with a slab that may be graded too low. Rule C-30. Raises NotFound, Conflict for what has no label."""
    today = catalogue.today()
    with catalogue.database.transaction() as session:  # to the end: rates are read once they are needed
        thing = find_item(session, item, lock=False)
        labels = tuple(load_labels(session, item))
        standing = [it for it in labels if not it.removed]
        if not standing:
            raise Conflict("it carries no label, so there is nothing to ask again")
        label = standing[-1]
        home = home_on(session, today)
        graders = [it for it in list_graders(session) if it.profile.grades_cards]
        own = next((it for it in graders if it.profile.name == label.grader), None)
        if own is None or thing.version_id is None:
            raise NotFound(f"{label.grader} is not described, or nobody knows which card it is")
        states = [f"{it.profile.name}:{grade}" for it in graders for grade in it.profile.grades]
        found = versions_in_states(session, [thing.version_id], [*states, home.state])
        habits, usual = load_habits(session), usual_work(session)
        spread = spread_by(_spreads(all_grades(session)).get(label.grader))
        worth = {
            state: home.convert(value.amount, value.currency)
            for (_, state), value in found.items()
            if value.amount is not None
        }
        raw = worth.get(home.state)
        value = worth.get(f"{label.grader}:{label.grade}")
        way = usual.way or AS_IT_IS
        if value is None:
            missing = f"what a {label.grade} of {label.grader} goes for is not known"
            return OpinionView(item, thing.name, labels, value, (), missing, home.currency, None)
        asked = []
        for grader in graders:
            profile = grader.profile
            known = {grade: worth.get(f"{profile.name}:{grade}") for grade in profile.grades}
            by_grade, _ = fill_values(known, raw)
            near = seen_again(profile.grades, label.grade, spread)
            if any(by_grade[grade] is None for grade in near):
                continue
            chances = exact_chances(near)
            values = {grade: by_grade[grade] or Decimal(0) for grade in near}
            tier = profile.tiers[0]
            fee = at_home(home, tier.fee * (1 + profile.duty_share), profile) + habits.per_card
            months = None if tier.days is None else Decimal(tier.days + BY_POST) / 30
            if profile.name == label.grader:
                asked.append(Again(Opinion.RESUBMIT, chances, values, fee + habits.crack_cost, months, habits.breakage))
                asked.append(Again(Opinion.REVIEW, chances, values, fee, months))
            else:
                asked.append(Again(Opinion.CROSS, chances, values, fee, months, Decimal(0), label.grade))
        ways = weigh_again(value, way, asked)
        return OpinionView(
            item, thing.name, labels, value, ways, None, home.currency, state_weighed(ways, home.currency)
        )  # fmt: skip
