"""Centering on simulated scans whose borders are known; what is no card, or has no frame, is never guessed (C-27)."""

import json
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from PIL import Image

from tobbix.cli import main
from tobbix.core.grading.centering import Centering, NotMeasured, measure_centering
from tobbix.core.grading.simulated_scans import simulate_scan


@pytest.mark.parametrize(("longer", "scans", "most"), [(520, 48, 1.0), (1_200, 10, 0.5), (2_400, 2, 0.5)])
def test_borders_are_measured_to_a_point_with_honest_intervals(longer: int, scans: int, most: float) -> None:
    errors, inside = [], []
    for seed in range(scans):
        scan = simulate_scan(seed, longer)
        found = measure_centering(scan.pixels, scan.per_mm * 25.4)
        assert found.rotation == pytest.approx(scan.turn, abs=1.5)  # aslant by as much
        assert found.size is not None and found.size[0] == pytest.approx(63, abs=1.5)
        for got, true, reach in (
            (found.left_right[0], scan.left, found.uncertainty[0]),
            (found.top_bottom[0], scan.top, found.uncertainty[1]),
        ):  # fmt: skip
            errors.append(abs(got - true))
            inside.append(abs(got - true) <= reach)
    assert np.quantile(errors, 0.95) <= most
    assert np.mean(inside) >= 0.9


def test_what_is_no_card_or_has_no_frame_is_said_and_not_guessed() -> None:
    for seed in range(25):
        with pytest.raises(NotMeasured) as bare:
            measure_centering(simulate_scan(seed, 520, frame=False).pixels)
        assert bare.value.faults[0].field == "frame"
        with pytest.raises(NotMeasured) as empty:
            measure_centering(simulate_scan(seed, 520, card=False).pixels)
        assert empty.value.faults[0].field == "card"
    round_thing = np.full((500, 400, 3), 240, np.uint8)
    y, x = np.mgrid[0:500, 0:400]
    round_thing[(x - 200) ** 2 + (y - 250) ** 2 < 150**2] = 40
    with pytest.raises(NotMeasured, match="no card"):
        measure_centering(round_thing)
    picture = simulate_scan(3, 520, frame=False).pixels.copy()
    random = np.random.default_rng(1)
    inside = np.abs(picture.astype(int) - np.median(picture[:8], axis=(0, 1))).sum(axis=2) > 90
    picture[inside] = random.integers(0, 255, (int(inside.sum()), 3))  # a picture up to the edge
    with pytest.raises(NotMeasured):
        measure_centering(picture)


def test_a_quarter_turn_turns_the_answer() -> None:
    scan = simulate_scan(7, 900)
    straight, lying = measure_centering(scan.pixels), measure_centering(np.rot90(scan.pixels).copy())

    def shares(found: Centering) -> tuple[float, float]:
        return found.left_right[0], found.top_bottom[0]

    left, top = shares(straight)
    assert shares(lying) == pytest.approx((top, 100 - left), abs=0.15)  # turned to the left, what was right is on top


def test_the_command_tells_what_was_measured_or_what_was_not_found(tmp_path: Path) -> None:
    scan, path = simulate_scan(11, 900), tmp_path / "scan.png"
    out = BytesIO()
    Image.fromarray(scan.pixels).save(out, "PNG", dpi=(scan.per_mm * 25.4,) * 2)
    path.write_bytes(out.getvalue())
    told = CliRunner().invoke(main, ["centering", str(path), "--json"])
    assert told.exit_code == 0, told.output
    found = json.loads(told.output)
    assert found["left_right"][0] == pytest.approx(scan.left, abs=0.5) and sum(found["top_bottom"]) == pytest.approx(
        100
    )
    assert set(found) == {"left_right", "top_bottom", "uncertainty", "rotation", "corners", "frame", "size"}
    assert len(found["corners"]) == len(found["frame"]) == 4 and found["size"][1] == pytest.approx(88, abs=2)
    Image.fromarray(simulate_scan(11, 600, frame=False).pixels).save(path)
    refused = CliRunner().invoke(main, ["centering", str(path)])
    assert refused.exit_code == 1 and "no printed frame" in refused.output
    assert CliRunner().invoke(main, ["centering", str(path), "--size", "big"]).exit_code == 1
    path.write_bytes(b"no picture")
    assert "no picture" in CliRunner().invoke(main, ["centering", str(path)]).output
