"""Entry by the thousand: what is typed of a card, with its set and pile chosen before, and what is said of it then.

One line is one card: its number, and as it comes how many and in which condition, another line of the release, and,
where nobody has seen the card yet, who it shows.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from tobbix.core.base.errors import InputError
from tobbix.core.base.results import Run
from tobbix.core.holdings.sentences import amount
from tobbix.core.holdings.states import CONDITIONS

MOST_AT_ONCE = 9_999
_CONDITIONS = {name.lower(): name for name in CONDITIONS} | {
    "m": "mint", "n": "NM", "l": "LP", "p": "MP", "h": "HP", "d": "damaged", "dmg": "damaged",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Typed:
    """A card as it was typed: ``line`` only where another than the chosen one was named, ``condition`` only where one
    was, ``subject`` what is left of the words."""

    number: str
    count: int = 1
    condition: str | None = None
    line: str | None = None
    subject: str = ""


def read_typed(text: str, lines: Sequence[str] = ()) -> Typed:
    """What was typed of a card, by the names of the release's ``lines``. Raises InputError at ``text``.

    >>> read_typed("44"), read_typed("44 x3 l") == Typed("44", 3, "LP")
    (Typed(number='44', count=1, condition=None, line=None, subject=''), True)
    >>> read_typed("131*2 Drizzle", ["Base", "Drizzle"]).line, read_typed("7 Gull Rock").subject
    ('Drizzle', 'Gull Rock')
    """
    words = re.sub(r"(\S)[*×]\s*([0-9]+)\b", r"\1 x\2", text.strip()).split()
    if not words:
        raise InputError.at("text", "type the number of a card")
    number, rest = words[0], words[1:]
    if len(number) > 200:
        raise InputError.at("text", "that is too long for a number")
    count, condition, left = None, None, list[str]()
    for word in rest:
        many = re.fullmatch(r"[x×*]([0-9]+)|([0-9]+)[x×]", word.lower())
        if many is not None and count is None:
            count = int(many[1] or many[2])
        elif word.lower() in _CONDITIONS and condition is None:
            condition = _CONDITIONS[word.lower()]
        else:
            left.append(word)
    if count is not None and not 1 <= count <= MOST_AT_ONCE:
        raise InputError.at("text", f"a count is from 1 to {MOST_AT_ONCE:,}")
    line = _find_line(" ".join(left), lines)
    return Typed(number, count or 1, condition, line, "" if line is not None else " ".join(left)[:200])


def _find_line(words: str, lines: Sequence[str]) -> str | None:
    """The line that words name: in full, or the only one that begins so; two letters at least."""
    said = words.lower()
    if len(said) < 2:
        return None
    exact = next((line for line in lines if line.lower() == said), None)
    begun = [line for line in lines if line.lower().startswith(said)]
    return exact or (begun[0] if len(begun) == 1 else None)


@dataclass(frozen=True, slots=True)
class Matters:
    """What is worth saying of a card the moment that it is typed: whether its subject is ``watched``, whether it is a
    ``debut``, up to how much it is wanted on the target list (``targets``, money), the ``goals`` that it could fill,
    and what one is worth (money; None: not known)."""

    watched: bool = False
    debut: bool = False
    targets: tuple[Decimal, ...] = ()
    goals: tuple[str, ...] = ()
    worth: Decimal | None = None
    worth_pulling: bool = False


def say_matters(found: Matters, currency: str) -> tuple[Run, ...]:
    """The same in words; nothing where nothing matters.

    >>> "".join(run.text for run in say_matters(Matters(watched=True, goals=("Fog Signals",)), "EUR"))
    'watched · missing in Fog Signals'
    """
    parts: list[Run] = []
    if found.watched:
        parts.append(Run("watched", "watched", True))
    if found.debut:
        parts.append(Run("debut", "debut", True))
    parts += [Run(f"on the target list, up to {amount(most, currency)}", "target", True) for most in found.targets]
    parts += [Run(f"missing in {name}", "goal", True) for name in found.goals]
    if found.worth is not None and (found.worth_pulling or parts):
        parts.append(Run(f"about {amount(found.worth, currency)}", "worth", found.worth_pulling))
    said: list[Run] = []
    for at, part in enumerate(parts):
        said += [Run(" · ")] if at else []
        said.append(part)
    return tuple(said)


def say_entered(number: str, subject: str, line: str, count: int, condition: str | None, total: int) -> str:
    """What was entered, and how many of it are in the pile then.

    >>> say_entered("44", "Gull Rock", "Base", 2, "LP", 5)
    '2 x 44 Gull Rock, Base, LP: 5 of it here'
    """
    many = f"{count} x " if count > 1 else ""
    state = f", {condition}" if condition else ""
    name = f"{number}, {line}" if subject == number else f"{number} {subject}, {line}"
    return f"{many}{name}{state}" + (f": {total:,} of it here" if total > count else "")
