"""The owner: made once, signed in with a passphrase."""

from dataclasses import dataclass
from ipaddress import ip_address

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from tobbix.core.base.errors import Conflict, InputError
from tobbix.db.base import Database, ProgrammingError, Session
from tobbix.db.installation.keeping import find_owner, save_owner
from tobbix.db.installation.signing_in import end_sessions

SHORTEST = 12
LONGEST = 200
_LEAST_SCORE = 3  # of zxcvbn's 0 to 4: safely unguessable to moderate protection from offline slow-hash attack
_JUDGED = 72  # it takes long over more; what follows makes a passphrase only stronger
DEMO_PASSPHRASE = "lamp over the water"

_hasher = PasswordHasher()


@dataclass(frozen=True, slots=True)
class Owner:
    """Whose installation it is."""

    name: str
    is_demo: bool


def owner_of(session: Session) -> Owner | None:
    """The owner, None before one is made."""
    row = find_owner(session)
    return None if row is None else Owner(row.name, row.is_demo)


def current_owner(database: Database) -> Owner | None:
    """The same, in a transaction of its own."""
    with database.transaction() as session:
        return owner_of(session)


def create_owner(database: Database, name: str, passphrase: str, replace: bool = False, is_demo: bool = False) -> None:
    """Make the owner, or give the present one another name and passphrase, which signs out everywhere.

    Raises InputError as below, Conflict if there is an owner already.
    """
    digest = hash_passphrase(name, passphrase, is_demo)
    with database.transaction() as session:
        if find_owner(session) is not None and not replace:
            raise Conflict("there is an owner already; replace it to change the passphrase")
        save_owner(session, name.strip(), digest, is_demo)
        end_sessions(session)


def hash_passphrase(name: str, passphrase: str, is_demo: bool = False) -> str:
    """What is kept of an owner's passphrase (Argon2).

    Raises InputError for a name or a passphrase of a length that cannot be, or one that is soon guessed.
    """
    if not name.strip() or len(name) > 200:
        raise InputError.at("name", "must be 1 to 200 characters")
    if not SHORTEST <= len(passphrase) <= LONGEST:
        raise InputError.at("passphrase", f"must be {SHORTEST} to {LONGEST} characters; a few words are best")
    if passphrase == DEMO_PASSPHRASE and not is_demo:
        raise InputError.at("passphrase", "is the demo’s, which everybody can read; choose your own")
    if not is_demo and (words := why_weak(passphrase, name)):
        raise InputError.at("passphrase", words)
    return _hasher.hash(passphrase)


def why_weak(passphrase: str, name: str = "") -> str | None:
    """Why a passphrase is soon guessed (by zxcvbn); None for a good one."""
    judged = zxcvbn(passphrase[:_JUDGED], user_inputs=["tobbix", *name.split()])
    if judged["score"] >= _LEAST_SCORE:
        return None
    why = str(judged["feedback"]["warning"]).rstrip(".")
    told = f": {why[:1].lower()}{why[1:]}" if why else ""
    return f"is soon guessed{told}; take four words or more that do not belong together"


def knows(database: Database, passphrase: str) -> bool:
    """Whether this is the owner's passphrase."""
    with database.transaction() as session:
        row = find_owner(session)
        digest = None if row is None else row.passphrase_hash
    if digest is None:
        return False
    try:
        return _hasher.verify(digest, passphrase)
    except (VerificationError, InvalidHashError):
        return False


def check_listening(database: Database, host: str) -> None:
    """Refuse to serve beyond this machine before there is a passphrase that only the owner knows."""
    try:
        loopback = ip_address(host).is_loopback
    except ValueError:
        loopback = host == "localhost"
    if loopback:
        return
    owner = current_owner(database)
    if owner is None or owner.is_demo:
        raise InputError.at(
            "host", f"{host} can be reached from other machines; set a passphrase of your own first (create-owner)"
        )


def check_may_listen(url: str, host: str) -> None:
    """The same, on the store of a URL."""
    database = Database(url)
    try:
        check_listening(database, host)
    finally:
        database.engine.dispose()


def check_is_demo(database: Database) -> None:
    """Refuse what would throw away an installation that is not the demo. Raises Conflict."""
    try:
        owner = current_owner(database)
    except ProgrammingError:  # nothing is there yet
        return
    if owner is not None and not owner.is_demo:
        raise Conflict("this installation has an owner of its own; it is not the demo, and is not thrown away")
