"""Which exact version a card is, by what it shows: question after question, only as long as the entry leaves a doubt.

The problem: one subject comes in a release as a plain card, in parallels, with and without a number run, in editions
and errors; whoever goes by the name alone prices the wrong one. The method: of all versions that what was typed may
mean, ask for what tells most of them apart (the least expected number that is left), begin with what stands on the
card, and end only when something that the card shows speaks for the one that is left.

Example: of a plain 44, its parallels of 160 and of 40, "is it numbered" leaves one whatever is said; nothing more is
asked.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tobbix.core.products.describing import CardSize

MOST_OPTIONS = 30


class Shows(StrEnum):
    """What a card shows, in the order in which it is looked at: its number or code, how many there are of it, the year,
    the release, the kind and finish (its line), what else is special (edition, language, error), its size."""

    NUMBER = "number"
    RUN = "run"
    YEAR = "year"
    RELEASE = "release"
    LINE = "line"
    VARIANT = "variant"
    SIZE = "size"


@dataclass(frozen=True, slots=True)
class Candidate:
    """A version that a card may be, with what it shows and how to tell it (``telling``); ``debut``: the first card of
    its subject, as far as that is known; ``watched``: so is its subject."""

    version: int
    release: str
    release_title: str
    year: int
    line: str
    line_name: str
    number: str
    variant: str
    subject: str
    print_run: int | None = None
    size: CardSize | None = None
    telling: tuple[str, ...] = ()
    debut: bool = False
    watched: bool = False


@dataclass(frozen=True, slots=True)
class Choice:
    """A possible answer: its ``value``, what it is in ``words``, how many versions it leaves, and how to tell them."""

    value: str
    words: str
    leaves: int
    telling: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Question:
    """What to look at, and what may be seen."""

    about: Shows
    words: str
    choices: tuple[Choice, ...]


@dataclass(frozen=True, slots=True)
class Identified:
    """What is ``left`` after some answers, with what to look at next (None: nothing tells them apart any further).
    ``sure``: one is left, and something that the card shows speaks for it; ``words`` say so."""

    left: tuple[Candidate, ...]
    question: Question | None
    sure: bool
    words: str


_ASKED = {
    Shows.NUMBER: "Which number or code stands on it?",
    Shows.RUN: "Is it numbered, and of how many?",
    Shows.YEAR: "Which year stands on it?",
    Shows.RELEASE: "Which release is it of?",
    Shows.LINE: "Which of these does it look like?",
    Shows.VARIANT: "Is there anything special about it?",
    Shows.SIZE: "How large is it?",
}


def _size_words(size: CardSize | None) -> str:
    return "" if size is None else f"{size.width.normalize():f} x {size.height.normalize():f} mm"


# how each is seen: by which value, and in which words
_SEEN: Mapping[Shows, tuple[Callable[[Candidate], str], Callable[[Candidate], str]]] = {
    Shows.NUMBER: (lambda it: it.number.casefold(), lambda it: it.number),
    Shows.RUN: (
        lambda it: "" if it.print_run is None else str(it.print_run),
        lambda it: "not numbered" if it.print_run is None else f"of {it.print_run:,}",
    ),
    Shows.YEAR: (lambda it: str(it.year), lambda it: str(it.year)),
    Shows.RELEASE: (lambda it: it.release, lambda it: it.release_title),
    Shows.LINE: (lambda it: f"{it.release}/{it.line}", lambda it: it.line_name),
    Shows.VARIANT: (lambda it: it.variant.casefold(), lambda it: it.variant or "nothing special"),
    Shows.SIZE: (lambda it: _size_words(it.size), lambda it: _size_words(it.size) or "not measured"),
}


def identify(
    candidates: Sequence[Candidate], typed: str, answers: Mapping[Shows, str], whole: bool = True
) -> Identified:
    """What is left of ``candidates`` after some answers, and what to look at next. What cannot be told ("?") leaves
    all.

    A word of what was ``typed`` that is the number of some counts as seen, and leaves these. One that is left by its
    name alone is asked about. Where the candidates are not the ``whole`` of what it may be, more has to be typed.
    """
    if not whole:
        return Identified(tuple(candidates), None, False, "It may be any of too many: type more of what it shows.")
    said = {word.casefold() for word in typed.split()}
    numbered = [it for it in candidates if it.number.casefold() in said]
    left = [
        it
        for it in numbered or candidates
        if all(value in ("?", _SEEN[about][0](it)) for about, value in answers.items())
    ]  # fmt: skip
    if len(left) > 1:
        question = _best_question(left, answers)
        words = "Nothing that is known tells these apart." if question is None else question.words
        return Identified(tuple(left), question, False, words)
    if not left:
        return Identified((), None, False, "No card that is known here shows that.")
    shown = any(value != "?" for value in answers.values()) or left[0].number.casefold() in said
    if shown:
        it = left[0]
        return Identified(tuple(left), None, True, f"{it.subject}, {it.line_name} {it.number}, {it.release_title}.")
    if Shows.NUMBER in answers:
        return Identified(tuple(left), None, False, "Only its name speaks for it: that is not enough to be sure.")
    confirm = _question(Shows.NUMBER, left)
    return Identified(tuple(left), confirm, False, confirm.words)


def _best_question(left: Sequence[Candidate], answers: Mapping[Shows, str]) -> Question | None:
    """What leaves the fewest on average; of several, what is looked at first."""
    best: tuple[float, Shows] | None = None
    for about in Shows:
        if about in answers:
            continue
        counts: dict[str, int] = {}
        for it in left:
            value = _SEEN[about][0](it)
            counts[value] = counts.get(value, 0) + 1
        if len(counts) < 2 or (about is Shows.SIZE and "" in counts):
            continue  # what is not measured tells nothing
        expected = sum(count**2 for count in counts.values()) / len(left)
        if best is None or expected < best[0] - 1e-9:
            best = (expected, about)
    return None if best is None else _question(best[1], left)


def _question(about: Shows, left: Sequence[Candidate]) -> Question:
    value_of, words_of = _SEEN[about]
    together: dict[str, list[Candidate]] = {}
    for it in left:
        together.setdefault(value_of(it), []).append(it)
    is_seen = about not in (Shows.NUMBER, Shows.YEAR, Shows.RELEASE)  # these are read, not looked at
    ambiguous = about is Shows.LINE and len({it.release for it in left}) > 1
    choices = [
        Choice(
            value,
            words_of(found[0]) + (f", {found[0].release_title}" if ambiguous else ""),
            len(found),
            tuple(note for note in found[0].telling if is_seen and all(note in it.telling for it in found)),
        )
        for value, found in together.items()
    ]
    return Question(about, _ASKED[about], tuple(choices[:MOST_OPTIONS]))
