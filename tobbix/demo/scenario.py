"""Load the demo through the services, as its owner would have."""

from collections.abc import Sequence

from tobbix.db.base import Database
from tobbix.demo.collecting import load_year
from tobbix.demo.listings import load_listings
from tobbix.demo.orders import load_orders
from tobbix.demo.releases import demo_sheets
from tobbix.demo.selling import load_selling
from tobbix.gateways.ports import GraderService, RateFeed, Scale
from tobbix.services.installation.owners import DEMO_PASSPHRASE, create_owner, current_owner
from tobbix.services.installation.store import open_catalogue
from tobbix.services.products.answering import answer_releases
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.products.importing import store_sheet

COLLECTOR = "Ines Quillfeather"


def load_demo(
    database: Database, rates: RateFeed, scale: Scale, catalogue: Catalogue | None = None,
    graders: Sequence[GraderService] = (),
) -> str:  # fmt: skip
    """Make the demo's owner, releases and year where they are missing; says what was done. The year ends today, or on
    the day that a ``catalogue`` goes by. Without ``graders`` nothing was graded in it."""
    owner = current_owner(database)
    if owner is not None and not owner.is_demo:
        return "This installation has an owner of its own; the demo was not loaded."
    if owner is None:
        create_owner(database, COLLECTOR, DEMO_PASSPHRASE, is_demo=True)
    catalogue = catalogue or open_catalogue(database)
    added = add_demo_releases(catalogue)
    load_selling(catalogue)
    load_year(catalogue, rates, scale, graders)
    load_orders(catalogue)
    load_listings(catalogue)
    return f"The demo is loaded: {added} releases added, {len(demo_sheets()) - added} there before."


def add_demo_releases(catalogue: Catalogue) -> int:
    """Store those of the demo's releases that are not there; says how many they were."""
    present = {answers.sheet.id for answers in answer_releases(catalogue)}
    missing = [sheet for sheet in demo_sheets() if sheet.id not in present]
    for sheet in missing:
        store_sheet(catalogue, sheet, replace_existing=False)
    return len(missing)
