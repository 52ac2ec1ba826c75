"""What the demo's collector sorts: the bought shoeboxes as a project, a plan for her own, goals, a judged card."""

from decimal import Decimal

from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.core.sorting.goals import GoalKind
from tobbix.core.sorting.passes import Hoard, Pass, PassKind
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.sorting import entering, goals, judging, planning
from tobbix.services.sorting.entering import Pile
from tobbix.services.sorting.goals import GoalSaid
from tobbix.services.stock import items
from tobbix.services.stock.items import ItemFilter

_SCHOOL = (
    Pass(PassKind.RESCUE, "Rescue what is obviously worth it", finds=Decimal(90)),
    Pass(PassKind.DECADE, "By decade", finds=Decimal(0)),
    Pass(PassKind.YEAR, "By year", finds=Decimal(0)),
    Pass(PassKind.SET, "By set", finds=Decimal(520)),
    Pass(PassKind.NUMBER, "By number", finds=Decimal(240)),
)
_ENTERED = ("3 x2", "4", "4 lp", "9", "11", "11", "12 x3", "15 lp", "16", "2")


def load_sorting(catalogue: Catalogue) -> None:
    """Store it."""
    whole = Hoard(12_000, Decimal(12))
    planning.put_plan(catalogue, None, 0, "The shoeboxes in the attic", whole, _SCHOOL, None, None)
    attic = planning.list_plans(catalogue)[0].stored.number
    pile = Pile("keepers-of-the-coast-1983", None, "Base", "box K 1983", "NM", attic)
    for text in _ENTERED:
        entering.enter_card(catalogue, pile, text)
    goals.put_goal(catalogue, 0, 0, GoalSaid("Fog Signals", GoalKind.SET, "skerrylight-2025", "fog"))
    goals.put_goal(catalogue, 0, 0, GoalSaid("All of the base", GoalKind.SET, "skerrylight-2025", "base"))
    rainbow = GoalSaid("Gull Rock in every finish", GoalKind.RAINBOW, "skerrylight-2025", "base", "1")
    goals.put_goal(catalogue, 0, 0, rainbow)
    loose = GoalSaid("Keepers of 1983, at least LP", GoalKind.SET, "keepers-of-the-coast-1983", "Base", least="LP")
    goals.put_goal(catalogue, 0, 0, loose)
    wanted = ItemFilter(kind="card", release="keepers-of-the-coast-1983", place="box K 1983")
    found = items.list_items(catalogue.database, wanted, "id", False, 0, 1).items
    for item in found:
        marks = [Flaw(FlawKind.WEAR, side, Size.SMALL, x, 0.98) for side, x in ((Side.FRONT, 0.02), (Side.BACK, 0.98))]
        judging.mark_flaws(catalogue, item.number, item.version, marks, "LP")
