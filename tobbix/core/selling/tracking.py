"""Tracking numbers of the post and their check digit (Rule C-32).

UPU S10: two letters, eight digits, a check digit, two letters of the country. The digits weigh 8, 6, 4, 2, 3, 5, 9 and
7; eleven less the rest by eleven is the check digit, 10 counts as 0 and 11 as 5. A carrier's own number is taken as it
is.
"""

import re
from dataclasses import dataclass

_WEIGHTS = (8, 6, 4, 2, 3, 5, 9, 7)
_S10 = re.compile(r"([A-Z]{2})([0-9]{8})([0-9])([A-Z]{2})")


@dataclass(frozen=True, slots=True)
class Tracking:
    """A tracking number without its gaps; ``is_post`` if it has the form of UPU S10, and ``fault`` what is wrong with
    it then."""

    number: str
    is_post: bool
    fault: str | None


def check_digit(serial: str) -> int:
    """The check digit of eight digits. Rule C-32; UPU S10. Raises ValueError for anything else.

    >>> check_digit("47312482")
    9
    """
    if not re.fullmatch(r"[0-9]{8}", serial):
        raise ValueError("a serial number has eight digits")
    found = 11 - sum(weight * int(digit) for weight, digit in zip(_WEIGHTS, serial, strict=True)) % 11
    return {10: 0, 11: 5}.get(found, found)


def read_tracking(text: str) -> Tracking:
    """A tracking number as it is typed. Rule C-32.

    >>> read_tracking("rr 473 124 829 og").fault is None
    True
    >>> read_tracking("RR473124828OG").fault
    'its check digit should be 9: one of its digits is mistyped'
    """
    number = re.sub(r"[\s.-]", "", text).upper()
    found = _S10.fullmatch(number)
    if found is None:
        return Tracking(text.strip(), False, None)
    digit = check_digit(found[2])
    fault = None if int(found[3]) == digit else f"its check digit should be {digit}: one of its digits is mistyped"
    return Tracking(number, True, fault)
