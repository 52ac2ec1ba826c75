"""The command line: ``tobbix …``. A command's module is loaded when it is called, so that each starts quickly."""

import gc
from importlib import import_module

import click

_MODULES = {
    "tobbix.cli.sheets": ("box-value",),
    "tobbix.cli.pricing": ("net", "list-price", "comps", "curve", "borrow"),
    "tobbix.cli.buying": ("basket",),
    "tobbix.cli.grading": ("grade-gain", "submission-cost", "best-batch"),
    "tobbix.cli.measuring": ("centering",),
    "tobbix.cli.selling": ("pack",),
    "tobbix.cli.installation": (
        "import-sheet", "export-sheet", "migrate", "demo", "create-owner", "backup", "restore", "drill", "document",
        "new-step",
    ),
    "tobbix.cli.serving": ("serve",),
    "tobbix.cli.processes": ("web", "work"),
    "tobbix.cli.phone": ("phone",),
}  # fmt: skip
_MODULE_OF = {command: module for module, commands in _MODULES.items() for command in commands}


class Commands(click.Group):
    """A group that knows the names of its commands before it loads them."""

    def list_commands(self, context: click.Context) -> list[str]:
        return list(_MODULE_OF)

    def get_command(self, context: click.Context, name: str) -> click.Command | None:
        if name not in _MODULE_OF:
            return None
        # What is imported stays: looking through it for garbage, as it comes and ever after, costs a fifth of a start.
        gc.disable()
        module = import_module(_MODULE_OF[name])
        gc.freeze()
        gc.enable()
        command = getattr(module, name.replace("-", "_"))
        assert isinstance(command, click.Command)
        return command


@click.group(cls=Commands)
@click.version_option(package_name="tobbix")
def main() -> None:
    """Tobbix: what sealed cards are worth, and what becomes of them."""
