"""Plans of sorting: kept, measured by the clock, and for a collection that was bought its cost shared out in the end
(C-34)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from decimal import Decimal

from tobbix.core.base.errors import Conflict, InputError
from tobbix.core.base.money import minor_units
from tobbix.core.base.results import Verdict
from tobbix.core.holdings import register
from tobbix.core.holdings.items import Item
from tobbix.core.holdings.states import HELD_STATES, DocumentKind, Kind
from tobbix.core.sorting.passes import Hoard, Pass, SortingPlan, check_plan, plan_sorting, state_plan
from tobbix.core.sorting.projects import Project, state_project
from tobbix.db.base import Session
from tobbix.db.holdings.listing import worths
from tobbix.db.holdings.loading import find_item, load_entry, load_things
from tobbix.db.holdings.saving import add_document, keep_change
from tobbix.db.installation.keeping import load_preferences
from tobbix.db.sorting import plans
from tobbix.db.sorting.plans import StoredPlan
from tobbix.db.sorting.plans import StoredRun as StoredRun
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.valuing import home_on, revalue_items

MOST_ENTERED = 20_000


@dataclass(frozen=True, eq=False)
class PlanView:
    """A plan as it stands: with what it takes, the runs of its clock, and how the collection that it is of does."""

    stored: StoredPlan
    plan: SortingPlan
    verdict: Verdict
    runs: tuple[StoredRun, ...]
    running: StoredRun | None
    project: Project
    project_verdict: Verdict
    item: Item | None
    currency: str


def list_plans(catalogue: Catalogue) -> list[PlanView]:
    """All plans, the newest first."""
    with catalogue.database.transaction() as session:
        return [_view(session, it) for it in plans.list_plans(session)]


def read_plan(catalogue: Catalogue, number: int) -> PlanView:
    """A plan. Raises NotFound."""
    with catalogue.database.transaction() as session:
        return _view(session, plans.find_plan(session, number))


def try_plan(catalogue: Catalogue, hoard: Hoard, passes: Sequence[Pass]) -> tuple[SortingPlan, Verdict]:
    """What a plan would take, without keeping it. Raises InputError."""
    with catalogue.database.transaction() as session:
        plan = plan_sorting(hoard, passes, plans.own_rates(session))
        return plan, state_plan(plan, load_preferences(session).currency)


def _view(session: Session, stored: StoredPlan) -> PlanView:
    runs = plans.list_runs(session, stored.number)
    done = [
        sum(run.cards or 0 for run in runs if run.place == place) for place in range(len(stored.passes))
    ]  # fmt: skip
    plan = plan_sorting(stored.hoard, stored.passes, plans.own_rates(session), done)
    currency = load_preferences(session).currency
    item = None if stored.item is None else find_item(session, stored.item, lock=False)
    sums = plans.sum_entered(session, plans.entered_under(session, stored.document))
    minutes = sum((run.minutes for run in runs if run.minutes is not None), Decimal(0))
    shared = stored.shared_entry is not None and not load_entry(session, stored.shared_entry)[2]
    project = Project(
        None if item is None else item.basis, stored.expected, stored.hoard.cards, sums.cards, sums.rows, sums.value,
        sums.unknown, minutes, shared,
    )  # fmt: skip
    return PlanView(
        stored, plan, state_plan(plan, currency), tuple(runs), next((run for run in runs if run.minutes is None), None),
        project, state_project(project, currency), item, currency,
    )  # fmt: skip


def put_plan(
    catalogue: Catalogue, number: int | None, version: int, name: str, hoard: Hoard, passes: Sequence[Pass],
    expected: Decimal | None, item: int | None,
) -> int:  # fmt: skip
    """Keep a plan; its number. A pass that the clock measured stays where it is. Raises InputError, NotFound,
    Conflict."""
    check_plan(hoard, passes)
    if not name.strip():
        raise InputError.at("name", "give it a name")
    if expected is not None and not 0 <= expected <= 99_999_999:
        raise InputError.at("expected", "must not be negative")
    with catalogue.database.transaction() as session:
        if item is not None:
            found = find_item(session, item, lock=False)
            before = None if number is None else plans.find_plan(session, number).item
            if item != before and (found.state not in HELD_STATES or found.kind == Kind.SEALED):
                raise InputError.at("item", "choose something that is here and is not sealed")
        document = None
        if number is None:
            today = catalogue.today()
            document = add_document(session, DocumentKind.IMPORT, today, f"sorting: {name.strip()}"[:500])
        else:
            kept = plans.find_plan(session, number)
            measured = {run.place: run.kind for run in plans.list_runs(session, number)}
            for place, kind in measured.items():
                if place >= len(passes) or passes[place].kind is not kind:
                    said = kept.passes[place].name if place < len(kept.passes) else kind.value
                    raise InputError.at("passes", f"“{said}” has been timed; leave it at its place")
        tidy = [replace(it, name=it.name.strip()) for it in passes]
        return plans.put_plan(session, number, version, name.strip(), hoard, tidy, expected, item, document)


def remove_plan(catalogue: Catalogue, number: int, again: bool = False) -> None:
    """Take a plan off the list, or put it back ``again``; what was entered under it stays. Raises NotFound."""
    with catalogue.database.transaction() as session:
        plans.mark_plan(session, number, None if again else datetime.now(UTC))


def start_clock(catalogue: Catalogue, number: int, place: int) -> None:
    """Start the clock over a pass. Raises NotFound, InputError, Conflict."""
    with catalogue.database.transaction() as session:
        stored = plans.find_plan(session, number)
        if not 0 <= place < len(stored.passes):
            raise InputError.at("place", "there is no such pass")
        plans.start_run(session, number, place, stored.passes[place].kind, datetime.now(UTC))


def stop_clock(catalogue: Catalogue, number: int, cards: int) -> int:
    """Stop the clock, with how many cards went through; the run. Rates learn from it. Raises InputError, Conflict."""
    if not 0 <= cards <= 10_000_000:
        raise InputError.at("cards", "must not be negative")
    with catalogue.database.transaction() as session:
        plans.find_plan(session, number)
        return plans.end_run(session, number, cards, datetime.now(UTC))


def drop_run(catalogue: Catalogue, number: int, run: int) -> None:
    """A run of the clock did not count: the telephone rang. Raises NotFound."""
    with catalogue.database.transaction() as session:
        plans.drop_run(session, number, run)


def share_cost(catalogue: Catalogue, number: int, version: int, each: Decimal | None) -> int:
    """What the collection cost goes to what was entered under its plan, by value; ``each`` is what one card counts of
    which that is not known (money). Rule C-15. The entry, by which it can be taken back.

    Raises NotFound, Conflict, InputError at ``each`` where values are missing.
    """
    today = catalogue.today()
    with catalogue.database.transaction() as session:
        stored = plans.find_plan(session, number, version)
        if stored.item is None:
            raise Conflict("this plan is of no thing that was bought; name it first")
        lot = load_things(session, [stored.item])[0]
        entered = [it for it in plans.entered_under(session, stored.document) if it != lot.key]
        things = [thing for thing in load_things(session, entered) if thing.basis is None and thing.owner is None]
        if not things:
            raise Conflict("nothing was entered under this plan that has no cost yet")
        if len(things) > MOST_ENTERED:
            raise Conflict(f"at most {MOST_ENTERED:,} rows can be shared over at once")
        values = worths(session, [thing.key for thing in things])
        unknown = sum(1 for thing in things if values.get(thing.key) is None)
        if unknown and each is None:
            raise InputError.at("each", f"of {unknown:,} rows the value is not known: say what such a card counts")
        if each is not None and not 0 <= each <= 99_999_999:
            raise InputError.at("each", "must not be negative")
        valued = [
            replace(
                thing,
                value=worth if (worth := values.get(thing.key)) is not None else (each or Decimal(0)) * thing.count,
            )
            for thing in things
        ]
        text = f"sorted out: {lot.name}"[:500]
        change = register.open_sealed(
            lot, lot.count, valued, Decimal(0), today, text, minor_units(load_preferences(session).currency)
        )
        entry = keep_change(session, change, stored.document)
        plans.mark_shared(session, number, entry)
        revalue_items(session, home_on(session, today), [thing.key for thing in change.things])
        return entry
