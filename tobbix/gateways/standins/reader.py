"""A simulated barcode reader: every now and then it has read a card's code, of cards that it is told of."""

from collections.abc import Callable, Sequence
from random import Random


class SimulatedReader:
    """Reads the codes of the cards that lie before it, some at a time, the same for the same seed."""

    name = "the simulated reader"

    def __init__(self, codes: Callable[[], Sequence[str]], seed: int = 33) -> None:
        self._tell, self._random = codes, Random(seed)

    def read(self) -> list[str]:
        """What was read since it was last asked: none to three codes, as a hand lays cards down."""
        codes = self._tell()
        return [self._random.choice(codes) for _ in range(self._random.randint(0, 3))] if codes else []
