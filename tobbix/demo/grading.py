"""What the demo's collector has graded: two graders and a carrier described, scans of sixty cards, three submissions
(one back with friends' cards and an up-charge, one at the grader with a question, one drafted), a cracked 9, trials of
the eye."""

from collections.abc import Sequence
from datetime import timedelta
from decimal import Decimal
from random import Random

from tobbix.core.grading.centering import measure_centering
from tobbix.core.grading.simulated_scans import simulate_scan
from tobbix.core.holdings.documents import Side as PhotoSide
from tobbix.core.products.finding import FoundCard
from tobbix.core.sorting.flaws import Flaw, FlawKind, Side, Size
from tobbix.formats.pictures import write_jpeg
from tobbix.gateways.ports import GraderService
from tobbix.gateways.shipped import FOURFOLD, GANNET, PLUMBLINE
from tobbix.services.buying.booking import ChargeInput
from tobbix.services.grading import answers, measuring, profiles, record, submissions, submitting, weighing
from tobbix.services.grading.submissions import CardSaid, DraftSaid
from tobbix.services.grading.submitting import CameBack
from tobbix.services.products.catalogue import Catalogue
from tobbix.services.sorting import judging
from tobbix.services.stock import items, photos
from tobbix.services.stock.taking_in import CardInput, name_of, take_in

_SCANNED, _BACKS, _PIXELS = 60, 24, 620
_TRIALS = 14


def load_grading(catalogue: Catalogue, graders: Sequence[GraderService]) -> None:
    """Store it."""
    database = catalogue.database
    plumbline = profiles.put_grader(database, None, 0, PLUMBLINE)
    fourfold = profiles.put_grader(database, None, 0, FOURFOLD)
    profiles.put_carrier(database, 0, GANNET)
    rows = [
        it for it in weighing.weigh_all(catalogue, plumbline, "standard").rows
        if it.gain == it.gain and not it.card.keeps and it.card.owner is None
    ]  # fmt: skip
    _scan(catalogue, [it.card.item for it in rows[:_SCANNED]])
    first = [it.card.item for it in rows[:30:2]]
    second = [it.card.item for it in rows[1:20:4]]
    friends = _friends_cards(catalogue)
    _back(catalogue, graders, plumbline, [*first, *friends])
    _asking(catalogue, graders, fourfold, second)
    left = [it.card.item for it in rows[30:44] if it.card.item not in second]
    cards = [CardSaid(item, "standard") for item in left[:9]]
    drafted = submissions.draft(catalogue, plumbline, cards)
    view = submissions.read_submission(catalogue, drafted)
    said = DraftSaid(tuple(cards), "Gannet Post", "insured", None, Decimal(20))
    submissions.change_draft(catalogue, drafted, view.stored.version, said)
    _train(catalogue)


def _scan(catalogue: Catalogue, cards: Sequence[int]) -> None:
    """Pictures of cards, measured; some with what a lens shows on them."""
    random = Random(27)
    for at, item in enumerate(cards):
        sides = [(PhotoSide.FRONT, at)] + ([(PhotoSide.BACK, 500 + at)] if at < _BACKS else [])
        for side, seed in sides:
            scan = simulate_scan(seed, _PIXELS, off=3.0)
            picture = write_jpeg(scan.pixels, scan.per_mm * 25.4)
            photo = photos.keep_photo(catalogue.database, item, side, picture)
            measuring.find_lines(catalogue.database, photo, 0)
        if at % 4 == 1:
            kind = random.choice((FlawKind.WEAR, FlawKind.WEAR, FlawKind.PRINT, FlawKind.SCRATCH))
            place = random.choice(((0.03, 0.02), (0.97, 0.98), (0.5, 0.97), (0.4, 0.5)))
            found = items.read_item(catalogue.database, item).item
            flaw = Flaw(kind, random.choice((Side.FRONT, Side.BACK)), Size.SMALL, *place)
            judging.mark_flaws(catalogue, item, found.version, [flaw], None)


def _friends_cards(catalogue: Catalogue) -> list[int]:
    """Three cards of friends, which lie here to go along."""
    cards: list[FoundCard] = items.search_cards(catalogue, "keeper")[:3]
    owners = ("Bram Tolliver", "Bram Tolliver", "Wren Asquith")
    made = []
    for card, owner in zip(cards, owners, strict=False):
        naming = name_of(card.release, card.line, card.number, card.variant)
        said = [CardInput(card.name, naming, condition="NM")]
        made += take_in(catalogue.database, said, catalogue.today() - timedelta(160), owner=owner)
    return made


def _post(catalogue: Catalogue, document: int, ago: int, post: str, back: int) -> None:
    view = submissions.read_submission(catalogue, document)
    cards = tuple(
        CardSaid(it.stored.item, it.stored.tier, None if it.honest is not None else Decimal(5)) for it in view.cards
    )
    said = DraftSaid(cards, "Gannet Post", post, None, Decimal(back))
    submissions.change_draft(catalogue, document, view.stored.version, said)
    version = submissions.read_submission(catalogue, document).stored.version
    day = catalogue.today() - timedelta(ago)
    submissions.post_submission(catalogue, document, version, day, "RG 123 456 785 OG")


def _back(catalogue: Catalogue, graders: Sequence[GraderService], grader: int, cards: Sequence[int]) -> None:
    """A submission that went five months ago and came back; of its 9s one was cracked out again."""
    document = submissions.draft(catalogue, grader, [CardSaid(item, "standard") for item in cards])
    _post(catalogue, document, 150, "insured", 24)
    news = answers.ask_grader(catalogue, graders, document, catalogue.today())
    day = catalogue.today() - timedelta(86)
    usd = "USD"
    charges: list[tuple[ChargeInput, Sequence[int] | None]] = [
        (
            ChargeInput(it.kind, it.amount, usd, day),
            None if it.over is None else [news.items[line - 1] for line in it.over],
        )
        for it in news.answer.bill
    ]
    own = [item for item in news.items if item in cards]
    if not any(it.name == "up-charge" for it in news.answer.bill):
        charges.append((ChargeInput("service", Decimal(25), usd, day), [own[0]]))  # an up-charge after the fact
    charges.append((ChargeInput("duty", Decimal("71.10"), "EUR", day), None))
    submitting.bill_all(catalogue.database, document, charges)
    came = [
        CameBack(
            news.items[it.line - 1], it.grade, it.certificate, dict(it.subgrades) or None, it.words or ""
        )
        for it in news.answer.grades
    ]  # fmt: skip
    answers.take_grades(catalogue, document, came, day)
    nine = next((it.item for it in came if it.grade == "9" and it.item in own), None)
    if nine is not None:
        submitting.crack(catalogue.database, nine, catalogue.today() - timedelta(40))


def _asking(catalogue: Catalogue, graders: Sequence[GraderService], grader: int, cards: Sequence[int]) -> None:
    """A submission that is at the grader, who asks something."""
    document = submissions.draft(catalogue, grader, [CardSaid(item, "standard") for item in cards])
    _post(catalogue, document, 28, "tracked", 12)
    answers.ask_grader(catalogue, graders, document, catalogue.today())
    answers.say_question(catalogue, document, "Line 2: which printing is this? Say so, and we go on.")


def _train(catalogue: Catalogue) -> None:
    """Trials of an eye that leans a little: its left line of the frame lies too far in."""
    random = Random(41)
    for seed in range(10_000, 10_000 + _TRIALS):
        scan = simulate_scan(seed, record.SCAN)
        found = measure_centering(scan.pixels)
        edges, frame = measuring.sides_of(found.corners), list(measuring.sides_of(found.frame))
        off = random.gauss(0.07, 0.08) * scan.per_mm
        frame[3] = tuple((x + off, y) for x, y in frame[3])  # type: ignore[assignment]
        record.try_borders(catalogue, seed, edges, frame)
