"""What the demo's collector knows of her cards: how to tell them, their sizes, whom she watches, first cards."""

from tobbix.core.products.describing import NoteKind
from tobbix.services.products import describing
from tobbix.services.products.catalogue import Catalogue

_WATCHED, _DEBUTS = 6, 12
_TELLING = (
    ("skerrylight-2025", "drizzle", "Fine slanting strokes over the whole sky; numbered of 160 on the back."),
    ("skerrylight-2025", "slate", "A grey-blue frame and a dull surface; numbered of 80."),
    ("skerrylight-2025", "saffron", "The lamp's glow is printed in warm yellow foil; numbered of 40."),
    ("skerrylight-2025", "gale", "The frame is torn open at the upper right; numbered of 12."),
    ("highline-2024", "brass", "A yellow metal frame; numbered of 200. Copper is redder and of 75."),
    ("highline-2024", "copper", "A red metal frame; numbered of 75. Brass is yellower and of 200."),
    ("nocturnes-1998-one", "lamp", "The moth looks to the left, and the back says “first flight”."),
    ("nocturnes-1998-two", "lamp", "The moth looks to the right, and the back says “second flight”."),
)
_FAULTS = (("first-watch-2011", "base", "Dark edges chip: look at all four under a slant of light."),)
_SIZES = (("skerrylight-2025", "base", "63 x 88 x 0.31 mm, 1.8 g"), ("skerrylight-2025", "rivet", "63 x 88 x 1.4 mm"),
          ("nocturnes-1998-one", "base", "63 x 88 mm"), ("nocturnes-1998-two", "base", "63.5 x 89 mm"))  # fmt: skip


def load_telling(catalogue: Catalogue) -> None:
    """Store it."""
    for kind, notes in ((NoteKind.TELLING, _TELLING), (NoteKind.FAULT, _FAULTS)):
        for release, line, said in notes:
            describing.add_note(catalogue, release, kind, said, line, None)
    for release, line, said in _SIZES:
        describing.put_sizes(catalogue, release, line, said)
    known = [(subject, first) for subject, first in describing.list_subjects(catalogue, "", False) if first is not None]
    for subject, _ in known[:_WATCHED]:
        describing.watch_subject(catalogue, subject.number, True)
    for subject, first in known[:_DEBUTS]:
        if subject.cards > 1 and not first.variant:
            describing.put_debut(catalogue, first.release, first.line, first.number, True)
