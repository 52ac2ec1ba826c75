"""Invented subjects: every name is put together from plain words."""

from collections.abc import Iterator, Sequence
from itertools import count
from random import Random

_PLACES = (
    "Gull Thistle Quern Lantern Marram Kelp Samphire Fulmar Otter Cormorant Bramble Slate Anchor Bellrope Sandglass "
    "Tern Heron Limpet Cockle Driftwood Ember Foghorn Gannet Haddock Ironside Jackdaw Keel Lobster Mackerel Nettle "
    "Oyster Petrel Quill Raven Seal Tallow Urchin Vesper Whelk Yarrow Plover Rudder Shingle Tarpot Wrack Barnacle"
).split()
_LANDS = "Rock Head Point Ledge Skerry Holm Stack Reef Bar Sound Spit Isle Bank Ness Steps Gap".split()
_LIGHTS = (
    "The Widow’s Lamp", "The Crooked Lantern", "Old Patience", "The Blind Sister", "Last Match", "The Salt Candle",
)  # fmt: skip
_FIRST = (
    "Ada Bertil Cosima Dunstan Edda Fenwick Greta Hobart Isolde Jory Kester Linnea Morwen Nils Orla Piran Runa"
).split()
_LAST = "Tarrow Quillmore Saltby Fennick Orrin Hollowick Marrable Strand Weatherlow Pellgate Brinewell Cragg".split()
_CARS = (
    "Goat Eyrie Larch Snowline Gentian Marmot Cablehouse Pinewall Ravine Summit Cowbell Glacier Hayloft Ridge".split()
)
_RAILS = "Incline Tramway Lift Rackline Funicular Steps Cable Haul".split()
_COLOURS = "Ash Sooty Pale Rust Dusky Silver Velvet Ink Chalk Amber Plum Smoke Copper Moss".split()
_MOTHS = (
    "Lantern-wing Veil Cloakmoth Ghost Thornback Carpet Dagger-mark Feather Hooktip Wainscot Sallow Tiger-veil".split()
)


def lights(random: Random) -> Iterator[str]:
    """Lighthouses, lightships and their rocks."""
    yield from _LIGHTS
    ship = count(2)
    for place, land in _pairs(random, _PLACES, _LANDS):
        yield f"Lightship No. {next(ship)}" if random.random() < 0.08 else f"{place} {land}"


def keepers(random: Random) -> Iterator[str]:
    """People who never were."""
    for first, last in _pairs(random, _FIRST, _LAST):
        yield f"{first} {last}"


def railways(random: Random) -> Iterator[str]:
    """Mountain railways."""
    for car, rail in _pairs(random, _CARS, _RAILS):
        yield f"{car} {rail}"


def moths(random: Random) -> Iterator[str]:
    """Night moths."""
    for colour, moth in _pairs(random, _COLOURS, _MOTHS):
        yield f"{colour} {moth}"


def _pairs(random: Random, first: Sequence[str], second: Sequence[str]) -> list[tuple[str, str]]:
    pairs = [(a, b) for a in first for b in second]
    random.shuffle(pairs)
    return pairs
