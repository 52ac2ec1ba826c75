"""Sign-in, the owner's preferences, and whether the server is well."""

from flask import current_app, session
from flask_login import current_user, login_user, logout_user
from flask_openapi3 import APIBlueprint, Tag
from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, ConfigDict, Field
from werkzeug.exceptions import Unauthorized

from tobbix.api.context import workshop
from tobbix.api.documenting import operation_id, returns
from tobbix.api.security import SignedIn, limiter
from tobbix.core.products.most_to_pay import BuyingCosts, PayingRule, Standard
from tobbix.services.installation.owners import LONGEST, current_owner, sign_in
from tobbix.services.installation.preferences import Preferences, change_preferences, read_preferences
from tobbix.services.installation.store import is_answering

blueprint = APIBlueprint(
    "installation",
    __name__,
    url_prefix="/api",
    abp_tags=[Tag(name="installation", description="Sign-in and preferences")],
    operation_id_callback=operation_id,
)


class SessionOut(BaseModel):
    """Who is signed in, and the token that every changing request sends along as X-CSRFToken."""

    signed_in: bool
    owner: str | None
    is_demo: bool
    token: str


class SignInIn(BaseModel):
    model_config = ConfigDict(extra="forbid")

    passphrase: str = Field(min_length=1, max_length=LONGEST)


class HealthOut(BaseModel):
    """Whether the store answers."""

    store: bool


class PreferencesOut(BaseModel):
    """The rule for the most to pay (C-07) and what buying costs on top; shares are 0.21 for 21 %."""

    standard: Standard
    chance: float
    margin: float
    shipping: float
    tax: float
    tax_on_shipping: bool
    version: int


class PreferencesIn(BaseModel):
    model_config = ConfigDict(extra="forbid")

    standard: Standard
    chance: float = Field(gt=0, lt=1)
    margin: float = Field(ge=0, le=10)
    shipping: float = Field(ge=0, le=99_999_999)
    tax: float = Field(ge=0, le=1)
    tax_on_shipping: bool
    version: int = Field(ge=0, le=2_000_000_000)


def describe_preferences(preferences: Preferences) -> PreferencesOut:
    rule, costs = preferences.rule, preferences.costs
    return PreferencesOut(
        standard=rule.standard,
        chance=rule.chance,
        margin=rule.margin,
        shipping=costs.shipping,
        tax=costs.tax,
        tax_on_shipping=costs.tax_on_shipping,
        version=preferences.version,
    )


def _session() -> SessionOut:
    owner = current_owner(workshop().database)
    signed_in = bool(current_user.is_authenticated)
    return SessionOut(
        signed_in=signed_in,
        owner=owner.name if owner is not None and signed_in else None,
        is_demo=owner is not None and owner.is_demo,
        token=generate_csrf(),
    )


@blueprint.get("/session", responses={200: SessionOut}, summary="Who is signed in")
@returns()
def read_session() -> SessionOut:
    return _session()


@blueprint.post("/session", responses={200: SessionOut}, summary="Sign in")
@limiter.limit(lambda: current_app.config["SIGN_IN_LIMIT"], deduct_when=lambda response: response.status_code != 200)
@returns()
def start_session(body: SignInIn) -> SessionOut:
    owner = sign_in(workshop().database, body.passphrase)
    if owner is None:
        raise Unauthorized("That is not the passphrase.")
    session.clear()  # a session from before sign-in must not live on
    login_user(SignedIn(owner))
    return _session()


@blueprint.delete("/session", responses={200: SessionOut}, summary="Sign out")
@returns()
def end_session() -> SessionOut:
    logout_user()
    session.clear()
    return _session()


@blueprint.get("/preferences", responses={200: PreferencesOut}, summary="The owner's rule and buying costs")
@returns()
def show_preferences() -> PreferencesOut:
    return describe_preferences(read_preferences(workshop().database))


@blueprint.put("/preferences", responses={200: PreferencesOut}, summary="Change the rule and buying costs")
@returns()
def put_preferences(body: PreferencesIn) -> PreferencesOut:
    rule = PayingRule(body.standard, body.chance, body.margin)
    costs = BuyingCosts(body.shipping, body.tax, body.tax_on_shipping)
    return describe_preferences(change_preferences(workshop().database, rule, costs, body.version))


@blueprint.get("/health", responses={200: HealthOut}, summary="Whether the server is well")
@returns()
def read_health() -> HealthOut:
    return HealthOut(store=is_answering(workshop().database))
