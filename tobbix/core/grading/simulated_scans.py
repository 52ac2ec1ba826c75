"""Scans of cards as a simulation makes them, with borders that are known: turned, aslant, blurred and noisy, dark and
light."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

WIDE, HIGH, _ROOM = 63.0, 88.0, 24.0


@dataclass(frozen=True, eq=False)
class SimulatedScan:
    """The picture, and the truth: left and top as percent of both borders, the turn (degrees), pixels per mm."""

    pixels: NDArray[np.uint8]
    left: float
    top: float
    turn: float
    per_mm: float


def scan_size(longer: int) -> tuple[int, int]:
    """Width and height of a scan of so many pixels on its longer side."""
    return int((WIDE + _ROOM) * longer / (HIGH + _ROOM)), longer


def simulate_scan(
    seed: int, longer: int, frame: bool = True, card: bool = True, off: float | None = None
) -> SimulatedScan:
    """A scan of so many pixels on its longer side: borders of 2 to 5 mm, turned by up to 6 degrees, aslant, a blur of
    up to a pixel, noise of 5 to 10 grey levels. Drawn larger, so that edges fall between pixels. ``off``: instead of
    any borders, two of one width that are off the middle by so many points of their share (standard deviation)."""
    random = np.random.default_rng(seed)
    per_mm = longer / (HIGH + _ROOM)
    (width, height), over = scan_size(longer), 2
    borders = random.uniform(2, 5, 4)  # left, right, top, bottom
    if off is not None:
        shares = np.clip(random.normal(50, off, 2), 20, 80) / 100
        borders = np.array([shares[0], 1 - shares[0], shares[1], 1 - shares[1]]) * 2 * random.uniform(2.6, 4)
    fine = per_mm * over * 1.5
    w, h = round(WIDE * fine), round(HIGH * fine)
    is_light = random.random() < 0.5
    border = random.uniform(190, 245, 3) if is_light else random.uniform(20, 70, 3)
    ground = random.uniform(10, 60, 3) if is_light else random.uniform(180, 245, 3)
    drawn = np.full((h, w, 3), border, np.float32)
    x0, x1 = borders[0] / WIDE * w, w - borders[1] / WIDE * w
    y0, y1 = borders[2] / HIGH * h, h - borders[3] / HIGH * h
    if frame:
        inner = random.uniform(20, 120, 3) if is_light else random.uniform(120, 230, 3)
        x, y = np.arange(w, dtype=np.float32), np.arange(h, dtype=np.float32)[:, None]
        along, down = (np.float32(random.uniform(3, 20)) for _ in range(2))
        waves = 20 * np.sin(x / w * along + y / h * down)
        covered = _within(x, x0, x1) * _within(y, y0, y1)
        for band in range(3):
            drawn[..., band] += covered * (waves + np.float32(inner[band] - border[band]))
    turn = random.uniform(-6, 6)
    cos, sin = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    middle = np.array([width, height]) / 2 + random.uniform(-2, 2, 2) * per_mm
    square = np.array([[-WIDE, -HIGH], [WIDE, -HIGH], [WIDE, HIGH], [-WIDE, HIGH]]) / 2 * per_mm
    corners = square @ np.array([[cos, sin], [-sin, cos]]) + middle
    corners += random.uniform(-1, 1, (4, 2)) * 0.008 * longer
    source = np.array([[0, 0], [w, 0], [w, h], [0, h]], np.float32) - 0.5
    lay = cv2.getPerspectiveTransform(source, ((corners + 0.5) * over - 0.5).astype(np.float32))
    large = (width * over, height * over)
    picture = np.full((height * over, width * over, 3), ground, np.float32)
    if card:
        laid = cv2.warpPerspective(drawn, lay, large, flags=cv2.INTER_AREA)
        where = cv2.warpPerspective(np.ones((h, w), np.float32), lay, large, flags=cv2.INTER_LINEAR)
        picture += cv2.merge([where] * 3) * (laid - picture)
    small = cv2.resize(picture, (width, height), interpolation=cv2.INTER_AREA)
    small = cv2.GaussianBlur(small, (0, 0), random.uniform(0.3, 1.0))
    small += np.asarray(random.normal(0, random.uniform(5, 10), small.shape), np.float32)
    left, top = 100 * borders[0] / (borders[0] + borders[1]), 100 * borders[2] / (borders[2] + borders[3])
    return SimulatedScan(np.clip(small, 0, 255).astype(np.uint8), left, top, turn, per_mm)


def _within(at: NDArray[np.float32], first: float, last: float) -> NDArray[np.float32]:
    """Which share of each pixel lies between two borders."""
    covered: NDArray[np.float32] = np.clip(at + 1 - np.float32(first), 0, 1) * np.clip(np.float32(last) - at, 0, 1)
    return covered
