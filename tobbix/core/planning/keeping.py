"""Which backups are kept as they grow older: the last days, then one of each week, then one of each month.

Common practice, no source (grandfather, father, son).
"""

from collections.abc import Iterable
from datetime import date

DAYS, WEEKS, MONTHS = 7, 5, 12


def kept(days: Iterable[date]) -> set[date]:
    """Those of the days on which a backup was made that are kept: the newest 7, the newest of each of the newest 5
    weeks (Monday to Sunday), and the newest of each of the newest 12 months.

    >>> sorted(day.day for day in kept(date(2026, 11, day) for day in range(1, 27)))
    [1, 8, 15, 20, 21, 22, 23, 24, 25, 26]
    """
    newest_first = sorted(set(days), reverse=True)
    weeks: dict[tuple[int, int], date] = {}
    months: dict[tuple[int, int], date] = {}
    for day in newest_first:
        weeks.setdefault(day.isocalendar()[:2], day)
        months.setdefault((day.year, day.month), day)
    return {*newest_first[:DAYS], *list(weeks.values())[:WEEKS], *list(months.values())[:MONTHS]}
