"""Scratch copies: try corrections of a release, compare, keep or drop them."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, replace

from tobbix.core.base.errors import Conflict, Fault
from tobbix.core.base.results import Verdict
from tobbix.core.planning.habits import ViewChoice
from tobbix.core.products.answer import Answer, Worked, answer_at
from tobbix.core.products.box_value import BoxValue, value_holding
from tobbix.core.products.revising import find_format
from tobbix.core.products.sheet import ProductSheet
from tobbix.core.products.trying import Edit, EditKind, add_edit, drop_stale, state_trial, try_edits
from tobbix.core.products.valuation import ONE_BOX, value_format
from tobbix.db.products.loading import find_release
from tobbix.db.products.planning import drop_scratch, load_scratch, save_scratch
from tobbix.services.products.catalogue import Catalogue, Looked
from tobbix.services.products.editing import replace_by


@dataclass(frozen=True, eq=False)
class Side:
    """A box of the sheet, or of the scratch copy."""

    value: BoxValue
    answer: Answer


@dataclass(frozen=True, eq=False)
class TrialAnswer:
    """A scratch copy beside the sheet. ``stale`` says which trials fell away because the sheet changed."""

    looked: Looked
    edits: tuple[Edit, ...]
    version: int
    stale: tuple[Fault, ...]
    before: Side
    after: Side
    verdict: Verdict


def read_trial(catalogue: Catalogue, key: str, format_id: str, choice: ViewChoice) -> TrialAnswer:
    """The scratch copy of a release, compared for one box of a format. Raises NotFound, InputError."""
    with catalogue.database.transaction() as session:
        looked = catalogue.look(session, key, choice)
        stored, version = load_scratch(session, find_release(session, key))
    find_format(looked.sheet, format_id)
    edits, stale = drop_stale(looked.sheet, _typed(stored))
    tried = try_edits(looked.sheet, edits)
    before = _side(looked, looked.sheet, format_id)
    after = _side(looked, tried, format_id) if edits else before
    verdict = state_trial((before.value, before.answer), (after.value, after.answer), len(edits))
    return TrialAnswer(looked, edits, version, stale, before, after, verdict)


def _side(looked: Looked, sheet: ProductSheet, format_id: str) -> Side:
    standpoint = looked.standpoint
    valuation = value_format(sheet, format_id, worth=standpoint.worth, assumptions=standpoint.assumptions)
    value = value_holding(valuation, ONE_BOX)
    price = sheet.format_by_id[format_id].price
    preferences = looked.preferences
    answer = answer_at(
        Worked(value, None, None, None), None if price is None else float(price), preferences.rule,
        preferences.costs_with_time,
    )  # fmt: skip
    return Side(value, answer)


def add_trial(catalogue: Catalogue, key: str, version: int, edit: Edit) -> int:
    """Try one more correction; returns the scratch copy's new version. Raises InputError, NotFound, Conflict."""

    def act(sheet: ProductSheet, edits: Sequence[Edit]) -> tuple[Edit, ...]:
        fresh = add_edit(drop_stale(sheet, edits)[0], edit)
        try_edits(sheet, fresh)
        return fresh

    return _change(catalogue, key, version, act)


def remove_trial(catalogue: Catalogue, key: str, version: int, number: int) -> int:
    """Take trial ``number`` (from 0) back. Raises NotFound, Conflict."""
    return _change(catalogue, key, version, lambda sheet, edits: [e for i, e in enumerate(edits) if i != number])


def _change(
    catalogue: Catalogue, key: str, version: int, act: Callable[[ProductSheet, Sequence[Edit]], Sequence[Edit]]
) -> int:
    with catalogue.database.transaction() as session:
        release = find_release(session, key, lock=True)
        stored, current = load_scratch(session, release)
        if version != current:
            raise Conflict("the scratch copy was changed meanwhile; look again, then retry")
        edits = act(catalogue.sheet(session, key), _typed(stored))
        save_scratch(session, release, [asdict(edit) for edit in edits], current + 1)
    return current + 1


def keep_trial(catalogue: Catalogue, key: str, version: int) -> ProductSheet:
    """Make the scratch copy the sheet, as one change that can be undone. Raises NotFound, InputError, Conflict."""
    with catalogue.database.transaction() as session:
        release = find_release(session, key)
        stored, current = load_scratch(session, release)
        sheet = catalogue.sheet(session, key)
    if version != current or not stored:
        raise Conflict("the scratch copy was changed meanwhile; look again, then retry")
    edits = drop_stale(sheet, _typed(stored))[0]
    tried = try_edits(sheet, edits)
    many = "1 change" if len(edits) == 1 else f"{len(edits)} changes"
    kept = replace_by(catalogue, key, sheet.revision, tried, f"{many} that were tried")
    drop_trial(catalogue, key)
    return kept


def drop_trial(catalogue: Catalogue, key: str) -> None:
    """Throw the scratch copy away. Raises NotFound."""
    with catalogue.database.transaction() as session:
        drop_scratch(session, find_release(session, key, lock=True))


def _typed(stored: Sequence[dict[str, str]]) -> tuple[Edit, ...]:
    return tuple(replace(Edit(**row), kind=EditKind(row["kind"])) for row in stored)  # type: ignore[arg-type]
