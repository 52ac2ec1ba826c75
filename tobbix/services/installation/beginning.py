"""The first visit: an installation that belongs to nobody yet gets its owner, home currency and ways of selling."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tobbix.core.base.errors import Conflict, Fault, InputError
from tobbix.core.pricing.fees import SellingWay
from tobbix.db.base import Database
from tobbix.db.installation.keeping import find_owner, load_preferences, save_owner, save_preferences
from tobbix.db.pricing.ways import put_way
from tobbix.services.installation.owners import hash_passphrase
from tobbix.services.installation.preferences import check_currency


@dataclass(frozen=True, slots=True)
class Beginning:
    """Who begins: name, passphrase, home currency by its code, and ways of selling, the usual one first."""

    name: str
    passphrase: str
    currency: str
    ways: Sequence[SellingWay] = ()


def begin(database: Database, said: Beginning) -> None:
    """Make the owner with all that was said, or nothing of it.

    Raises InputError with every fault, Conflict if there is an owner already.
    """
    faults: list[Fault] = []
    digest = ""
    try:
        digest = hash_passphrase(said.name, said.passphrase)
    except InputError as error:
        faults += error.faults
    try:
        check_currency(said.currency)
    except InputError as error:
        faults += error.faults
    seen = [way.id for way in said.ways]
    faults += [
        Fault(f"ways[{at}].name", "is there twice; give each way a name of its own")
        for at, key in enumerate(seen)
        if key in seen[:at]
    ]
    if faults:
        raise InputError(faults)
    with database.transaction() as session:
        if find_owner(session) is not None:
            raise Conflict("there is an owner already; sign in")
        save_owner(session, said.name.strip(), digest, is_demo=False)
        for way in said.ways:
            put_way(session, way, None)
        now = load_preferences(session, lock=True)
        selling = replace(now.selling, way=seen[0]) if seen else now.selling
        save_preferences(session, replace(now, version=now.version + 1, currency=said.currency, selling=selling))
