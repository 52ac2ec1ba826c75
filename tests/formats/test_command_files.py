"""The documented files of the commands: their examples fit their schemas, and say what the rules' examples say."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner
from jsonschema import Draft202012Validator

from tests.conftest import ROOT
from tobbix.cli import main

DOCS = ROOT / "docs"


def answer(*arguments: str) -> dict[str, object]:
    found = CliRunner().invoke(main, [*arguments, "--json"])
    assert found.exit_code == 0, found.output
    made: dict[str, object] = json.loads(found.output)
    return made


@pytest.mark.parametrize(
    "kind", ["sales", "grade-curve", "selling-way", "basket", "grading-question", "submission-cost", "batch", "parcel"]
)
def test_examples_fit_their_schemas_and_what_does_not_is_refused_by_both(kind: str, tmp_path: Path) -> None:
    schema = json.loads((DOCS / f"{kind}.schema.json").read_text())
    Draft202012Validator.check_schema(schema)
    example = json.loads((DOCS / f"examples/{kind}.json").read_text())
    judge = Draft202012Validator(schema)
    assert list(judge.iter_errors(example)) == []
    {
        "sales": lambda: example["observations"][0],
        "grade-curve": lambda: example["grades"][0],
        "basket": lambda: example["asks"][0],
        "submission-cost": lambda: example["charges"][0],
        "batch": lambda: example["tiers"][0],
        "parcel": lambda: example["classes"][0],
    }.get(kind, lambda: example)()["colour"] = "red"
    assert len(list(judge.iter_errors(example))) == 1
    path = tmp_path / "file.json"
    path.write_text(json.dumps(example))
    more = {"sales": ["comps", path, "--state", "NM", "--on", "2026-11-01"], "grade-curve": ["curve", path],
            "basket": ["basket", path], "grading-question": ["grade-gain", path], "batch": ["best-batch", path],
            "submission-cost": ["submission-cost", path], "parcel": ["pack", path]}  # fmt: skip
    refused = CliRunner().invoke(main, [str(word) for word in more.get(kind, ["net", path, "--price", "10"])])
    assert refused.exit_code == 1 and "colour" in refused.output


def test_the_examples_say_what_rules_c_17_c_18_and_c_19_say() -> None:
    way = str(DOCS / "examples/selling-way.json")
    net = answer("net", way, "--price", "10")
    assert (net["net"], net["net_rounded"]) == (7.3865, 7.39)
    assert answer("list-price", way, "--net", "8")["price"] == 10.73
    sales = answer("comps", str(DOCS / "examples/sales.json"), "--state", "NM", "--on", "2026-11-01")
    assert sales["flagged"] == ["s10"] and sales["median"] == 33 and sales["used"] == 9
    interval = sales["interval"]
    assert isinstance(interval, dict)
    assert (interval["low"], interval["high"], round(interval["confidence"], 3)) == (30, 36, 0.961)
    curve = answer("curve", str(DOCS / "examples/grade-curve.json"))
    assert isinstance(curve["fit"], list)
    assert [round(it["fitted"], 2) for it in curve["fit"]] == [127.42, 127.42, 175.0, 237.18, 237.18, 720.0]
    assert curve["reversals"] == [["3", "4"], ["6", "7"]]


def test_the_basket_is_told_with_its_orders_and_what_is_missing(tmp_path: Path) -> None:
    basket = answer("basket", str(DOCS / "examples/basket.json"))
    assert (basket["total"], basket["proven"], basket["gap"], basket["missing"]) == (21.5, True, 0.0, [])
    assert [order["seller"] for order in basket["orders"]] == ["Harbour stall"]  # type: ignore[attr-defined]
    document = json.loads((DOCS / "examples/basket.json").read_text())
    document["wanted"].append({"card": "UT8", "count": 1})
    (tmp_path / "more.json").write_text(json.dumps(document))
    assert answer("basket", str(tmp_path / "more.json"))["missing"] == [{"card": "UT8", "count": 1}]
    del document["sellers"][0]["shipping"]
    document["asks"][1]["seller"] = "nobody"
    (tmp_path / "bad.json").write_text(json.dumps(document))
    refused = CliRunner().invoke(main, ["basket", str(tmp_path / "bad.json")])
    assert refused.exit_code == 1 and "sellers[0].shipping" in refused.output


def test_grading_and_packing_are_told_as_the_guide_says(tmp_path: Path) -> None:
    gain = answer("grade-gain", str(DOCS / "examples/grading-question.json"))
    assert (round(float(str(gain["gain"])), 2), gain["chance_of_loss"], gain["raw_net"]) == (36.37, 0.58, 68.4)
    cost = answer("submission-cost", str(DOCS / "examples/submission-cost.json"))
    assert cost["total"] == 129.67 and cost["per_card"]["card 1"] == 24.38
    batch = answer("best-batch", str(DOCS / "examples/batch.json"))
    why = batch["why"]
    assert isinstance(why, dict) and batch["proven"] and batch["not_sent"] == ["Gull Rock"]
    assert set(why) == {
        "Siren No. 4", "Reed Horn", "Gull Rock", "The Widow\u2019s Lamp"
    }  # fmt: skip
    plans = answer("pack", str(DOCS / "examples/parcel.json"))["plans"]
    assert isinstance(plans, list) and round(plans[0]["expected_cost"], 2) == 1.54
    assert [plans[0][name] for name in ("class", "holder", "wrap", "outer")] == [
        "letter", "semi-rigid holder", None, "C6 envelope"
    ]  # fmt: skip
    document = json.loads((DOCS / "examples/grading-question.json").read_text())
    document["values"]["8"], document["way"]["commission"][0]["share"] = None, "much"
    (tmp_path / "bad.json").write_text(json.dumps(document))
    refused = CliRunner().invoke(main, ["grade-gain", str(tmp_path / "bad.json")])
    assert refused.exit_code == 1 and "way.commission" in refused.output
    parcel = json.loads((DOCS / "examples/parcel.json").read_text())
    parcel["cards"][0]["size"], parcel["outers"][0]["wall"] = ["63", "88"], None
    (tmp_path / "bad.json").write_text(json.dumps(parcel))
    refused = CliRunner().invoke(main, ["pack", str(tmp_path / "bad.json")])
    assert refused.exit_code == 1 and "cards[0].size" in refused.output and "outers[0].wall" in refused.output
