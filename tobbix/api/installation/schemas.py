"""What is sent and answered: sign-in, the owner's preferences, and whether the server is well."""

from datetime import date
from typing import Annotated

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field, StringConstraints

from tobbix.api.base.fields import Amount, Condition, Exact, Key, RowNumber, Share, Strict
from tobbix.api.base.mirroring import Mirror
from tobbix.api.base.verdicts import VerdictOut
from tobbix.core.planning.desk import Step, When
from tobbix.core.planning.spending import LimitState
from tobbix.core.pricing.schools import School
from tobbix.core.products.most_to_pay import Standard
from tobbix.core.products.worth import ValueBasis
from tobbix.services.installation.finding import Place
from tobbix.services.installation.owners import LONGEST
from tobbix.services.installation.progress import Phase
from tobbix.services.installation.signing_in import OpenSession


class SessionOut(BaseModel):
    """Who is signed in, whether there is an owner at all, and the token that every changing request sends along as
    X-CSRFToken."""

    signed_in: bool
    has_owner: bool
    owner: str | None
    is_demo: bool
    token: str
    today: date


class SignInIn(Strict):
    passphrase: str = Field(min_length=1, max_length=LONGEST)


class HealthOut(BaseModel):
    """Whether the store answers and whether a worker is there (null where nobody can tell). ``instance``: the mark of
    the running server."""

    store: bool
    worker: bool | None
    instance: str


class OpenSessionOut(Mirror, of=OpenSession):
    """A session that is open; the browser in its own words."""


class OpenSessionsOut(BaseModel):
    """Every session that is open, and after how long they end by themselves (hours without use, days at most)."""

    sessions: list[OpenSessionOut]
    idle_hours: float
    longest_days: float


class BackupForm(BaseModel):
    file: FileStorage = Field(description="A backup")
    confirmed: bool = False


class RestoredOut(BaseModel):
    """What was restored; ``unknown`` are columns of an old backup that are not kept any more."""

    words: str
    unknown: list[str]


class ProgressPath(BaseModel):
    once: str = Field(min_length=1, max_length=64)


class ProgressOut(BaseModel):
    """How far an upload is, in rows; ``total`` null as long as it is not known."""

    phase: Phase
    done: int
    total: int | None


class PreferencesFields(Strict):
    """How the owner decides and sells; shares are 0.21 for 21 %, amounts in the home currency."""

    standard: Standard
    chance: float = Field(ge=0.001, lt=1)
    margin: float = Field(ge=0, le=10)
    shipping: float = Field(ge=0, le=99_999_999)
    tax: float = Field(ge=0, le=1)
    tax_on_shipping: bool
    basis: ValueBasis
    way: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$")] | None
    floor: float = Field(ge=0, le=99_999_999)
    bulk: float = Field(ge=0, le=99_999_999)
    sells: float = Field(ge=0, le=1)
    hourly_rate: float = Field(ge=0, le=99_999_999)
    minutes_per_box: float = Field(ge=0, le=10_000)
    minutes_per_sale: float = Field(ge=0, le=10_000)
    months: float = Field(ge=0, le=120)
    decay: float = Field(ge=0, lt=1)
    depth: float = Field(ge=0, lt=1)
    own_spread: float = Field(ge=0, le=2)
    market_spread: float = Field(ge=0, le=2)
    growth: float = Field(ge=-0.99, le=10)
    years: float = Field(ge=0, le=50)
    keeping: float = Field(ge=0, le=99_999_999)
    monthly_limit: Annotated[str, StringConstraints(pattern=r"^[0-9]{1,8}(\.[0-9]{1,3})?$")] | None
    version: int = Field(ge=0, le=2_000_000_000)


class PreferencesOut(PreferencesFields):
    """The same as they are stored, with the home currency, whether it can still be chosen, the condition that prices of
    sheets speak for, and the school by which prices are read off sales."""

    currency: str
    currency_open: bool
    sheet_condition: Condition
    school: School


class HomeIn(Strict):
    currency: str = Field(max_length=10)
    sheet_condition: Condition
    version: int = Field(ge=0, le=2_000_000_000)


class SchoolIn(Strict):
    school: School
    version: int = Field(ge=0, le=2_000_000_000)


class CurrencyOut(BaseModel):
    code: str
    name: str


class CurrenciesOut(BaseModel):
    currencies: list[CurrencyOut]


class SpendingEntryOut(BaseModel):
    """A purchase, or an entry of its own (``number``) that can be taken back."""

    number: int | None
    purchase: int | None
    day: date
    amount: str
    what: str


class JobOut(BaseModel):
    """Something to do: what is at stake (money at home, null: nobody can say), about how many minutes, and the page on
    which the act with this label settles it."""

    step: Step
    label: str
    when: When
    day: date | None
    stake: Exact | None
    minutes: float
    text: str
    path: str


class DayMarksOut(BaseModel):
    """A day of the week to come, and what is due on it."""

    day: date
    marks: list[str]


class HeldOut(BaseModel):
    """What is held: what it cost and is worth where that is known."""

    verdict: VerdictOut
    things: int
    basis: Exact
    value: Exact


class DeskOut(BaseModel):
    """What to do today, in order, and how much waits at each step."""

    today: date
    currency: str
    verdict: VerdictOut
    jobs: list[JobOut]
    counts: dict[str, int]
    week: list[DayMarksOut]
    held: HeldOut


class SpendingOut(BaseModel):
    """What was spent on product this month, against the limit."""

    today: date
    month: str
    total: str
    limit: str | None
    currency: str
    state: LimitState
    verdict: VerdictOut
    entries: list[SpendingEntryOut]


class FirstWayIn(Strict):
    """A way of selling at the first visit: its name and the little that most have; the rest is said in the settings."""

    id: Key
    name: Annotated[str, StringConstraints(min_length=1, max_length=200, strip_whitespace=True)]
    commission: Share
    fixed_fee: Amount
    postage: Amount


class BeginIn(Strict):
    """The first visit, while the installation belongs to nobody."""

    name: str = Field(max_length=200)
    passphrase: str = Field(max_length=LONGEST)
    currency: str = Field(max_length=3)
    ways: list[FirstWayIn] = Field(max_length=10)


class DailyBackupOut(BaseModel):
    """A backup that was made by itself: its day and size in bytes."""

    day: date
    size: int


class DailyBackupsOut(BaseModel):
    """The backups that are made by themselves, the newest first; no ``folder`` where none are made."""

    folder: str | None
    backups: list[DailyBackupOut]


class SpendingIn(Strict):
    """Something that was spent on product beside purchases."""

    day: date
    amount: Annotated[str, StringConstraints(pattern=r"^[0-9]{1,8}(\.[0-9]{1,3})?$")]
    what: str = Field(min_length=1, max_length=200)


class SpendingPath(BaseModel):
    number: RowNumber


class AnythingQuery(BaseModel):
    find: str = Field("", max_length=200)


class PlaceOut(Mirror, of=Place):
    """Somewhere that words lead to."""


class PlacesOut(BaseModel):
    places: list[PlaceOut]
