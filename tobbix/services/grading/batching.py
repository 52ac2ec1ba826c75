"""The best batch of cards for a grader, with what other budgets would bring (C-29)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from decimal import ROUND_CEILING, Decimal
from fractions import Fraction
from typing import Any

from tobbix.core.base.results import Verdict
from tobbix.core.base.tasks import Task, TaskState
from tobbix.core.grading.batch import (
    Batch,
    BatchCard,
    BatchQuestion,
    BatchTier,
    choose_batch,
    missing_cards,
    spent_on,
    state_batch,
)
from tobbix.core.grading.expecting import exact_chances
from tobbix.db.base import Session
from tobbix.db.grading.looking import Candidate
from tobbix.services.grading.weighing import (
    CardData,
    Weighing,
    at_home,
    chances_of,
    grader_asked,
    load_cards,
    weighing,
)
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.tasks.carrying import Run, Tell, ask_for, fingerprint_of, list_tasks

KIND = "batch"
SECONDS, POINTS = 8.0, 12


@dataclass(frozen=True, slots=True)
class BatchSaid:
    """What is asked of a batch: the grader (None: the first), parcels out (money at home) and back (of the grader's
    currency), whether a membership is owned or may be bought, a budget (None: none), how many cards at most (None:
    any), and cards that must stay here."""

    grader: int | None = None
    out: Decimal = Decimal(0)
    back: Decimal = Decimal(0)
    owned: bool = False
    may_join: bool = True
    budget: Decimal | None = None
    most: int | None = None
    without: tuple[int, ...] = ()


@dataclass(frozen=True, eq=False)
class BatchView:
    """The best batch, what each card gains where it goes, cards that could not be weighed, what it costs, and what a
    friend's cards would fill: how many more of a tier's least count are missing."""

    by: Weighing
    found: Batch
    cards: Mapping[str, Candidate]
    unknown: tuple[Candidate, ...]
    spent: Decimal
    missing: tuple[tuple[str, int], ...]
    task: Task | None
    curve: tuple[tuple[float, float, int], ...]
    verdict: Verdict


def best_batch(catalogue: Catalogue, said: BatchSaid) -> BatchView:
    """The best batch of what is here. Rule C-29. Raises NotFound, Conflict, InputError."""
    with catalogue.database.transaction() as session:
        by, question, data, unknown = _question(session, catalogue, said)
    found = _choose(question)
    cards = {str(it.card.item): it.card for it in data}
    task, curve = _curve(catalogue, said)
    names = {it.id: it.name for it in by.grader.profile.tiers}
    missing = tuple((names[tier], cards) for tier, cards in missing_cards(question, found).items())
    verdict = state_batch(found, names, by.grader.profile.name, by.home.currency)
    return BatchView(
        by, found, cards, tuple(unknown), spent_on(question, found), missing, task, curve, verdict
    )  # fmt: skip


def _choose(question: BatchQuestion) -> Batch:
    if not question.cards:
        return Batch(Fraction(0), False, {}, (), 0.0, True, {})
    return choose_batch(question, SECONDS)


def _question(
    session: Session, catalogue: Catalogue, said: BatchSaid
) -> tuple[Weighing, BatchQuestion, list[CardData], list[Candidate]]:
    by = weighing(session, grader_asked(session, said.grader), None, catalogue.today())
    profile = by.grader.profile
    data, unknown, cards = list[CardData](), list[Candidate](), list[BatchCard]()
    for it in load_cards(session, by.grader, by.home):
        if it.card.keeps or it.card.draft is not None or it.card.item in said.without:
            continue
        chances = chances_of(it, by)
        gem = by.grader.profile.grades[0]
        if it.raw is None or any(
            (chances[grade] > 0 or grade == gem) and it.values[grade] is None for grade in chances
        ):
            unknown.append(it.card)
        else:
            data.append(it)
            cards.append(BatchCard(str(it.card.item), exact_chances(chances), dict(it.values), it.raw))
    tiers = tuple(
        BatchTier(
            it.id, at_home(by.home, it.fee * (1 + profile.duty_share), profile), it.min_cards,
            None if it.value_limit is None else at_home(by.home, it.value_limit, profile),
            at_home(by.home, it.up_charge, profile), it.members_only,
        )
        for it in profile.tiers
    )  # fmt: skip
    fee = None if profile.membership is None or not said.may_join else at_home(by.home, profile.membership, profile)
    question = BatchQuestion(
        by.way, tuple(cards), tiers, by.habits.per_card, said.out, at_home(by.home, said.back, profile), fee,
        said.owned, said.budget, said.most, by.habits.crack,
    )  # fmt: skip
    return by, question, data, unknown


def _about(said: BatchSaid) -> str:
    return f"grading:batch:{fingerprint_of(_asked(said))[:16]}"


def _asked(said: BatchSaid) -> dict[str, Any]:
    return {
        "grader": said.grader, "out": f"{said.out:f}", "back": f"{said.back:f}", "owned": said.owned,
        "may_join": said.may_join, "most": said.most, "without": list(said.without),
    }  # fmt: skip


def ask_curve(catalogue: Catalogue, said: BatchSaid) -> Task:
    """Begin to work out what other budgets would bring."""
    minute = datetime.now(UTC).isoformat(timespec="minutes")
    return ask_for(
        catalogue.database, KIND, _about(said), _asked(said), fingerprint_of(KIND, _asked(said), minute), POINTS
    )  # fmt: skip


def batch_runs(catalogue: Catalogue) -> dict[str, Run]:
    """How the gains of other budgets are worked out."""

    def run(task: Task, tell: Tell) -> Mapping[str, Any]:
        asked = dict(task.asked)
        said = BatchSaid(
            asked["grader"], Decimal(asked["out"]), Decimal(asked["back"]), asked["owned"], asked["may_join"], None,
            asked["most"], tuple(asked["without"]),
        )  # fmt: skip
        with catalogue.database.transaction() as session:
            _, question, *_ = _question(session, catalogue, said)
        all_of_it = spent_on(question, _choose(question))
        points = [[0.0, 0.0, 0]]
        for at in range(1, POINTS + 1):
            budget = (all_of_it * at / POINTS).quantize(Decimal("0.01"), ROUND_CEILING)
            found = _choose(replace(question, budget=budget))
            points.append([float(budget), float(found.total_gain), sum(map(len, found.tiers.values()))])
            tell(at)
        return {"curve": points}

    return {KIND: run}


def _curve(
    catalogue: Catalogue, said: BatchSaid
) -> tuple[Task | None, tuple[tuple[float, float, int], ...]]:  # fmt: skip
    tasks = list_tasks(catalogue.database, _about(said), KIND)
    done = next((it for it in tasks if it.state is TaskState.DONE and it.result), None)
    points: Sequence[Any] = () if done is None or done.result is None else done.result["curve"]
    return (tasks[0] if tasks else None), tuple((x, y, n) for x, y, n in points)
