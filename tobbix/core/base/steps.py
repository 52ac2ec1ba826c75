"""A list of steps that is gone through by hand, ticked and kept."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do: ``id`` within its list, what to do, and why or how (empty where it goes without saying)."""

    id: str
    text: str
    why: str = ""
