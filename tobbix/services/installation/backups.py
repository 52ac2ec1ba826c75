"""Back the whole store up into one file, and bring it back: plain SQL, gzipped, readable without this program."""

import gzip
import os
import shutil
import subprocess
import tempfile
from pathlib import Path

from sqlalchemy.engine import URL, make_url

from tobbix.core.base.errors import InputError
from tobbix.db.base import Database
from tobbix.db.migrating import migrate

_MARK = b"-- Tobbix backup 1\n"


def _environment(url: URL) -> dict[str, str]:
    """The connection for PostgreSQL's own programs; the password stays out of the command line."""
    values = {
        "PGHOST": url.host,
        "PGPORT": str(url.port) if url.port else None,
        "PGUSER": url.username,
        "PGPASSWORD": url.password,
        "PGDATABASE": url.database,
    }
    return {**os.environ, **{name: str(value) for name, value in values.items() if value}}


def _run(command: list[str], url: URL) -> None:
    done = subprocess.run(command, env=_environment(url), capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise InputError.at("file", f"{Path(command[0]).name} failed: {done.stderr.strip()[-500:]}")


def back_up(url: str, postgres_bin: Path, target: Path) -> int:
    """Write a backup and return its size in bytes; a file that is there is replaced only by a whole one."""
    with tempfile.TemporaryDirectory(dir=target.absolute().parent) as folder:
        plain, packed = Path(folder, "plain.sql"), Path(folder, "backup.sql.gz")
        command = [str(postgres_bin / "pg_dump"), "--no-owner", "--no-privileges", "--file", str(plain)]
        _run(command, make_url(url))
        with plain.open("rb") as source, gzip.open(packed, "wb") as sink:
            sink.write(_MARK)
            shutil.copyfileobj(source, sink)
        packed.chmod(0o600)
        packed.replace(target)
    return target.stat().st_size


def restore(database: Database, url: str, postgres_bin: Path, source: Path) -> None:
    """Replace all that is stored by a backup, in one transaction. Raises InputError for what is no backup."""
    with tempfile.TemporaryDirectory() as folder:
        script = Path(folder, "restore.sql")
        try:
            with gzip.open(source, "rb") as packed, script.open("wb") as plain:
                if packed.read(len(_MARK)) != _MARK:
                    raise InputError.at("file", f"{source} is not a backup of Tobbix")
                plain.write(b"drop schema public cascade; create schema public;\n")
                shutil.copyfileobj(packed, plain)
        except (OSError, EOFError) as error:
            raise InputError.at("file", f"{source} cannot be read: {error}") from None
        database.engine.dispose()
        command = [str(postgres_bin / "psql"), "--no-psqlrc", "--quiet", "--single-transaction"]
        _run([*command, "--set", "ON_ERROR_STOP=1", "--file", str(script)], make_url(url))
    migrate(database.engine)
