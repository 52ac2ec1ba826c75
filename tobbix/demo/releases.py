"""The demo's releases as product sheets: all lines, all cards, prices as a market leaves them, few dear, many cheap."""

from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from itertools import islice
from random import Random

from tobbix.core.products.odds import Basis, Odds, Per, parse_statement
from tobbix.core.products.sheet import (
    STANDARD_PACK,
    Card,
    Format,
    Guarantee,
    Line,
    LineKind,
    PackKind,
    ProductSheet,
    Release,
)
from tobbix.demo import names

SEED = 20_251_101
PUBLISHER = "Ottergate Press"


def demo_sheets() -> tuple[ProductSheet, ...]:
    """All releases of the demo, the main one first. The same values at every call."""
    return (
        _skerrylight(Random(SEED)),
        _first_watch(Random(SEED + 1)),
        _funiculars(Random(SEED + 2)),
        _nocturnes(Random(SEED + 3), "Series One", Decimal("145.00")),
        _nocturnes(Random(SEED + 4), "Series Two", None),
    )


def _market_price(random: Random, typical: float, spread: float) -> Decimal:
    """A price round a typical one: lognormal, so that most are near it and a few far above."""
    price = typical * random.lognormvariate(0, spread)
    step = Decimal("0.05") if price < 5 else Decimal("0.25") if price < 20 else Decimal(1)
    return max((Decimal(repr(price)) / step).quantize(Decimal(1)) * step, Decimal("0.05")).quantize(Decimal("0.01"))


def _cards(
    random: Random,
    subjects: Iterator[str],
    count: int,
    typical: float,
    spread: float,
    prefix: str = "",
    short: int = 0,
    unknown: int = 0,
) -> tuple[Card, ...]:
    """A checklist; the last ``short`` cards are short prints and dearer, ``unknown`` of all have no price."""
    silent = set(random.sample(range(count), unknown))
    cards = []
    for index, subject in enumerate(islice(subjects, count)):
        is_short = index >= count - short
        price = _market_price(random, typical * (12 if is_short else 1), spread)
        weight = Decimal("0.5") if is_short else Decimal(1)
        cards.append(Card(f"{prefix}{index + 1}", subject, weight, None if index in silent else price))
    return tuple(cards)


def _odds(**statements: str) -> tuple[Odds, ...]:
    """Average odds by format; ``…!`` is a guarantee, ``?`` is unstated."""
    said = []
    for fmt, text in statements.items():
        if text == "?":
            said.append(Odds(fmt, None, Basis.UNSTATED))
        else:
            basis = Basis.GUARANTEED if text.endswith("!") else Basis.AVERAGE
            said.append(Odds(fmt, parse_statement(text.rstrip("!")), basis))
    return tuple(said)


def _format(
    fmt_id: str,
    name: str,
    channel: str,
    packs: int,
    cards: int,
    case: int | None,
    price: Decimal | None,
    usable: str = "1",
) -> Format:
    return Format(fmt_id, name, channel, (PackKind(STANDARD_PACK, packs, cards),), case, price, Decimal(usable))


def _parallel(
    line_id: str, name: str, print_run: int, multiple: str, floor: str, not_in: tuple[str, ...] = (), **odds: str
) -> Line:
    return Line(
        line_id, name, LineKind.PARALLEL, print_run, cards_of="base", price_multiple=Decimal(multiple),
        price_floor=Decimal(floor), odds=_odds(**odds), not_in=not_in,
    )  # fmt: skip


def _skerrylight(random: Random) -> ProductSheet:
    subjects, people = names.lights(random), names.keepers(random)
    dear = [next(subjects) for _ in range(6)]  # the named lights are the short prints people chase
    base = _cards(random, subjects, 144, 0.09, 0.6, short=14)
    base += tuple(
        Card(str(145 + i), name, Decimal("0.5"), _market_price(random, 3.2, 0.5)) for i, name in enumerate(dear)
    )
    only_harbour = ("market", "tin", "pack")
    lines = (
        Line("base", "Base", LineKind.BASE, cards=base),
        Line("fog", "Fog Signals", LineKind.INSERT, cards=_cards(random, subjects, 15, 1.4, 0.6, "FS", unknown=1),
             odds=_odds(harbour="1:4 packs", market="1:6 packs", tin="1:6 packs", pack="1:6 packs")),
        Line("night", "Night Passage", LineKind.INSERT, cards=_cards(random, subjects, 10, 3.6, 0.6, "NP"),
             odds=_odds(harbour="1:20 packs", market="1:36 packs", tin="1:36 packs", pack="1:36 packs")),
        Line("storm", "Storm Log", LineKind.INSERT, cards=_cards(random, subjects, 12, 2.0, 0.6, "SL", unknown=1),
             odds=_odds(harbour="1:12 packs", market="1:10 packs", tin="1 per box!", pack="1:24 packs")),
        Line("hand", "Keeper’s Hand", LineKind.AUTOGRAPH, cards=_cards(random, people, 24, 15.0, 0.75, "KH", unknown=2),
             odds=_odds(market="1:60 packs", tin="1:72 packs", pack="1:72 packs")),
        Line("rivet", "Rope & Rivet", LineKind.RELIC, cards=_cards(random, subjects, 18, 7.5, 0.6, "RR"),
             odds=_odds(market="1:48 packs", tin="1:60 packs", pack="1:60 packs")),
        Line("undertow", "Undertow", LineKind.INSERT, cards=_cards(random, subjects, 10, 46.0, 0.6, "UT"),
             odds=_odds(harbour="1 per case!", market="1:40 boxes"), not_in=("tin", "pack")),
        _parallel("drizzle", "Drizzle", 160, "4", "1.50", harbour="1:15 packs", market="1:24 packs", tin="1:24 packs",
                  pack="1:24 packs"),
        _parallel("slate", "Slate", 80, "7", "3.00", harbour="1:31 packs", market="1:48 packs", tin="1:48 packs",
                  pack="1:48 packs"),
        _parallel("saffron", "Saffron", 40, "12", "6.00", harbour="1:62 packs", market="1:96 packs", tin="1:96 packs",
                  pack="1:96 packs"),
        _parallel("gale", "Gale", 12, "35", "20.00", only_harbour, harbour="1:190 packs"),
        _parallel("lone", "Lone Lamp", 1, "160", "150.00", harbour="1:2300 packs", market="1:4100 packs",
                  tin="1:4100 packs", pack="1:4100 packs"),
        Line("build", "Build a Light", LineKind.INSERT, redemption=True,
             cards=tuple(Card(f"BL{i + 1}", f"Build a Light, {side}", Decimal(1), Decimal(24)) for i, side in enumerate(
                 ("front 1", "front 2", "front 3", "back 1", "back 2", "back 3"))),
             odds=_odds(harbour="?"), not_in=only_harbour),
    )  # fmt: skip
    formats = (
        _format("harbour", "Harbour box", "hobby", 16, 8, 12, Decimal("96.00")),
        _format("market", "Market box", "retail", 8, 6, 20, Decimal("27.50")),
        _format("tin", "Tin", "retail", 4, 6, None, Decimal("14.90")),
        _format("pack", "Single pack", "retail", 1, 6, None, Decimal("3.95")),
    )
    shares = (("hand", Decimal("0.6")), ("rivet", Decimal("0.4")))
    return ProductSheet(
        "skerrylight-2025", 1, Release("Skerrylight", None, 2025, PUBLISHER), "EUR", date(2026, 11, 1), formats, lines,
        (Guarantee("harbour", 1, Per.BOX, shares),),
    )  # fmt: skip


def _first_watch(random: Random) -> ProductSheet:
    subjects, people = names.lights(random), names.keepers(random)
    lines = (
        Line("base", "Base", LineKind.BASE, cards=_cards(random, subjects, 100, 0.9, 0.9, short=10)),
        Line("dark", "Dark Edge", LineKind.PARALLEL, 99, cards_of="base", price_multiple=Decimal(5),
             price_floor=Decimal("6.00"), odds=_odds(locker="1:12 packs", loose="1:12 packs")),
        Line("tide", "Tide Table", LineKind.INSERT, cards=_cards(random, subjects, 20, 5.0, 0.8, "TT", unknown=2),
             odds=_odds(locker="1:6 packs", loose="1:6 packs")),
        Line("log", "Signed Log", LineKind.AUTOGRAPH, cards=_cards(random, people, 12, 85.0, 0.9, "LG", unknown=1),
             odds=_odds(locker="1:48 packs", loose="1:48 packs")),
        Line("glass", "First Glass", LineKind.INSERT, 25, cards=_cards(random, subjects, 6, 160.0, 0.7, "FG"),
             odds=_odds(locker="1:288 packs", loose="1:288 packs")),
    )  # fmt: skip
    formats = (
        _format("locker", "Locker box", "hobby", 24, 6, 8, Decimal("465.00")),
        _format("loose", "Loose pack", "second hand", 1, 6, None, Decimal("19.00")),
    )
    return ProductSheet(
        "first-watch-2011", 1, Release("Skerrylight First Watch", None, 2011, PUBLISHER), "EUR", date(2026, 8, 14),
        formats, lines,
    )  # fmt: skip


def _funiculars(random: Random) -> ProductSheet:
    subjects, people = names.railways(random), names.keepers(random)
    lines = (
        Line("base", "Base", LineKind.BASE, cards=_cards(random, subjects, 90, 0.11, 0.6, short=9)),
        Line("nightcar", "Night Car", LineKind.INSERT, cards=_cards(random, names.railways(random), 12, 2.4, 0.6, "NC"),
             odds=_odds(summit="1:5 packs", valley="1:8 packs")),
        Line("engineer", "Engineer’s Hand", LineKind.AUTOGRAPH, cards=_cards(random, people, 20, 16.0, 0.8, "EH"),
             odds=_odds(valley="1:80 packs")),
        Line("rack", "Rack & Pinion", LineKind.RELIC, cards=_cards(random, names.railways(random), 15, 6.5, 0.5, "RP"),
             odds=_odds(valley="1:40 packs")),
        _parallel("brass", "Brass", 200, "4", "1.20", summit="1:10 packs", valley="1:18 packs"),
        _parallel("copper", "Copper", 75, "8", "3.00", summit="1:27 packs", valley="1:48 packs"),
        _parallel("iron", "Iron", 25, "18", "9.00", summit="1:80 packs", valley="1:140 packs"),
    )  # fmt: skip
    formats = (
        _format("summit", "Summit box", "hobby", 20, 5, 10, Decimal("72.00")),
        _format("valley", "Valley box", "retail", 10, 6, 16, Decimal("21.50")),
    )
    split = (("engineer", None), ("rack", None))  # two hits a box, which of the two is not said
    return ProductSheet(
        "highline-2024", 1, Release("Highline Funiculars", None, 2024, PUBLISHER), "EUR", date(2026, 10, 20), formats,
        lines, (Guarantee("summit", 2, Per.BOX, split),),
    )  # fmt: skip


def _nocturnes(random: Random, series: str, price: Decimal | None) -> ProductSheet:
    subjects = names.moths(random)
    lines = (
        Line("base", "Base", LineKind.BASE, cards=_cards(random, subjects, 72, 0.13, 0.7, short=6)),
        Line("lamp", "Drawn to the Lamp", LineKind.INSERT, cards=_cards(random, subjects, 12, 4.0, 0.7, "DL"),
             odds=_odds(moonbox="1:9 packs")),
        Line("dust", "Wing Dust", LineKind.INSERT, cards=_cards(random, subjects, 6, 22.0, 0.8, "WD", unknown=1),
             odds=_odds(moonbox="1:36 packs")),
        Line("plate", "Pinned Plate", LineKind.RELIC, cards=_cards(random, subjects, 3, 140.0, 0.4, "PP"),
             odds=_odds(moonbox="1:12 boxes")),
    )  # fmt: skip
    formats = (_format("moonbox", "Moonbox", "second hand", 36, 10, 12, price, usable="0.7"),)
    key = "nocturnes-1998-" + series.split()[1].lower()
    release = Release("Lepidora Nocturnes", series, 1998, PUBLISHER)
    return ProductSheet(key, 1, release, "EUR", date(2026, 6, 2), formats, lines)
