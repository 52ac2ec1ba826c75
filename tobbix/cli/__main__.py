"""``python -m tobbix.cli``."""

from tobbix.cli import main

main()
