"""A simulated scanner: it puts a scan of a front and a back into its folder whenever nothing lies there."""

from pathlib import Path

from PIL import Image

from tobbix.core.grading.simulated_scans import simulate_scan
from tobbix.gateways.folder import FolderScanner

LONGER = 800


class SimulatedScanner(FolderScanner):
    """Scans cards that nobody laid on it, the same ones in the same order."""

    def __init__(self, folder: Path) -> None:
        super().__init__(folder, "the simulated scanner")

    def list_files(self) -> list[str]:
        """The names of what lies there; if nothing does, a front and a back are scanned first."""
        found = super().list_files()
        if found:
            return found
        self._folder.mkdir(parents=True, exist_ok=True)
        done = self._folder / "taken"
        begun = len(list(done.iterdir())) if done.is_dir() else 0
        for at, side in enumerate(("front", "back")):
            scan = simulate_scan(begun + at, LONGER)
            file = self._folder / f"scan {begun // 2 + 1:03} {side}.jpg"
            dpi = scan.per_mm * 25.4
            Image.fromarray(scan.pixels).save(file, "JPEG", quality=90, dpi=(dpi, dpi))
        return super().list_files()
