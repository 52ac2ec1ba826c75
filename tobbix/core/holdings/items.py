"""An item as it stands: a thing owned, or a counted stack of like things, with all that is said of it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from tobbix.core.holdings.register import Thing
from tobbix.core.holdings.states import Kind, State

MOST_NAME = 300  # characters


@dataclass(frozen=True, slots=True)
class Item:
    """``release``, ``format``, ``line`` and ``card`` (its number) are keys, or what the owner typed of them; the ids
    beside them say what is known. ``basis`` is of all of it together (money, None: nobody remembers), ``value`` too
    (estimate, money, None: not known). ``owner`` the party whose it is, None: one's own.

    A box that was begun has ``packs_gone`` with the promised hits ``hits_gone`` by line in them, which are believed
    with ``trust``.
    """

    number: int
    version: int
    kind: Kind
    name: str
    count: int
    state: State
    basis: Decimal | None
    value: Decimal | None = None
    release: str | None = None
    format: str | None = None
    line: str | None = None
    card: str | None = None
    variant: str | None = None
    release_id: int | None = None
    format_id: int | None = None
    line_id: int | None = None
    version_id: int | None = None
    owner: int | None = None
    gift: bool = False
    condition: str | None = None
    serial: str | None = None
    place: str | None = None
    never_for_sale: bool = False
    acquired_on: date | None = None
    note: str | None = None
    purchase: int | None = None
    session: int | None = None
    parent: int | None = None
    packs_gone: int = 0
    hits_gone: Mapping[str, int] = field(default_factory=dict)
    trust: float = 1.0

    @property
    def identified(self) -> bool:
        """Whether it is known which version, or which format, it is."""
        return (self.version_id or self.format_id) is not None

    @property
    def thing(self) -> Thing:
        """It as the register has it."""
        return Thing(
            self.number, self.name, self.count, self.state, self.basis, self.value, self.kind, self.owner, self.gift
        )
