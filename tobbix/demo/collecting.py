"""A year of the demo's collector: what she bought and opened, with some mistakes, all through the services."""

from collections.abc import Sequence
from datetime import date, timedelta
from decimal import Decimal
from random import Random

from tobbix.core.base.errors import InputError
from tobbix.core.holdings.allocation import Method
from tobbix.core.opening.session import Pulled
from tobbix.core.products.slots import BoxModel, build_box_model
from tobbix.demo.grading import load_grading
from tobbix.demo.pricing import load_prices
from tobbix.demo.shoeboxes import SEED, name_seen, shoeboxes
from tobbix.demo.sorting import load_sorting
from tobbix.demo.targets import load_targets
from tobbix.demo.telling import load_telling
from tobbix.gateways.ports import GraderService, RateFeed, Scale
from tobbix.services.buying import amending, purchasing, rates
from tobbix.services.buying.amending import PartInput
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.buying.purchasing import Inspection, PurchaseInput, ThingInput
from tobbix.services.opening import closing, finding, opening, redeeming, viewing, weighing
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.stock import bringing

SKERRY, NOCTURNES = "skerrylight-2025", "nocturnes-1998-one"


def load_year(catalogue: Catalogue, feed: RateFeed, scale: Scale, graders: Sequence[GraderService] = ()) -> None:
    """Load the year where nothing was bought yet."""
    store, today, random = catalogue.database, catalogue.today(), Random(SEED)
    if purchasing.list_purchases(store):
        return
    rates.fetch_rates(store, feed, today - timedelta(days=400), today)

    def day(back: int) -> date:
        return today - timedelta(days=back)

    def buy(
        key: str, name: str, back: int, price: str, things: list[ThingInput], currency: str = "EUR",
        here: int | None = 4, method: Method = Method.VALUE, seller: str = "Ottergate Cards",
        more: tuple[tuple[str, str], ...] = (),
    ) -> int:  # fmt: skip
        on = day(back)
        charges = [ChargeInput("price", Decimal(price), currency, on)]
        charges += [ChargeInput(kind, Decimal(amount), currency, on) for kind, amount in more]
        said = PurchaseInput(
            name, on, tuple(charges), tuple(things), method, seller, None if here is None else day(back - here),
            "Gannet Post", f"GP{back:04}", day(back - 6),
        )  # fmt: skip
        return purchasing.record_purchase(store, said, f"demo-{key}", today)

    def sealed(fmt: str, name: str, count: int, value: str, release: str = SKERRY) -> ThingInput:
        return ThingInput("sealed", name, count, release, fmt, value=Decimal(value))

    harbour, market = "Skerrylight 2025, Harbour box", "Skerrylight 2025, Market box"
    first = buy(
        "1", "two Harbour boxes", 320, "176.00", [sealed("harbour", harbour, 2, "192")], more=(("shipping", "6.90"),)
    )
    second = buy("2", "six Market boxes", 270, "150.00", [sealed("market", market, 6, "165")])
    auction = buy("3", "Gavelrock lot: Harbour box and singles", 240, "118.00",
        [sealed("harbour", harbour, 1, "96"),
         ThingInput("card", "Nils Cragg, Keeper’s Hand", 1, SKERRY, None, "hand", "KH24", Decimal("58"))],
        "GBP", seller="Gavelrock", more=(("premium", "23.60"), ("shipping", "11.00")))  # fmt: skip
    amending.add_charge(store, auction, 1, ChargeInput("duty", Decimal("8.40"), "EUR", day(228)))
    wrong = buy("4", "Moonbox of the wrong series", 200, "145.00",
                [sealed("moonbox", "Lepidora Nocturnes Series Two 1998, Moonbox", 1, "145", "nocturnes-1998-two")],
                here=None, seller="an estate, Saltby")  # fmt: skip
    purchasing.receive_purchase(
        store, wrong, 1, day(193), Inspection(seal=True, series=False, contents=True, note="Series Two, not One")
    )
    amending.refund_purchase(store, wrong, 2, ChargeInput("other", Decimal("60.00"), "EUR", day(180)))
    unseen = buy(
        "5", "a collection from Saltby, unseen", 150, "260.00",
        [ThingInput("stack", "base cards of the harbour sets", 850, value=Decimal("90")),
         ThingInput("stack", "inserts in a binder", 48, value=Decimal("120")),
         ThingInput("card", "Fenwick Fennick, Keeper’s Hand", 1, SKERRY, None, "hand", "KH5", Decimal("74")),
         ThingInput("other", "toy lighthouse and empty tins", gift=True)],
        seller="a family in Saltby", more=(("shipping", "18.50"),),
    )  # fmt: skip
    lot = purchasing.read_purchase(store, unseen)
    values = {"base": "55", "inserts": "150", "Fenwick": "74"}
    parts = [
        PartInput(item.number, value=Decimal(next(v for word, v in values.items() if word in item.name)))
        for item in lot.things
        if not item.gift
    ]
    parts += [PartInput(item.number, gift=True) for item in lot.things if item.gift]
    amending.divide_again(store, unseen, lot.version, Method.VALUE, parts, day(141), book=True)
    buy(
        "6",
        "a loose Locker pack",
        60,
        "19.00",
        [sealed("loose", "Skerrylight First Watch 2011, Loose pack", 1, "19", "first-watch-2011")],
        seller="the Quay Fair",
    )
    latest = buy("7", "two Harbour boxes", 22, "192.00", [sealed("harbour", harbour, 2, "192")])
    buy("8", "Jory Strand, Keeper’s Hand", 5, "66.00",
        [ThingInput("card", "Jory Strand, Keeper’s Hand", 1, SKERRY, None, "hand", "KH23", Decimal("70"))], here=None,
        seller="Bellbuoy", more=(("shipping", "4.20"),))  # fmt: skip
    _open_boxes(catalogue, random, first, [16, 16], Decimal(0), day(300))
    _open_boxes(catalogue, random, second, [8, 8, 8, 5], Decimal("0.25"), day(250))  # of the last, three packs stay
    _begin(catalogue, random, latest)
    for index in range(9):
        weighing.log_weight(catalogue, scale, SKERRY, "harbour", "box", None, index % 3 == 0)
    redeeming.put_redemption(catalogue, None, None, {
        "name": "Build a Light, front 2", "code": "BL-7Q2-11", "choices": "one of three fronts",
        "posted_on": day(70), "due_on": today + timedelta(days=20),
    })  # fmt: skip
    seen = name_seen(catalogue)
    bringing.import_items(store, shoeboxes(random, seen), today)
    load_telling(catalogue)
    load_targets(catalogue, load_prices(catalogue, seen))
    load_sorting(catalogue)
    if graders:
        load_grading(catalogue, graders)


def _open_boxes(catalogue: Catalogue, random: Random, purchase: int, packs: list[int], fun: Decimal, on: date) -> None:
    item = purchasing.read_purchase(catalogue.database, purchase).things[0]
    for box, opened in enumerate(packs):
        said = opening.SessionInput(item.number, 1, fun, started_on=on + timedelta(days=box))
        session = opening.start_session(catalogue, said, f"demo-open-{purchase}-{box}")
        _pull(catalogue, random, session, opened)
        closing.finish_session(catalogue, session, False, False, on + timedelta(days=box))


def _begin(catalogue: Catalogue, random: Random, purchase: int) -> None:
    """A box that is being opened: nine packs are done."""
    said = opening.SessionInput(purchasing.read_purchase(catalogue.database, purchase).things[0].number, 1)
    session = opening.start_session(catalogue, said, "demo-running")
    _pull(catalogue, random, session, 9)
    opening.turn_pack(catalogue, session, 10)


def _pull(catalogue: Catalogue, random: Random, session: int, packs: int) -> None:
    """Log hits of so many packs as the slot model brings them; the rest of each pack is base."""
    view = viewing.read_session(catalogue, session)
    sheet, fmt = view.looked.sheet, view.format
    model: BoxModel = build_box_model(sheet, fmt)
    placed: dict[int, list[str]] = {}
    for guarantee in model.guarantees:
        count = guarantee.count if guarantee.per == "box" else int(random.random() < model.per_box(guarantee))
        lines, shares = zip(*guarantee.shares, strict=True)
        for pack in random.sample(range(1, fmt.packs_per_box + 1), count):
            placed.setdefault(pack, []).append(random.choices(lines, shares)[0])
    for pack in range(1, min(fmt.packs_per_box, packs) + 1):
        drawn = list(placed.get(pack, []))
        for slot in model.packs[0].slots:
            at = random.random()
            for line, chance in slot.chances:
                if at < chance:
                    drawn.append(line)
                    break
                at -= chance
        for place, line in enumerate(drawn):
            _log(catalogue, random, session, pack, line, f"{pack}-{place}")
        opening.turn_pack(catalogue, session, min(pack + 1, fmt.packs_per_box), rest_of=pack)


def _log(catalogue: Catalogue, random: Random, session: int, pack: int, line: str, once: str) -> None:
    with_cards = finding.cards_of_line(catalogue, session, line)
    number = random.choice(with_cards.numbers)
    serial = f"{random.randint(1, with_cards.print_run)}/{with_cards.print_run}" if with_cards.print_run else None
    try:
        opening.log_pull(catalogue, session, Pulled(pack, line, number, 1, serial), once)
    except InputError:
        raise AssertionError("the demo logs what its boxes can hold") from None
