"""What requests work with, handed over by the application that they run in."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from flask import current_app

from tobbix.gateways.ports import CodeReader, GraderService, PriceSource, RateFeed, Scale, Scanner, SellingService
from tobbix.services.installation.progress import ProgressBoard
from tobbix.services.products.catalogue import Catalogue


@dataclass(frozen=True)
class Context:
    """The catalogue, the feeds and devices behind their ports, what adds the demo's releases (None where no demo may
    come in), the mark of the running server, how far uploads are, the folder of daily backups if there is one, what
    prices are fetched from, a reader of codes and a scanner if one is connected, graders and
    markets that can be asked."""

    catalogue: Catalogue
    rates: RateFeed
    scale: Scale
    add_demo_releases: Callable[[Catalogue], int] | None
    instance: str
    progress: ProgressBoard
    backups: Path | None
    sources: tuple[PriceSource, ...]
    reader: CodeReader | None
    scanner: Scanner | None
    graders: tuple[GraderService, ...]
    markets: tuple[SellingService, ...]


def context() -> Context:
    """The context of the running application."""
    found = current_app.extensions["tobbix"]
    assert isinstance(found, Context)
    return found


def catalogue() -> Catalogue:
    """The catalogue of the running application."""
    return context().catalogue
