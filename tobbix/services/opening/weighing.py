"""Weights: kept, judged, taken back. Rule C-14."""

from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run, Verdict
from tobbix.core.opening.records import Weight
from tobbix.core.opening.weighing import WeightVerdict, check_reading, judge_weights
from tobbix.core.products.revising import find_format
from tobbix.db.opening import saving
from tobbix.db.opening.loading import load_weights
from tobbix.db.opening.saving import add_weight
from tobbix.db.products.loading import format_identity
from tobbix.formats.rates import parse_scale_line
from tobbix.gateways.ports import Scale
from tobbix.services.products.catalogue import Catalogue


def read_weights(
    catalogue: Catalogue, release: str, format_id: str, unit: str
) -> tuple[list[Weight], WeightVerdict | None, Verdict]:
    """The owner's weights of a format, and whether they tell. Rule C-14. Raises NotFound."""
    with catalogue.database.transaction() as session:
        find_format(catalogue.sheet(session, release), format_id)
        identity = format_identity(session, release, format_id)
        rows = load_weights(session, identity, unit)
    with_hit = [float(row.grams) for row in rows if row.held_hit is True]
    without = [float(row.grams) for row in rows if row.held_hit is False]
    try:
        said = judge_weights(with_hit, without)
    except InputError as error:
        return (
            rows,
            None,
            Verdict(
                (
                    Run("Too few to say", "tells", True),
                    Run(f": {error.faults[0].message}."),
                ),
                (),
            ),
        )
    return rows, said, said.verdict


def log_weight(
    catalogue: Catalogue,
    scale: Scale,
    release: str,
    format_id: str,
    unit: str,
    grams: float | None,
    held: bool | None,
    is_sure: bool = False,
) -> None:
    """Keep a weight; without grams the scale is read. One that does not fit the others is kept only by who is sure.

    Raises NotFound, InputError.
    """
    weight = parse_scale_line(scale.read_line()) if grams is None else Decimal(repr(grams))
    with catalogue.database.transaction() as session:
        find_format(catalogue.sheet(session, release), format_id)
        identity = format_identity(session, release, format_id)
        if not is_sure:
            check_reading(float(weight), [float(row.grams) for row in load_weights(session, identity, unit)])
        add_weight(session, identity, unit, round(weight, 3), held, catalogue.today())


def correct_weight(catalogue: Catalogue, number: int, held: bool | None) -> None:
    """Say anew whether what was weighed held a hit. Raises NotFound."""
    with catalogue.database.transaction() as session:
        saving.correct_weight(session, number, held)


def take_weight_back(catalogue: Catalogue, number: int, back: bool) -> None:
    """Take a weight back, or bring it in again; it stays on record. Raises NotFound."""
    with catalogue.database.transaction() as session:
        saving.take_weight_back(session, number, back)
