"""A simulated feed of exchange rates: the same rates for the same days, wandering about invented middles."""

from datetime import date, timedelta
from math import sin

_MIDDLES = {"GBP": 1.16, "USD": 0.92, "EUR": 1.0}


class SimulatedRates:
    """Speaks the feed's open CSV."""

    name = "simulated feed"

    def fetch(self, home: str, first: date, last: date) -> str:
        lines = ["date,currency,rate"]
        day = first
        while day <= last:
            if day.weekday() < 5:  # the feed rests at the weekend
                for index, (currency, middle) in enumerate(_MIDDLES.items()):
                    if currency != home:
                        wave = 1 + 0.02 * sin(day.toordinal() / 17 + index) + 0.01 * sin(day.toordinal() / 5)
                        lines.append(f"{day.isoformat()},{currency},{middle / _MIDDLES.get(home, 1.0) * wave:.6f}")
            day += timedelta(days=1)
        return "\n".join(lines) + "\n"
