"""Settings of an installation, from the environment (``TOBBIX_…``) or a file ``var/tobbix.env``."""

from pathlib import Path

from pydantic import SecretStr
from pydantic_settings import BaseSettings, SettingsConfigDict


class Config(BaseSettings):
    """``secret_key`` signs the session cookie; ``frontend`` is the folder of the built interface."""

    model_config = SettingsConfigDict(env_prefix="TOBBIX_", env_file="var/tobbix.env", extra="ignore")

    database_url: SecretStr = SecretStr("postgresql+psycopg://tobbix@127.0.0.1:5432/tobbix")
    secret_key: SecretStr | None = None
    frontend: Path = Path("frontend/dist")
    postgres_bin: Path = Path("/usr/lib/postgresql/15/bin")
    secure_cookie: bool = False
    sign_in_limit: str = "10 per minute; 60 per hour"
