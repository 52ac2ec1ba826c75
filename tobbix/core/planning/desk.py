"""The desk: what there is to do over all steps, the one act that settles each, and what comes first.

What is due comes first, then what is due this week by its day, what lies open, what is worth the time, what is due
later, and what can wait for a calm hour. Among equals what puts most money at stake for its minutes comes first.
Minutes are usual ones: common practice, no source; a look-up's are Rule C-35's.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from enum import StrEnum

from tobbix.core.base.results import Run, Verdict
from tobbix.core.buying.purchase import Purchase
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import DocumentState
from tobbix.core.opening.records import Opening, Redemption
from tobbix.core.products.overview import Chore, Waiting, day_words, number_words
from tobbix.core.products.verdict import amount_words
from tobbix.core.selling.orders import OrderStage, OrderWaiting

LOOK_UP_MINUTES = 1.5
SOON_DAYS = 7
_PARCEL_MINUTES, _DISPUTE_MINUTES, _POST_MINUTES, _PACK_MINUTES = 10.0, 20.0, 5.0, 4.0
_DAYS = "Monday Tuesday Wednesday Thursday Friday Saturday Sunday".split()


class Step(StrEnum):
    """The station of the line of work at which something waits."""

    PRODUCTS = "products"
    BUYING = "buying"
    OPENING = "opening"
    STOCK = "stock"
    SELLING = "selling"
    BOOKS = "books"


class Act(StrEnum):
    """What settles a job, in the words that a button has."""

    RECEIVE = "It is here"
    SETTLE = "See the dispute"
    GO_ON = "Go on"
    POST = "Post the code"
    ARRIVE = "It arrived"
    LOOK_UP = "Look up"
    VALUE = "Give a value"
    PACK = "Pack it"
    HAND_IN = "Post it"
    ANSWER = "Answer"
    BACK_UP = "See the backups"


class When(StrEnum):
    """How a job stands in time, in the order of the desk."""

    TODAY = "today"
    DATED = "dated"
    OPEN = "open"
    WORTH = "worth it"
    LATER = "later"
    CALM = "when calm"


@dataclass(frozen=True, slots=True)
class Job:
    """Something to do: at a ``step``, of the thing ``key``, settled by an ``act`` of about so many ``minutes``.

    ``day`` by which, if one is known; ``stake`` the money at home that hangs on it, None if nobody can say. ``text``
    says it as a row, ``lead`` as the headline if it is the first, ``mark`` in two words for a week.
    """

    step: Step
    act: Act
    key: str
    when: When
    day: date | None
    stake: Decimal | None
    minutes: float
    text: str
    lead: tuple[Run, ...]
    mark: str


@dataclass(frozen=True, slots=True)
class Resting:
    """How much of what is held rests on a release's prices: how many things, and their worth (money at home; None:
    of none of them known)."""

    things: int = 0
    worth: Decimal | None = None


def near_day(day: date, today: date) -> str:
    """A day as one says it today.

    >>> near_day(date(2026, 11, 29), date(2026, 11, 26))
    'on Sunday'
    >>> near_day(date(2026, 12, 9), date(2026, 11, 26))
    'on 9 December 2026'
    """
    away = (day - today).days
    named = {0: "today", 1: "tomorrow", -1: "yesterday"}.get(away)
    if named is not None:
        return named
    return f"on {_DAYS[day.weekday()]}" if abs(away) < 7 else f"on {day_words(day)}"


def _timed(day: date | None, today: date, otherwise: When) -> When:
    if day is None:
        return otherwise
    if day <= today:
        return When.TODAY
    return When.DATED if (day - today).days < SOON_DAYS else When.LATER


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def order_jobs(orders: Sequence[OrderWaiting], today: date, currency: str) -> list[Job]:
    """What waits of orders: a complaint each, and what is to be packed and to be posted together."""
    found = []
    for it in orders:
        if it.stage is not OrderStage.COMPLAINED:
            continue
        text = f"{it.buyer or 'A buyer'} complains of {it.reference}: {it.complaint}."
        lead = (Run("Answer "), Run(it.reference, "first", True), Run(f": {it.complaint}."))
        found.append(Job(Step.SELLING, Act.ANSWER, str(it.document), When.TODAY, None, it.home, _DISPUTE_MINUTES, text,
                         lead, "complaint"))  # fmt: skip
    for stage, act, todo in ((OrderStage.TO_PACK, Act.PACK, "pack"), (OrderStage.PACKED, Act.HAND_IN, "post")):
        those = sorted((it for it in orders if it.stage is stage), key=lambda it: (it.day, it.document))
        if not those:
            continue
        many = "1 order" if len(those) == 1 else f"{len(those)} orders"
        stake = sum((it.home for it in those), Decimal(0))
        first = those[0]
        text = f"{_capital(many)} to {todo}, the first of {near_day(first.day, today).removeprefix('on ')}."
        lead = (Run(f"{_capital(todo)} "), Run(many, "first", True), Run(f": {amount(stake, currency)} are paid."))
        found.append(Job(Step.SELLING, act, str(first.document), When.TODAY, None, stake, _PACK_MINUTES * len(those),
                         text, lead, todo))  # fmt: skip
    return found


def parcel_job(purchase: Purchase, today: date, currency: str) -> Job | None:
    """A purchase that is on its way or in dispute; None if nothing of it waits."""
    name, cost = purchase.name, amount(purchase.landed, currency)
    key, parcel = str(purchase.number), purchase.parcel
    if purchase.state is DocumentState.DISPUTED:
        why = "" if parcel is None or not parcel.dispute else f" ({parcel.dispute})"
        text = f"{_capital(name)} is in dispute{why}; {cost} hang on it."
        lead = (Run("Settle "), Run(name, "first", True), Run(f": {cost} hang on the dispute."))
        return Job(Step.BUYING, Act.SETTLE, key, When.OPEN, None, purchase.landed, _DISPUTE_MINUTES, text, lead,
                   "dispute")  # fmt: skip
    if purchase.state is not DocumentState.ORDERED:
        return None
    due = None if parcel is None else parcel.due_on
    if due is None:
        said = f"is on its way since {day_words(purchase.bought_on)}, and no day is known"
        begin = "Ask where "
        end = f" is: it holds {cost} of yours, and no day is known."
    else:
        said = f"{'was' if due < today else 'is'} due {near_day(due, today)}"
        begin = "Take in " if due <= today else "Next comes "
        end = f": it holds {cost} of yours and {said}."
    text = f"{_capital(name)} {said}; it holds {cost} of yours."
    lead = (Run(begin), Run(name, "first", True), Run(end))
    when = _timed(due, today, When.CALM)
    return Job(Step.BUYING, Act.RECEIVE, key, when, due, purchase.landed, _PARCEL_MINUTES, text, lead, "parcel due")


def session_job(
    row: Opening, name: str, opened: int, left: Decimal | None, minutes_per_box: float, currency: str
) -> Job:
    """A session that is not finished: ``opened`` packs of it are, and ``left`` (estimate, money) is expected in the
    others; None if nobody can say."""
    ahead = row.packs - opened
    worth = "" if left is None else f" About {amount_words(float(left), currency)} may still be in it."
    packs = f"{opened} of {row.packs} packs"
    text = f"{_capital(name)} lies open after {packs}.{worth}"
    if not ahead:
        text = f"{_capital(name)} is opened to the last pack, and not finished: its cost is on no card yet."
    lead = (
        Run("Finish "),
        Run(name, "first", True),
        Run(f": {packs} are opened." + worth),
    )
    minutes = max(minutes_per_box * row.boxes * ahead / row.packs, 1.0)
    return Job(Step.OPENING, Act.GO_ON, str(row.number), When.OPEN, None, left, minutes, text, lead, "box open")


def redemption_job(row: Redemption, value: Decimal | None, today: date, currency: str) -> Job | None:
    """A card that comes by post; ``value`` of what was exchanged for it (money, None: not known). None once it came."""
    if row.arrived_on is not None:
        return None
    when = _timed(row.due_on, today, When.CALM)
    due = "no day is known" if row.due_on is None else f"due {near_day(row.due_on, today)}"
    about = "" if value is None else f"; it is worth about {amount(value, currency)}"
    if row.posted_on is None:
        text = f"The code of {row.name} is not posted, {due}{about}."
        lead = (Run("Post the code of "), Run(row.name, "first", True), Run(f": {due}{about}."))
        act, mark = Act.POST, "code to post"
    else:
        text = f"{_capital(row.name)} comes by post, {due}{about}."
        lead = (Run("Look for "), Run(row.name, "first", True), Run(f" in the post: {due}{about}."))
        act, mark = Act.ARRIVE, "redemption due"
    return Job(Step.OPENING, act, str(row.number), when, row.due_on, value, _POST_MINUTES, text, lead, mark)


def release_job(waiting: Sequence[Waiting], resting: Resting, has_answer: bool, currency: str) -> Job | None:
    """What waits of one release: prices and odds that are missing, and old prices that something rests on; None if
    nothing does. ``has_answer``: a box of it has a price today, so that an answer is given."""
    carries = resting.things > 0 or has_answer
    found = [item for item in waiting if carries or item.chore is not Chore.STALE]
    if not found:
        return None
    title = found[0].title
    reasons = [item.text for item in found]
    joined = reasons[0] if len(reasons) == 1 else f"{'; '.join(reasons[:-1])}; and {reasons[-1]}"
    things = "one thing" if resting.things == 1 else f"{resting.things:,} things"
    rests = ""
    if resting.things:
        verb = "rests" if resting.things == 1 else "rest"
        about = "" if resting.worth is None else f", about {amount(resting.worth, currency)},"
        rests = f" {_capital(things)} that you hold{about} {verb} on it."
    text = f"{title} has {joined}.{rests}"
    lead = (Run("Look up "), Run(title, "first", True), Run(f": it has {reasons[0]}.{rests}"))
    when = When.WORTH if resting.worth else When.CALM
    minutes = LOOK_UP_MINUTES * sum(item.look_ups for item in found)
    stake = resting.worth or None
    return Job(Step.PRODUCTS, Act.LOOK_UP, found[0].release, when, None, stake, minutes, text, lead, "to look up")


def unvalued_job(things: int) -> Job | None:
    """Things held that nobody knows the worth of."""
    if not things:
        return None
    said = "One thing that you hold has" if things == 1 else f"{things:,} things that you hold have"
    named = "one thing" if things == 1 else f"{things:,} things"
    lead = (Run("Say what "), Run(named, "first", True), Run(" that you hold may bring: nobody knows."))
    return Job(Step.STOCK, Act.VALUE, "", When.CALM, None, None, LOOK_UP_MINUTES * things, f"{said} no known worth.",
               lead, "to value")  # fmt: skip


def backup_job(last: date | None, today: date) -> Job | None:
    """The daily backup, if it was not made for longer than a day; ``last`` None: never."""
    if last is not None and (today - last).days <= 1:
        return None
    since = "has been made yet" if last is None else f"was made since {day_words(last)}"
    lead = (Run("See why "), Run("no backup", "first", True), Run(f" {since}."))
    return Job(Step.BOOKS, Act.BACK_UP, "", When.TODAY, None, None, _POST_MINUTES, f"No backup {since}.", lead,
               "backup")  # fmt: skip


def in_order(jobs: Sequence[Job]) -> list[Job]:
    """Jobs as they are best done: by their time, what has a day to come by it, then by what is at stake a minute."""

    def rank(job: Job) -> tuple[int, date, float, str]:
        day = job.day if job.when in (When.DATED, When.LATER) and job.day is not None else date.min
        pays = 0.0 if job.stake is None else float(job.stake) / job.minutes
        return (list(When).index(job.when), day, -pays, job.text)

    return sorted(jobs, key=rank)


def counts_of(jobs: Sequence[Job]) -> dict[str, int]:
    """How many jobs wait at each step: what stands on the desk and nothing else."""
    return {step.value: sum(job.step is step for job in jobs) for step in Step}


def of_the_week(jobs: Sequence[Job], today: date) -> list[tuple[date, tuple[str, ...]]]:
    """The seven days from today, each with what is due on it; what was due before stands on today."""
    days = [today + timedelta(days=away) for away in range(SOON_DAYS)]
    dated = [(max(job.day, today), job.mark) for job in jobs if job.day is not None]
    return [(day, tuple(mark for due, mark in dated if due == day)) for day in days]


def state_desk(jobs: Sequence[Job], is_first_day: bool) -> Verdict:
    """What to do first, and how much comes after it. ``jobs`` in their order."""
    if is_first_day:
        begin = (Run("Begin with "), Run("one box", "waiting", True), Run(" or one thing that you have."))
        return Verdict(begin, (Run("Record what you bought, or bring in a product sheet: the rest follows from it."),))
    if not jobs:
        calm = ". No parcel is due, and every price that something rests on is fresh."
        return Verdict((Run("Nothing waits", "waiting", True), Run(calm)), ())
    rest = jobs[1:]
    due = sum(job.when is When.TODAY for job in rest)
    dated = sum(job.when in (When.DATED, When.LATER) for job in rest)
    undated = len(rest) - due - dated
    said = [
        f"{number_words(many)} {words}"
        for many, words in ((due, "due today"), (dated, "with a day to come"), (undated, "without a day"))
        if many
    ]
    after = "Nothing else waits." if not said else f"Then {' and '.join(said)}."
    return Verdict(jobs[0].lead, (Run(after),))
