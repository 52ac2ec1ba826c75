"""Exchange rates as CSV: columns date, currency, rate (home units for one unit of the currency)."""

import csv
from datetime import date
from decimal import Decimal, InvalidOperation
from io import StringIO

from tobbix.core.base.errors import Fault, InputError
from tobbix.core.base.money import minor_units


def parse_rates(text: str) -> list[tuple[str, date, Decimal]]:
    """Currency, day and rate of each row. Raises InputError with every fault, by row."""
    faults: list[Fault] = []
    found = []
    reader = csv.DictReader(StringIO(text))
    if not {"date", "currency", "rate"} <= set(reader.fieldnames or ()):
        raise InputError.at("file", "needs the columns date, currency and rate")
    for number, row in enumerate(reader, 2):
        try:
            day = date.fromisoformat((row["date"] or "").strip())
        except ValueError:
            faults.append(Fault("date", "is not a day like 2026-11-25", None, number))
            continue
        currency = (row["currency"] or "").strip()
        try:
            minor_units(currency)
            rate = Decimal((row["rate"] or "").strip())
            if not 0 < rate < 1_000_000:
                raise InvalidOperation
        except ValueError:
            faults.append(Fault("currency", "is not a code of three capital letters", None, number))
        except InvalidOperation:
            faults.append(Fault("rate", "is not a number over 0", None, number))
        else:
            found.append((currency, day, rate))
    if faults:
        raise InputError(faults[:200])
    return found


def parse_scale_line(line: str) -> Decimal:
    """Grams of a scale's line like ``ST,GS,+  213.4 g``. Raises InputError for one that is not stable or no reading."""
    parts = line.strip().split(",")
    if len(parts) != 3 or parts[0] != "ST" or not parts[2].strip().endswith("g"):
        raise InputError.at("grams", f"“{line.strip()[:40]}” is not a stable reading")
    try:
        return Decimal(parts[2].strip().removesuffix("g").replace(" ", ""))
    except InvalidOperation:
        raise InputError.at("grams", f"“{line.strip()[:40]}” is not a stable reading") from None
