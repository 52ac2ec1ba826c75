"""A simulated scale: readings of boxes that differ by some grams, the same for the same seed."""

from random import Random


class SimulatedScale:
    """Sends stable readings as a plain scale does: ``ST,GS,+  213.4 g``."""

    def __init__(self, typical: float = 213.0, spread: float = 1.1, seed: int = 1) -> None:
        self._random = Random(seed)
        self._typical, self._spread = typical, spread

    def read_line(self) -> str:
        return f"ST,GS,+{self._random.gauss(self._typical, self._spread):8.1f} g"
