"""What the words of a title mean: which version, in which state, how many copies; or why it is none.

Never by a name alone: a title is of a version if it names its subject and nothing that it says speaks against it (a
year, a number, a print run, the name of another line). What nothing speaks for is asked about, with those that it may
be. What the owner said once about words is known from then on.
"""

import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

from tobbix.core.holdings.states import CONDITIONS

_YEAR = re.compile(r"(?:19|20)[0-9]{2}")
_RUN = re.compile(r"(?:[0-9]{1,6})?/([0-9]{1,6})")
_NUMBERED = re.compile(r"(?:#|no\.?\s|nr\.?\s|number\s)\s*([a-z]{0,5}[-.]?[0-9]{1,6}[a-z]{0,2})\b", re.IGNORECASE)
_CODE = re.compile(r"[a-z]{1,5}[-.]?[0-9]{1,5}[a-z]{0,2}")
_LOT = re.compile(
    r"\b(?:lot|bundle|set) (?:of )?(?P<of>[0-9]{1,4})\b|\b(?P<times>[0-9]{1,4})\s?[x×](?=\s)|"
    r"(?<=\s)[x×]\s?(?P<by>[0-9]{1,4})\b|\b(?P<many>[0-9]{1,4}) (?:cards|copies)\b",
    re.IGNORECASE,
)  # fmt: skip
_NO_CARD = {
    "reprint": "a reprint", "proxy": "a proxy", "replica": "a replica", "custom": "a custom card",
    "digital": "a digital card", "facsimile": "a facsimile", "sealed": "sealed product", "unopened": "sealed product",
    "booster": "sealed product", "empty": "an empty one",
}  # fmt: skip
# a single card may be a case hit or fresh out of its pack: such words alone refuse nothing
_MAYBE_SEALED = frozenset("box boxes pack packs case cases tin tins".split())
_OF_SINGLES = re.compile(r" (?:case hits?|packs? fresh|fresh packs?|out of the (?:pack|box)) ")
_STATES = {
    "mint": "mint", "near mint": "NM", "nm": "NM", "lightly played": "LP", "light play": "LP", "lp": "LP",
    "moderately played": "MP", "mp": "MP", "heavily played": "HP", "hp": "HP", "damaged": "damaged",
    "creased": None, "played": None,
}  # fmt: skip
_GRADES = frozenset(("10", "95", "85", *map(str, range(1, 10))))
_GRADED = frozenset(("graded", "slab", "slabbed"))
_SMALL = frozenset("a an and at by card cards from in no nr number of on or the with".split())
MOST_CHOICES = 6
assert set(filter(None, _STATES.values())) <= set(CONDITIONS)


class Means(StrEnum):
    """What taught words mean."""

    LINE = "line"
    VARIANT = "variant"
    STATE = "state"
    NO_CARD = "no_card"


@dataclass(frozen=True, slots=True)
class Taught:
    """Words of titles that the owner explained: they mean a line (its name), a variant, a state, or that it is no
    card; of one ``release`` or of any (None)."""

    words: str
    means: Means
    value: str
    release: str | None = None


@dataclass(frozen=True, slots=True)
class Possible:
    """A version that a title may be of. ``is_plain``: of a line that titles do not name, like a base set."""

    version: int
    release: str
    release_name: str
    year: int
    line_name: str
    is_plain: bool
    number: str
    variant: str
    subject: str
    print_run: int | None


@dataclass(frozen=True, slots=True)
class Reading:
    """What a title says: the ``version`` that it is of (None: not known), which others it may be, the ``state`` (None:
    not said), how many copies, what is doubtful, why it is none of ours, and the words that nothing explains;
    ``unclear``: its state is said in words that are not understood, so it is no usual one."""

    version: int | None
    choices: tuple[int, ...] = ()
    state: str | None = None
    lot: int = 1
    doubt: str | None = None
    refused: str | None = None
    unexplained: tuple[str, ...] = ()
    unclear: bool = False


def fold_words(text: str) -> list[str]:
    """The words of a text in small letters, without signs; a code is one word.

    >>> fold_words("Keeper’s Hand, near-mint KH-5 /12")
    ['keepers', 'hand', 'near', 'mint', 'kh5', '12']
    """
    plain = re.sub(r"['’‘.]", "", text.casefold())
    return re.findall(r"[^\W_]+", re.sub(r"\b([a-z]{1,5})-([0-9]+[a-z]?)\b", r"\1\2", plain))


def word_runs(titles: Iterable[str], longest: int = 6) -> set[str]:
    """Every run of so many words in some titles: what a subject's name may be."""
    runs: set[str] = set()
    for title in titles:
        words = fold_words(title)
        for begin in range(len(words)):
            for end in range(begin + 1, min(begin + longest, len(words)) + 1):
                runs.add(" ".join(words[begin:end]))
    return runs


@dataclass(frozen=True)
class TitleReader:
    """Reads titles by the versions that they may be of, the graders and the words that were taught. ``lines`` are other
    lines of their releases (release, name), which a title may name as well. Rule C-18."""

    possible: Sequence[Possible]
    graders: Sequence[str] = ()
    taught: Sequence[Taught] = ()
    lines: Collection[tuple[str, str]] = ()
    _by_subject: Mapping[str, list[Possible]] = field(init=False, repr=False)
    _lines: Mapping[str, Mapping[str, tuple[str, ...]]] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        subjects: dict[str, list[Possible]] = {}
        lines: dict[str, dict[str, tuple[str, ...]]] = {}
        for release, name in self.lines:
            lines.setdefault(release, {})[name] = tuple(fold_words(name))
        for version in self.possible:
            subjects.setdefault(" ".join(fold_words(version.subject)), []).append(version)
            if not version.is_plain:
                lines.setdefault(version.release, {})[version.line_name] = tuple(fold_words(version.line_name))
        object.__setattr__(self, "_by_subject", subjects)
        object.__setattr__(self, "_lines", lines)

    def read(self, title: str) -> Reading:
        """What a title says.

        >>> fog = Possible(1, "sky-2025", "Skerrylight", 2025, "Fog Signals", False, "FS3", "", "Quern Bank", None)
        >>> found = TitleReader([fog], ["Plumbline"]).read("Skerrylight 2025 Quern Bank FS3 Plumbline 9")
        >>> found.version, found.state, found.doubt
        (1, 'Plumbline:9', None)
        """
        words = fold_words(title)
        text = f" {' '.join(words)} "
        explained: set[str] = set(_SMALL)
        state, doubt = self._state(text, title, explained)
        is_unclear = doubt is not None
        lot = self._lot(title, explained)
        named = [subject for subject in self._by_subject if subject and f" {subject} " in text]
        # of "Quern Bank" and "Quern Bank at Dusk" the longer one is named
        named = [one for one in named if not any(one != other and f" {one} " in f" {other} " for other in named)]
        subjects = {word for subject in named for word in subject.split()}
        refused = next((what for word, what in _NO_CARD.items() if word in words and word not in subjects), None)
        for item in self.taught:
            if item.means is Means.NO_CARD and f" {item.words} " in text:
                refused = refused or f"“{item.words}” is no card"
        if refused is not None:
            return Reading(None, (), state, lot, None, refused)
        if not named:
            return Reading(None, (), state, lot, None, "no card that is known here is named in it")
        fits = [fit for subject in named for fit in self._fits(self._by_subject[subject], text, title, words)]
        whole = [fit for fit in fits if fit.against is None]
        if not whole:
            return Reading(None, (), state, lot, None, fits[0].against)
        top = max(fit.score for fit in whole)
        best = [fit for fit in whole if fit.score == top]
        choices = tuple(
            fit.version.version for fit in sorted(whole, key=lambda fit: fit.score, reverse=True)[:MOST_CHOICES]
        )
        for fit in best[:1]:
            explained.update(fit.explained)
        left = tuple(word for word in words if word not in explained and word not in subjects)
        grade = None if state else _maybe_grade(words, left)
        codes = [word for word in words if _CODE.fullmatch(word) and word not in subjects]
        number = "".join(fold_words(best[0].version.number))
        if grade is not None:
            doubt = doubt or f"“{grade}” may be a grade"
        elif len(named) > 1 and lot == 1:
            doubt = "it names several cards"
        elif codes and number not in codes:
            doubt = f"it says {codes[0].upper()}, and this one is {best[0].version.number}"
        elif len(best) > 1:
            releases = {fit.version.release for fit in best}
            doubt = "the release is not said" if len(releases) > 1 else "which of them is not said"
        elif not best[0].is_told and len({fit.version.release for fit in whole}) > 1:
            doubt = "the release is not said"
        elif not best[0].has_line:
            doubt = "which of them is not said"
        elif lot > 1 and doubt is None:
            doubt = f"a lot of {lot}"
        is_unclear = state is None and (is_unclear or grade is not None)
        if doubt is None and any(word in _MAYBE_SEALED for word in left) and not _OF_SINGLES.search(text):
            doubt = "it may be sealed product"
        return Reading(best[0].version.version, choices, state, lot, doubt, None, left, is_unclear)

    def _state(self, text: str, title: str, explained: set[str]) -> tuple[str | None, str | None]:
        for item in self.taught:
            if item.means is Means.STATE and f" {item.words} " in text:
                explained.update(item.words.split())
                return item.value, None
        for grader in sorted(self.graders, key=len, reverse=True):
            found = re.search(rf"\b{re.escape(grader)}\s*(?P<grade>[0-9]{{1,2}}(?:[.,]5)?)\b", title, re.IGNORECASE)
            if found is not None:
                explained.update((*fold_words(grader), *fold_words(found["grade"])))
                return f"{grader}:{found['grade'].replace(',', '.')}", None
        if any(f" {word} " in text for word in _GRADED):
            explained.update(_GRADED)
            return None, "graded, but it does not say by whom and with what"
        for words, state in sorted(_STATES.items(), key=lambda item: -len(item[0])):
            if f" {words} " in text:
                explained.update(words.split())
                return state, None if state else f"“{words}” is no condition of a known name"
        return None, None

    def _lot(self, title: str, explained: set[str]) -> int:
        found = _LOT.search(title)
        if found is None:
            return 1
        explained.update(fold_words(found[0]))
        return max(int(found["of"] or found["times"] or found["by"] or found["many"]), 1)

    def _fits(self, versions: Sequence[Possible], text: str, title: str, words: Sequence[str]) -> "list[_Fit]":
        years = {int(word) for word in words if _YEAR.fullmatch(word)}
        runs = {int(found) for found in _RUN.findall(title)}
        numbers = {"".join(fold_words(found)) for found in _NUMBERED.findall(title)}
        said: dict[tuple[Means, str], list[str]] = {
            (item.means, item.value.casefold()): item.words.split()
            for item in self.taught
            if item.means in (Means.LINE, Means.VARIANT) and f" {item.words} " in text
        }  # fmt: skip
        named_lines = {
            (release, line)
            for release, lines in self._lines.items()
            for line, line_words in lines.items()
            if f" {' '.join(line_words)} " in text or (Means.LINE, line.casefold()) in said
        }
        return [_fit(version, text, years, runs, numbers, named_lines, said) for version in versions]


def _maybe_grade(words: Sequence[str], left: Collection[str]) -> str | None:
    """A word that nothing explains and a number behind it that may be a grade: "Somebody 9"."""
    pairs = zip(words, words[1:], strict=False)
    found = (f"{word} {number}" for word, number in pairs
             if word in left and number in left and word.isalpha() and len(word) > 2 and number in _GRADES)  # fmt: skip
    return next(found, None)


@dataclass(frozen=True, slots=True)
class _Fit:
    """How well a version fits a title: what speaks against it, how much for it, the words that it explains, and
    whether more than the subject tells the release, and the line."""

    version: Possible
    against: str | None
    score: tuple[int, ...] = ()
    explained: tuple[str, ...] = ()
    is_told: bool = False
    has_line: bool = False


@lru_cache(maxsize=20_000)
def _folded(text: str) -> str:
    """The words of a name, which many titles are held against."""
    return " ".join(fold_words(text))


@lru_cache(maxsize=20_000)
def _joined(text: str) -> str:
    """A number as one word."""
    return "".join(fold_words(text))


def _fit(
    version: Possible,
    text: str,
    years: set[int],
    runs: set[int],
    numbers: set[str],
    named_lines: set[tuple[str, str]],
    said: Mapping[tuple[Means, str], list[str]],
) -> _Fit:
    number = _joined(version.number)
    if years and version.year not in years:
        return _Fit(version, f"it says {min(years)}, and the card that is known is of {version.year}")
    if numbers and number not in numbers:
        return _Fit(version, f"it says number {sorted(numbers)[0]}, and {version.subject} is {version.number}")
    if runs and version.print_run is not None and version.print_run not in runs:
        return _Fit(version, f"it is numbered /{min(runs)}, and the one that is known is /{version.print_run}")
    is_named = (version.release, version.line_name) in named_lines
    of_release = {line for release, line in named_lines if release == version.release}
    if of_release and not is_named:
        return _Fit(version, f"it is of {sorted(of_release)[0]}, where no such card is known")
    variant = _folded(version.variant)
    has_variant = variant != "" and (f" {variant} " in text or (Means.VARIANT, version.variant.casefold()) in said)
    if variant and not has_variant:
        return _Fit(version, f"it does not say {version.variant}")
    has_number = number in numbers or (f" {number} " in text and len(number) > 0)
    is_code = has_number and _CODE.fullmatch(number) is not None
    has_run = version.print_run is not None and version.print_run in runs
    if runs and not has_run and not is_named:
        return _Fit(version, f"it is numbered /{min(runs)}, and {version.line_name} is not")
    release = _folded(version.release_name)
    has_release = f" {release} " in text
    taught = [word for (means, value), words in said.items() for word in words
              if value in (version.line_name.casefold(), version.variant.casefold())]  # fmt: skip
    explained = (*_folded(version.line_name).split(), *variant.split(), number, *release.split(), str(version.year),
                 *(str(run) for run in runs), *taught)  # fmt: skip
    score = (
        2 * is_named + has_run, int(has_variant), int(has_number), int(has_release) + int(bool(years)),
        int(version.is_plain or is_code),
    )  # fmt: skip
    has_line = version.is_plain or is_named or has_run or is_code
    return _Fit(version, None, score, explained, has_release or bool(years) or is_code, has_line)
