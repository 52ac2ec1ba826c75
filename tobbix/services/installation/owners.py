"""The owner: made once, signed in with a passphrase."""

from dataclasses import dataclass
from ipaddress import ip_address

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy.exc import ProgrammingError

from tobbix.core.base.errors import Conflict, InputError
from tobbix.db.base import Database
from tobbix.db.installation import find_owner, save_owner

SHORTEST = 12
LONGEST = 200
DEMO_PASSPHRASE = "lamp over the water"

_hasher = PasswordHasher()


@dataclass(frozen=True, slots=True)
class Owner:
    """Who is signed in; ``session_number`` changes with the passphrase."""

    name: str
    session_number: int
    is_demo: bool


def current_owner(database: Database) -> Owner | None:
    """The owner, None before one is made."""
    with database.transaction() as session:
        row = find_owner(session)
        return None if row is None else Owner(row.name, row.session_number, row.is_demo)


def create_owner(database: Database, name: str, passphrase: str, replace: bool = False, is_demo: bool = False) -> None:
    """Make the owner, or give the present one another name and passphrase, which signs out everywhere.

    Raises InputError for a passphrase outside 12 to 200 characters, Conflict if there is an owner already.
    """
    if not name.strip() or len(name) > 200:
        raise InputError.at("name", "must be 1 to 200 characters")
    if not SHORTEST <= len(passphrase) <= LONGEST:
        raise InputError.at("passphrase", f"must be {SHORTEST} to {LONGEST} characters; a few words are best")
    if passphrase == DEMO_PASSPHRASE and not is_demo:
        raise InputError.at("passphrase", "is the demo’s, which everybody can read; choose your own")
    digest = _hasher.hash(passphrase)
    with database.transaction() as session:
        if find_owner(session) is not None and not replace:
            raise Conflict("there is an owner already; replace it to change the passphrase")
        save_owner(session, name.strip(), digest, is_demo)


def sign_in(database: Database, passphrase: str) -> Owner | None:
    """The owner if the passphrase is right, else None."""
    with database.transaction() as session:
        row = find_owner(session)
        if row is None:
            return None
        try:
            _hasher.verify(row.passphrase_hash, passphrase)
        except (VerificationError, InvalidHashError):
            return None
        return Owner(row.name, row.session_number, row.is_demo)


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


def check_is_demo(database: Database) -> None:
    """Refuse what would throw away an installation that is not the demo. Raises Conflict."""
    try:
        owner = current_owner(database)
    except ProgrammingError:  # nothing is there yet
        return
    if owner is not None and not owner.is_demo:
        raise Conflict("this installation has an owner of its own; it is not the demo, and is not thrown away")
