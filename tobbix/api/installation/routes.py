"""Sign-in, the owner's preferences, and whether the server is well."""

from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path
from tempfile import TemporaryDirectory

from flask import Response, request, session
from flask_login import current_user, login_user, logout_user
from flask_openapi3 import APIBlueprint, Tag
from flask_wtf.csrf import generate_csrf
from werkzeug.exceptions import Unauthorized

from tobbix.api.base.acts import key_or_fresh
from tobbix.api.base.context import catalogue, context
from tobbix.api.base.documenting import answer, operation_id, returns
from tobbix.api.base.fields import save_upload
from tobbix.api.base.security import SignedIn, guard, note_browser, now, who_asks
from tobbix.api.base.verdicts import show_verdict
from tobbix.api.installation.schemas import (
    AnythingQuery,
    BackupForm,
    BeginIn,
    CurrenciesOut,
    CurrencyOut,
    DailyBackupOut,
    DailyBackupsOut,
    HealthOut,
    HomeIn,
    OpenSessionOut,
    OpenSessionsOut,
    PlaceOut,
    PlacesOut,
    PreferencesFields,
    PreferencesOut,
    ProgressOut,
    ProgressPath,
    RestoredOut,
    SchoolIn,
    SessionOut,
    SignInIn,
    SpendingEntryOut,
    SpendingIn,
    SpendingOut,
    SpendingPath,
)
from tobbix.api.tasks.schemas import TaskOut, show_task
from tobbix.core.base.money import currency_codes
from tobbix.core.planning.habits import Preferences, SealedHabits, SellingHabits
from tobbix.core.pricing.fees import Bracket, SellingWay
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule
from tobbix.core.products.sureness import Uncertainty
from tobbix.core.products.worth import Horizon
from tobbix.services.installation.backups import back_up, restore
from tobbix.services.installation.beginning import Beginning, begin
from tobbix.services.installation.finding import find_anything
from tobbix.services.installation.keeping import list_daily
from tobbix.services.installation.owners import current_owner
from tobbix.services.installation.preferences import (
    change_preferences,
    choose_home,
    choose_school,
    is_home_open,
    note_spending,
    read_preferences,
    read_spending,
    take_back_spending,
)
from tobbix.services.installation.signing_in import end_others, list_open, sign_in, sign_out
from tobbix.services.installation.store import read_health

blueprint = APIBlueprint(
    "installation",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="installation", description="Sign-in and preferences")],
    operation_id_callback=operation_id,
)


def describe_preferences(preferences: Preferences) -> PreferencesOut:
    rule, costs, selling = preferences.rule, preferences.costs, preferences.selling
    horizon, sealed, limit = selling.horizon, preferences.sealed, preferences.monthly_limit
    return PreferencesOut(
        standard=rule.standard,
        chance=rule.chance,
        margin=rule.margin,
        shipping=costs.shipping,
        tax=costs.tax,
        tax_on_shipping=costs.tax_on_shipping,
        basis=selling.basis,
        way=selling.way,
        floor=selling.floor,
        bulk=selling.bulk,
        sells=selling.sells,
        hourly_rate=selling.hourly_rate,
        minutes_per_box=selling.minutes_per_box,
        minutes_per_sale=selling.minutes_per_sale,
        months=horizon.months,
        decay=horizon.decay,
        depth=horizon.depth,
        own_spread=preferences.uncertainty.own,
        market_spread=preferences.uncertainty.market,
        growth=sealed.growth,
        years=sealed.years,
        keeping=sealed.keeping,
        monthly_limit=None if limit is None else format(limit, "f"),
        version=preferences.version,
        currency=preferences.currency,
        currency_open=is_home_open(catalogue().database),
        sheet_condition=preferences.sheet_condition,
        school=preferences.school,
    )


def _session() -> SessionOut:
    owner = current_owner(catalogue().database)
    signed_in = bool(current_user.is_authenticated)
    return SessionOut(
        signed_in=signed_in,
        has_owner=owner is not None,
        owner=owner.name if owner is not None and signed_in else None,
        is_demo=owner is not None and owner.is_demo,
        token=generate_csrf(),
        today=catalogue().today(),
    )


@blueprint.get("/session", responses={200: SessionOut}, summary="Who is signed in")
@returns()
def read_session() -> SessionOut:
    return _session()


@blueprint.post("/owner", responses={200: SessionOut}, summary="The first visit: make the owner, and sign in")
def begin_here(body: BeginIn) -> Response:
    ways = [
        SellingWay(
            way.id, way.name, (Bracket(None, Decimal(way.commission or "0")),), fixed_fee=Decimal(way.fixed_fee),
            postage=Decimal(way.postage),
        )
        for way in body.ways
    ]  # fmt: skip
    begin(catalogue().database, Beginning(body.name, body.passphrase, body.currency, ways))
    return _let_in(body.passphrase)


@blueprint.post("/session", responses={200: SessionOut}, summary="Sign in")
def start_session(body: SignInIn) -> Response:
    return _let_in(body.passphrase)


def _let_in(passphrase: str) -> Response:
    token = sign_in(catalogue().database, passphrase, who_asks(), request.user_agent.string, now())
    if token is None:
        raise Unauthorized("That is not the passphrase.")
    owner = current_owner(catalogue().database)
    assert owner is not None
    session.clear()  # a session from before sign-in must not live on
    login_user(SignedIn(owner, token))
    response = answer(_session())
    note_browser(response)
    return response


@blueprint.delete("/session", responses={200: SessionOut}, summary="Sign out")
@returns()
def end_session() -> SessionOut:
    sign_out(catalogue().database, current_user.token)
    logout_user()
    session.clear()
    return _session()


@blueprint.get("/sign-ins", responses={200: OpenSessionsOut}, summary="Every session that is open")
@returns()
def list_sessions() -> OpenSessionsOut:
    limits = guard().limits
    found = list_open(catalogue().database, current_user.token, limits, now())
    return OpenSessionsOut(
        sessions=[OpenSessionOut.model_validate(one, from_attributes=True) for one in found],
        idle_hours=limits.idle.total_seconds() / 3600,
        longest_days=limits.longest.total_seconds() / 86_400,
    )


@blueprint.delete("/sign-ins", responses={200: OpenSessionsOut}, summary="End every session but this one")
def end_other_sessions() -> Response:
    end_others(catalogue().database, current_user.token)
    response: Response = list_sessions()
    return response


@blueprint.get(
    "/backup",
    responses={200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}},
    summary="Everything that is stored, as one file",
)
def make_backup() -> Response:
    with TemporaryDirectory() as folder:
        target = Path(folder, "backup.zip")
        size = back_up(catalogue().database, target)
        file = target.open("rb")  # stays readable when the folder is gone

    def chunks() -> Iterator[bytes]:
        with file:
            yield from iter(lambda: file.read(1 << 16), b"")

    response = Response(chunks(), content_type="application/zip")
    response.content_length = size
    name = f"tobbix-{catalogue().today().isoformat()}.zip"
    response.headers["Content-Disposition"] = f"attachment; filename={name}"
    return response


@blueprint.get("/backups", responses={200: DailyBackupsOut}, summary="The backups that are made by themselves")
@returns()
def list_backups() -> DailyBackupsOut:
    folder = context().backups
    found = [] if folder is None else list_daily(folder)
    return DailyBackupsOut(
        folder=None if folder is None else str(folder),
        backups=[DailyBackupOut(day=one.day, size=one.size) for one in found],
    )


@blueprint.post("/backup", responses={200: RestoredOut}, summary="Replace everything that is stored by a backup")
@returns()
def restore_backup(form: BackupForm) -> RestoredOut:
    with TemporaryDirectory() as folder:
        source = Path(folder, "backup")
        save_upload(form.file, source)
        done = restore(catalogue().database, source, form.confirmed)
    session.clear()
    return RestoredOut(words=done.words, unknown=list(done.unknown))


@blueprint.get("/progress/<string:once>", responses={200: ProgressOut}, summary="How far an upload is")
@returns()
def read_progress(path: ProgressPath) -> ProgressOut:
    stage = context().progress.read(path.once)
    return ProgressOut(phase=stage.phase, done=stage.done, total=stage.total)


@blueprint.get("/preferences", responses={200: PreferencesOut}, summary="The owner's rule and buying costs")
@returns()
def show_preferences() -> PreferencesOut:
    return describe_preferences(read_preferences(catalogue().database))


@blueprint.get("/currencies", responses={200: CurrenciesOut}, summary="Currencies by their codes")
@returns()
def list_currencies() -> CurrenciesOut:
    return CurrenciesOut(currencies=[CurrencyOut(code=code, name=name) for code, name in currency_codes()])


@blueprint.put("/preferences/home", responses={200: PreferencesOut}, summary="Choose the home currency")
@returns()
def put_home(body: HomeIn) -> PreferencesOut:
    today = catalogue().today()
    chosen = choose_home(catalogue().database, body.currency, body.sheet_condition, body.version, today)
    return describe_preferences(chosen)


@blueprint.put("/preferences/school", responses={200: TaskOut}, summary="Choose how prices are read off sales")
@returns()
def put_school(body: SchoolIn) -> TaskOut:
    return show_task(choose_school(catalogue(), body.school, body.version))


@blueprint.put("/preferences", responses={200: PreferencesOut}, summary="Change how the owner decides and sells")
@returns()
def put_preferences(body: PreferencesFields) -> PreferencesOut:
    wanted = Preferences(
        PayingRule(body.standard, body.chance, body.margin),
        BuyingCosts(body.shipping, body.tax, body.tax_on_shipping),
        SellingHabits(
            body.basis, body.way, body.floor, body.bulk, body.sells, body.hourly_rate, body.minutes_per_box,
            body.minutes_per_sale, Horizon(body.months, body.decay, body.depth),
        ),
        Uncertainty(body.own_spread, body.market_spread),
        SealedHabits(body.growth, body.years, body.keeping),
        None if body.monthly_limit is None else Decimal(body.monthly_limit),
        read_preferences(catalogue().database).currency,
        body.version,
    )  # fmt: skip
    return describe_preferences(change_preferences(catalogue().database, wanted))


def _spending() -> SpendingOut:
    spent, rows = read_spending(catalogue().database, catalogue().today())
    return SpendingOut(
        today=catalogue().today(),
        month=spent.month,
        total=f"{spent.total:.2f}",
        limit=None if spent.limit is None else f"{spent.limit:.2f}",
        currency=spent.currency,
        state=spent.state,
        verdict=show_verdict(spent.verdict),
        entries=[
            SpendingEntryOut(
                number=row.entry, purchase=row.purchase, day=row.day, amount=f"{row.amount:.2f}", what=row.what
            )
            for row in rows
        ],
    )


@blueprint.get("/spending", responses={200: SpendingOut}, summary="This month's spending against the limit")
@returns()
def show_spending() -> SpendingOut:
    return _spending()


@blueprint.post("/spending", responses={200: SpendingOut}, summary="Note what was spent")
@returns()
def add_spending(body: SpendingIn) -> SpendingOut:
    note_spending(catalogue().database, body.day, Decimal(body.amount), body.what, key_or_fresh(), catalogue().today())
    return _spending()


@blueprint.delete("/spending/<int:number>", responses={200: SpendingOut}, summary="Take an entry back")
@returns()
def remove_spending(path: SpendingPath) -> SpendingOut:
    take_back_spending(catalogue().database, path.number, back=True)
    return _spending()


@blueprint.post("/spending/<int:number>/restore", responses={200: SpendingOut}, summary="Bring an entry back")
@returns()
def restore_spending(path: SpendingPath) -> SpendingOut:
    take_back_spending(catalogue().database, path.number, back=False)
    return _spending()


@blueprint.get("/health", responses={200: HealthOut}, summary="Whether the server is well")
@returns()
def show_health() -> HealthOut:
    health = read_health(catalogue().database)
    return HealthOut(store=health.store, worker=health.worker, instance=context().instance)


@blueprint.get("/find", responses={200: PlacesOut}, summary="Anything that is here, by a few words")
@returns()
def find(query: AnythingQuery) -> PlacesOut:
    found = find_anything(catalogue(), query.find)
    return PlacesOut(places=[PlaceOut.model_validate(place, from_attributes=True) for place in found])
