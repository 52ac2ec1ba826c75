"""The command line: the value of a sheet without a database, sheets in and out, owner, backup and restore."""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from tests.conftest import make_database
from tests.sheets import document, example_1, line
from tobbix.cli import main
from tobbix.formats.product_sheets import parse_sheet

KEYS = [
    "format", "boxes", "basis", "price", "mean", "sd", "quantiles", "chance_of_break_even", "worst_tenth", "grid_step",
    "wrap_around", "lower_bound", "by_line", "assumed", "unknown", "low", "high",
]  # fmt: skip


def run(*words: object, sure: bool = True) -> Result:
    result = CliRunner().invoke(main, [str(word) for word in words], catch_exceptions=False)
    assert (result.exit_code == 0) is sure, result.output
    return result


@pytest.fixture
def sheet_file(tmp_path: Path) -> Path:
    path = tmp_path / "sheet.json"
    path.write_text(json.dumps(example_1()))
    return path


def test_box_value_prints_the_figures_of_the_open_format(sheet_file: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("TOBBIX_DATABASE_URL", "postgresql+psycopg://nobody@127.0.0.1:1/none")
    one = json.loads(run("box-value", sheet_file, "--format", "box", "--price", "60", "--json").output)
    assert list(one) == KEYS
    assert (one["price"], one["boxes"], one["basis"], one["lower_bound"]) == ("60.00", 1, "gross", False)
    assert one["mean"] == pytest.approx(37.4536, abs=5e-5)
    assert one["chance_of_break_even"] == pytest.approx(0.113724, abs=5e-7)
    assert one["quantiles"] == {"0.05": 12.5, "0.25": 19.45, "0.5": 27.4, "0.75": 40.25, "0.95": 131.35}
    assert {share["line"]: round(share["hits"], 9) for share in one["by_line"]} == {
        "base": 66.5, "a": 4.0, "b": 0.5, "c": 1.0,
    }  # fmt: skip
    ten = json.loads(run("box-value", sheet_file, "--format", "box", "--boxes", 10, "--price", 60, "--json").output)
    assert ten["chance_of_break_even"] == pytest.approx(0.02607, abs=5e-6)
    none = json.loads(run("box-value", sheet_file, "--format", "box", "--basis", "gross", "--json").output)
    assert none["price"] is None and none["chance_of_break_even"] is None
    assert (
        "at 60.00 you lose in 9 times out of 10"
        in run("box-value", sheet_file, "--format", "box", "--price", 60).output
    )


def test_box_value_is_net_of_a_way_of_selling_in_a_file(
    sheet_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("TOBBIX_DATABASE_URL", "postgresql+psycopg://nobody@127.0.0.1:1/none")
    way = tmp_path / "way.json"
    way.write_text('{"name": "Ten", "on": "price", "commission": [{"up_to": null, "share": "0.1"}]}')
    ask = ["box-value", str(sheet_file), "--format", "box", "--json"]
    gross = json.loads(CliRunner().invoke(main, ask).stdout)
    net = json.loads(CliRunner().invoke(main, [*ask, "--basis", "net", "--way", str(way)]).stdout)
    assert (net["basis"], net["mean"]) == ("net", pytest.approx(gross["mean"] * 0.9))
    assert "net values need a way" in CliRunner().invoke(main, [*ask, "--basis", "floor"]).stderr
    way.write_text('{"commission": [{"share": "much"}], "fee": 1}')
    refused = CliRunner().invoke(main, [*ask, "--basis", "net", "--way", str(way)])
    assert refused.exit_code == 1 and {line.split(":")[0] for line in refused.stderr.splitlines()} == {
        "commission", "fee",
    }  # fmt: skip


def test_what_is_wrong_goes_to_the_error_stream_a_line_for_each_fault(tmp_path: Path) -> None:
    path = tmp_path / "bad.json"
    path.write_text(json.dumps({**example_1(), "currency": "x", "priced_on": "soon"}))
    result = run("box-value", path, "--format", "box", sure=False)
    assert len(result.stderr.splitlines()) == 2 and "Release, currency" in result.stderr
    path.write_text(json.dumps(example_1()))
    assert "no format “tin”" in run("box-value", path, "--format", "tin", sure=False).stderr


@pytest.fixture
def own_store(server_url: str, worker_id: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[str]:
    url = make_database(server_url, f"cli_{worker_id}")
    monkeypatch.setenv("TOBBIX_DATABASE_URL", url)
    yield url


def test_sheets_owner_backup_and_restore(own_store: str, sheet_file: Path, tmp_path: Path) -> None:
    run("migrate")
    run("create-owner", "--name", "Ines", "--passphrase", "four plain words here")
    assert "added" in run("import-sheet", sheet_file).output
    silent = tmp_path / "silent.json"
    silent.write_text(json.dumps({**document([line("a", ["1"], None)]), "id": "silent"}))
    assert "--confirm-silent" in run("import-sheet", silent, sure=False).stderr
    run("import-sheet", silent, "--confirm-silent")
    run("export-sheet", "test", tmp_path / "out.xlsx")
    assert parse_sheet((tmp_path / "out.xlsx").read_bytes()).sheet.id == "test"
    assert "must end in" in run("export-sheet", "test", tmp_path / "out.pdf", sure=False).stderr

    saved = tmp_path / "saved.zip"
    run("backup", saved)
    changed = {**example_1(), "revision": 9, "currency": "GBP"}
    sheet_file.write_text(json.dumps(changed))
    assert "replaced" in run("import-sheet", sheet_file, "--replace").output
    (tmp_path / "junk.gz").write_bytes(b"no backup")
    assert (
        "not a backup of Tobbix; nothing was changed"
        in run("restore", tmp_path / "junk.gz", "--yes", sure=False).stderr
    )
    run("restore", saved, "--yes")
    run("export-sheet", "test", tmp_path / "again.json")
    assert json.loads((tmp_path / "again.json").read_text())["currency"] == "EUR"
    assert (
        "there is an owner already"
        in run("create-owner", "--name", "B", "--passphrase", "quite another passphrase", sure=False).stderr
    )
    assert "not the demo" in run("demo", "--reset", sure=False).stderr
    assert "owner of its own" in run("demo").output
