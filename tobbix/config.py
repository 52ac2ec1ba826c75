"""Settings of an installation, from the environment (``TOBBIX_…``) or a file ``tobbix.env`` in its folder."""

import os
from pathlib import Path
from typing import Self
from urllib.parse import urlsplit

from pydantic import Field, SecretStr
from pydantic_settings import BaseSettings, SettingsConfigDict

FOLDER = Path(os.environ.get("TOBBIX_FOLDER", "var"))


class Config(BaseSettings):
    """``secret_key`` signs the session cookie; ``frontend`` is the folder of the built interface. ``names``: of this
    machine as a browser asks for it, beside the loopback ones, with commas between (behind a proxy: the proxy's).
    ``instance``: a mark of the running server, which its health repeats. Sessions end after ``idle_hours`` without use
    and after ``longest_days``. ``own``: it is its owner's, into which no demo comes. ``backups``: the folder of daily
    backups, None for none; ``scans``: the folder that a scanner puts its files into.

    The file is ``tobbix.env`` in the folder TOBBIX_FOLDER, ``var`` if that is not said.
    """

    model_config = SettingsConfigDict(env_prefix="TOBBIX_", env_file=FOLDER / "tobbix.env", extra="ignore")

    database_url: SecretStr = SecretStr("postgresql+psycopg://tobbix@127.0.0.1:5432/tobbix")
    secret_key: SecretStr | None = None
    frontend: Path = Path("frontend/dist")
    secure_cookie: bool = False
    names: str = ""
    instance: str = ""
    idle_hours: float = Field(default=12, gt=0, le=24 * 14)
    longest_days: float = Field(default=14, gt=0, le=365)
    own: bool = False
    backups: Path | None = None
    scans: Path | None = None

    @property
    def secrets(self) -> list[str]:
        """What must not stand in a log."""
        url = self.database_url.get_secret_value()
        password = urlsplit(url).password
        key = None if self.secret_key is None else self.secret_key.get_secret_value()
        return [text for text in (password, key) if text]

    @property
    def own_names(self) -> tuple[str, ...]:
        return tuple(name.strip() for name in self.names.split(",") if name.strip())

    def reached_at(self, host: str) -> Self:
        """The same, reached at an address of this machine, too."""
        return self.model_copy(update={"names": f"{self.names},{f'[{host}]' if ':' in host else host}"})
