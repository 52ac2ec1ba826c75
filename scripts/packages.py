"""Write docs/packages.md: every package that the locks name, with its version and licence. With "check": fail if it is
not what is installed.
"""

import json
import re
import sys
from importlib.metadata import metadata
from pathlib import Path

ROOT = Path(__file__).parent.parent
TARGET = ROOT / "docs/packages.md"
HEAD = """# Packages

What Tobbix is built from and with, with versions and licences, as the locks and the installed packages say it. Made by
`make packages`.

From Debian, in the version of the system: PostgreSQL 15 (PostgreSQL licence), Python 3 (PSF licence); for the tests
also Chromium (BSD-3-Clause and others) and nginx (BSD-2-Clause).
"""


def python_packages(lock: str) -> list[tuple[str, str]]:
    return re.findall(r"^([A-Za-z0-9._-]+)(?:\[[^\]]*\])?==([^ ;\\]+)", (ROOT / lock).read_text(), re.M)


def python_licence(name: str) -> str:
    said = metadata(name)
    if said.get("License-Expression"):
        return str(said["License-Expression"])
    classed = [value.rpartition(" :: ")[2] for value in said.get_all("Classifier") or [] if value.startswith("License")]
    if classed:
        return ", ".join(classed)
    return (said.get("License") or "not said").strip().splitlines()[0][:60]


def node_packages() -> list[tuple[str, str, bool, str]]:
    found = set()
    lock = json.loads((ROOT / "frontend/package-lock.json").read_text())
    for path, entry in lock["packages"].items():
        if not path or entry.get("optional") or entry.get("devOptional"):
            continue
        folder = ROOT / "frontend" / path / "package.json"
        licence = entry.get("license") or (json.loads(folder.read_text()).get("license") if folder.exists() else None)
        name = path.rpartition("node_modules/")[2]
        found.add((name, entry["version"], bool(entry.get("dev")), str(licence or "not said")))
    return sorted(found)


def table(title: str, rows: list[tuple[str, str, str]]) -> str:
    lines = "\n".join(f"| {name} | {version} | {licence} |" for name, version, licence in rows)
    return f"\n## {title}\n\n| package | version | licence |\n|---|---|---|\n{lines}\n"


def render() -> str:
    runtime = python_packages("requirements.txt")
    developing = [row for row in python_packages("requirements-dev.txt") if row not in runtime]
    node = node_packages()
    return HEAD + "".join(
        [
            table("Python, at run time", [(n, v, python_licence(n)) for n, v in runtime]),
            table("The interface, at run time", [(n, v, licence) for n, v, dev, licence in node if not dev]),
            table("Python, for development", [(n, v, python_licence(n)) for n, v in developing]),
            table("The interface, for development", [(n, v, licence) for n, v, dev, licence in node if dev]),
        ]
    )


if __name__ == "__main__":
    if sys.argv[1:] != ["check"]:
        TARGET.write_text(render(), encoding="utf-8")
    elif TARGET.read_text(encoding="utf-8") != render():
        sys.exit("docs/packages.md is out of date: run make packages")
