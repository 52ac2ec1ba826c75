"""A scanner by the folder that it puts its files into: any scanner that can do that is connected so."""

from pathlib import Path

from tobbix.core.base.errors import NotFound

_SUFFIXES = {".jpg", ".jpeg", ".png", ".webp"}
_DONE = "taken"


class FolderScanner:
    """Pictures in a watched folder; what was taken over moves into a folder ``taken`` beside them, never away."""

    def __init__(self, folder: Path, name: str = "the scanner's folder") -> None:
        self.name, self._folder = name, folder

    def list_files(self) -> list[str]:
        """The names of the pictures that lie there, the oldest first."""
        if not self._folder.is_dir():
            return []
        found = [it for it in self._folder.iterdir() if it.is_file() and it.suffix.lower() in _SUFFIXES]
        return [it.name for it in sorted(found, key=lambda it: (it.stat().st_mtime_ns, it.name))]

    def read_file(self, name: str) -> bytes:
        """A picture. Raises NotFound."""
        return self._find(name).read_bytes()

    def put_away(self, name: str) -> None:
        """A picture was taken over. Raises NotFound."""
        found = self._find(name)
        (self._folder / _DONE).mkdir(exist_ok=True)
        found.replace(self._folder / _DONE / name)

    def _find(self, name: str) -> Path:
        if name not in self.list_files():  # a name, never a way to somewhere else
            raise NotFound("the scanner has no such file any more")
        return self._folder / name
