"""Write docs/rules.md: every rule of the trade that the core carries out, where, and what checks it, read from the
docstrings. With "check": fail if it is not what they say.
"""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parent.parent
TARGET = ROOT / "docs/rules.md"
HEAD = """# Rules

The rules of the trade by their numbers: what carries each out, and what checks it, as the docstrings say. Made by
`make rules`.

| rule | what | carried out by | checked by |
|---|---|---|---|
"""
TITLES = {
    1: "odds, and prices that are not known", 2: "what a pull is worth", 3: "expected value", 4: "distribution",
    5: "collation", 6: "market risk", 7: "most to pay", 8: "chase", 9: "completing a set", 10: "how many exist",
    11: "rip, hold or buy", 12: "what is still in the box", 13: "odds against results", 14: "does weight tell?",
    15: "landed cost and its division", 16: "books", 17: "net and list price", 18: "comps", 19: "grade curve",
    20: "most to bid", 21: "what to ask", 22: "best basket", 23: "condition", 24: "target list",
    25: "cost of a submission", 26: "expected gain", 27: "pre-grade", 28: "calibration", 29: "which cards, which tier",
    30: "second opinion", 31: "packing plan", 32: "parcels", 33: "bulk", 34: "sorting plan", 35: "look-up threshold",
    36: "sets and rainbows", 37: "borrowed value", 38: "which way out", 39: "hindsight", 40: "roads not taken",
    41: "training the eye",
}  # fmt: skip
_NUMBER = re.compile(r"C-(\d\d)(?:\s+to\s+C-(\d\d))?")


def numbers(text: str) -> set[int]:
    """The rules that a text names, "C-12 to C-14" as three."""
    return {
        number for first, last in _NUMBER.findall(text) for number in range(int(first), int(last or first) + 1)
    }  # fmt: skip


def named(path: Path) -> Iterator[tuple[str, set[int]]]:
    """What a file defines at its top or in its classes, with the rules that its docstring names; "" is the file."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    yield "", numbers(ast.get_docstring(tree) or "")
    for node in tree.body:
        if isinstance(node, ast.FunctionDef | ast.ClassDef):
            yield node.name, numbers(ast.get_docstring(node) or "")
            for part in node.body if isinstance(node, ast.ClassDef) else ():
                if isinstance(part, ast.FunctionDef):
                    yield f"{node.name}.{part.name}", numbers(ast.get_docstring(part) or "")


def by_rule(folder: str, label: str) -> dict[int, list[str]]:
    """Where the files of a folder name each rule, a file once with what in it does."""
    found: dict[int, dict[str, list[str]]] = {}
    for path in sorted((ROOT / folder).rglob("*.py")):
        place = path.relative_to(ROOT / label).with_suffix("").as_posix().replace("/", ".")
        for name, rules in named(path):
            for rule in rules:
                found.setdefault(rule, {}).setdefault(place, []).extend([name] if name else [])
    return {
        rule: [f"`{place}`" + (f": {', '.join(names)}" if names else "") for place, names in places.items()]
        for rule, places in found.items()
    }


def render() -> str:
    carried, checked = by_rule("tobbix/core", "tobbix"), by_rule("tests", "tests")
    rows = []
    for rule in sorted(carried):
        where, how = "; ".join(carried[rule]), "; ".join(checked.get(rule, ["nothing outside yet"]))
        rows.append(f"| C-{rule:02} | {TITLES[rule]} | {where} | {how} |")
    still = ", ".join(f"C-{rule:02} {TITLES[rule]}" for rule in TITLES if rule not in carried)
    return HEAD + "\n".join(rows) + f"\n\nStill to come: {still}.\n"


if __name__ == "__main__":
    content = render()
    if sys.argv[1:] == ["check"]:
        if TARGET.read_text(encoding="utf-8") != content:
            sys.exit("docs/rules.md is out of date: run make rules")
    else:
        TARGET.write_text(content, encoding="utf-8")
