"""How a card is centred: the borders between its edge and its printed frame, measured on a scan or photo (Rule C-27).

The problem: a card lies a little turned, seen a little aslant, on a ground that differs from it; its border is of one
colour and ends at a printed frame. The method: the card is told from the ground by its colour; each side's edge is
found to a part of a pixel where the colour changes most along profiles across it, and a line is fitted robustly to
these points (Huber 1964). The four-sided outline is mapped to the card's size, which takes out turn and slant; then
each frame line is found the same way, seen from the edge inwards, and a border is the mean distance along the middle
60 % of its side.

Uncertainty is 95 %: the scatter of the points about both lines, and a floor for what blur and sampling hide. Where no
card or no printed frame is found, that is said: never a guess.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from tobbix.core.base.errors import InputError

Array = NDArray[np.float64]
Point = tuple[float, float]

CARD = (63.0, 88.0)
_MIDDLE, _STRIPS, _PROFILES = 0.6, 72, 160
_COARSE = 480  # pixels of the longer side in which the card is looked for
_LEAST_AREA, _MOST_BORDER = 0.12, 0.2  # share of the picture; share of the card's width
_CONTRAST = 7.0  # grey levels that an edge or a frame differs by at least
_FLOOR = 0.03  # pixels that no fit takes out
_ASLANT, _TRIMMED = 0.006, 0.4  # share; mm, common practice, no source
_BY_HAND = 0.7  # pixels that a line placed by hand is off by, as a standard error


class NotMeasured(InputError):
    """No card was found, or no printed frame on it."""


@dataclass(frozen=True, slots=True)
class Centering:
    """Shares of the two borders in percent, left and right, top and bottom, with their 95 % (points); the card's turn
    (degrees, clockwise), the corners of the card and of its frame in the picture (pixels, from the upper left on), and
    its size (mm; None: the picture does not say how large a pixel is). ``tilt``: how the print is turned on the card
    (degrees, clockwise), as borders that are not parallel show it."""

    left_right: tuple[float, float]
    top_bottom: tuple[float, float]
    uncertainty: tuple[float, float]
    rotation: float
    corners: tuple[Point, Point, Point, Point]
    frame: tuple[Point, Point, Point, Point]
    size: tuple[float, float] | None
    tilt: float = 0.0

    @property
    def is_aslant(self) -> bool:
        """Whether the picture was taken so much aslant that it does not tell the card's size: opposite sides differ by
        more than six in a thousand."""
        corners = np.array(self.corners)
        sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
        return bool(max(abs(np.log(sides[0] / sides[2])), abs(np.log(sides[1] / sides[3]))) > _ASLANT)


class SizeSays(StrEnum):
    """What a card's measured size says: as its line should be, under it (trimmed?), or that the picture is aslant."""

    RIGHT = "right"
    SHORT = "short"
    ASLANT = "aslant"


def judge_size(found: Centering, size: tuple[float, float]) -> SizeSays | None:
    """The measured size against that of its line (mm); None where the picture does not tell. Rule C-27."""
    if found.size is None:
        return None
    if found.is_aslant:
        return SizeSays.ASLANT
    pairs = zip(sorted(found.size), sorted(size), strict=True)
    return SizeSays.SHORT if any(is_ < should - _TRIMMED for is_, should in pairs) else SizeSays.RIGHT


Segment = tuple[Point, Point]


@dataclass(frozen=True, eq=False)
class _Line:
    """A line as a point and a direction, the standard error of where it lies (pixels), and the share of its points that
    agree."""

    point: Array
    along: Array
    error: float
    share: float


def measure_centering(
    picture: NDArray[np.uint8], dpi: float | None = None, size: tuple[float, float] = CARD
) -> Centering:
    """The centering of the card on a picture (shape (height, width, 3)). Rule C-27.

    ``size`` of the card (mm, as it lies upright). Raises NotMeasured where no card or no printed frame is found.
    """
    pixels = picture.astype(np.float32)
    coarse = _find_card(pixels, size)
    edges = [_find_edge(pixels, coarse, side) for side in range(4)]
    corners = [_meet(edges[side - 1], edges[side]) for side in range(4)]  # from the upper left, as the sides go
    if not _is_card(np.array(corners), size):
        raise NotMeasured.at("card", "no card was found: the outline is not that of one")
    return _measure_frame(pixels, corners, edges, dpi, size)


def _find_card(pixels: NDArray[np.float32], size: tuple[float, float]) -> Array:
    """The rough corners of the card (shape (4, 2)), from the upper left on, clockwise."""
    height, width = pixels.shape[:2]
    scale = min(_COARSE / max(height, width), 1.0)
    small = cv2.resize(pixels, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    small = cv2.medianBlur(cv2.GaussianBlur(small, (0, 0), 1.2).astype(np.uint8), 5).astype(np.float32)
    rim = max(int(0.012 * max(small.shape)), 2)
    edge = np.concatenate([
        small[:rim].reshape(-1, 3), small[-rim:].reshape(-1, 3), small[:, :rim].reshape(-1, 3),
        small[:, -rim:].reshape(-1, 3),
    ])  # fmt: skip
    ground = np.median(edge, axis=0)
    far = np.linalg.norm(small - ground, axis=2)
    own = np.linalg.norm(edge - ground, axis=1)
    usual = float(np.median(own)) + 4 * float(np.median(np.abs(own - np.median(own)))) + 3.0
    for threshold in (max(usual, 0.5 * _otsu(far)), max(usual, 0.25 * _otsu(far)), usual):
        mask = (far > threshold).astype(np.uint8)
        mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
        shapes, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        if not shapes:
            continue
        hull = cv2.convexHull(max(shapes, key=cv2.contourArea))
        area = float(cv2.contourArea(hull))
        if area < _LEAST_AREA * mask.size:
            continue
        corners = _four_corners(hull)
        if corners is None:
            continue
        whole = abs(float(cv2.contourArea(corners.astype(np.float32))))
        if abs(whole - area) > 0.06 * area or not _is_card(corners, size):
            continue
        inside = np.zeros_like(mask)
        cv2.fillConvexPoly(inside, np.round(corners).astype(np.int32), 1)
        if float(mask[inside > 0].mean()) < 0.35 and threshold is not usual:
            continue
        return np.asarray((corners + 0.5) / scale - 0.5, np.float64)
    raise NotMeasured.at("card", "no card was found: nothing with four straight sides stands out from the ground")


def _otsu(values: NDArray[np.float32]) -> float:
    top = float(values.max()) or 1.0
    level, _ = cv2.threshold((values / top * 255).astype(np.uint8), 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    return float(level) / 255 * top


def _four_corners(hull: NDArray[Any]) -> Array | None:
    """The corners of a convex shape that has four sides, from the upper left on, clockwise."""
    around = float(cv2.arcLength(hull, True))
    for share in (0.02, 0.03, 0.045, 0.06):
        found = cv2.approxPolyDP(hull, share * around, True)
        if len(found) == 4:
            return _in_order(found.reshape(4, 2).astype(float))
    return None


def _in_order(corners: Array) -> Array:
    middle = corners.mean(axis=0)
    angles = np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0])
    turned = corners[np.argsort(angles)]  # clockwise in a picture, whose y points down
    first = int(np.argmin(turned.sum(axis=1)))
    return np.roll(turned, -first, axis=0)


def _is_card(corners: Array, size: tuple[float, float]) -> bool:
    """Whether four corners have about the shape of the card, upright or lying."""
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    if sides.min() < 40 * (1 if sides.max() > 200 else 0.2):
        return False
    across, down = (sides[0] + sides[2]) / 2, (sides[1] + sides[3]) / 2
    for one, other in ((0, 2), (1, 3)):
        if not 0.75 < sides[one] / sides[other] < 1.34:
            return False
    shape, wanted = min(across, down) / max(across, down), min(size) / max(size)
    return bool(abs(np.log(shape / wanted)) < 0.16)


def _find_edge(pixels: NDArray[np.float32], corners: Array, side: int) -> _Line:
    """The edge of the card on one side (0 top, 1 right, 2 bottom, 3 left), to a part of a pixel."""
    start, end = corners[side], corners[(side + 1) % 4]
    along = (end - start) / np.linalg.norm(end - start)
    inward = np.array([-along[1], along[0]])
    length = float(np.linalg.norm(end - start))
    reach = max(0.025 * length, 5.0)
    places = np.linspace(0.12, 0.88, _PROFILES) * length
    steps = np.arange(-reach, reach + 0.25, 0.25)
    profiles = _sample(pixels, start, along, inward, places, steps, width=max(length / _PROFILES / 2, 1.0))
    offsets, strengths = _change_of(profiles, steps)
    is_clear = strengths > _CONTRAST
    if is_clear.mean() < 0.5:
        raise NotMeasured.at("card", "no card was found: one of its sides does not stand out from the ground")
    return _fit(start, along, inward, places[is_clear], offsets[is_clear], limit=max(0.006 * length, 1.5))


def _sample(
    pixels: NDArray[np.float32], origin: Array, along: Array, inward: Array, places: Array, steps: Array, width: float
) -> Array:
    """Colours along profiles across a line (shape (places, steps, 3)), each the mean over a ``width`` along it."""
    side = np.linspace(-0.5, 0.5, max(int(round(width)), 1)) * width if width > 1 else np.zeros(1)
    points = (
        origin + (places[:, None, None, None] + side[None, None, :, None]) * along
        + steps[None, :, None, None] * inward
    )  # fmt: skip
    flat = points.reshape(len(places) * len(steps), len(side), 2).astype(np.float32)
    found = np.empty((*flat.shape[:2], 3), np.float32)
    most = 30_000  # rows that remap takes at once
    for first in range(0, len(flat), most):
        part = flat[first : first + most]
        found[first : first + most] = cv2.remap(
            pixels, part[..., 0], part[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        ).reshape(*part.shape[:2], 3)
    return np.asarray(found.mean(axis=1).reshape(len(places), len(steps), 3), np.float64)


def _change_of(profiles: Array, steps: Array) -> tuple[Array, Array]:
    """Where each profile changes from one colour to another (offset along ``steps``), by how many grey levels."""
    third = len(steps) // 3
    before, after = np.median(profiles[:, :third], axis=(0, 1)), np.median(profiles[:, -third:], axis=(0, 1))
    apart = after - before
    size = float(np.linalg.norm(apart))
    if size < _CONTRAST:
        return np.zeros(len(profiles)), np.zeros(len(profiles))
    scalar = profiles @ (apart / size)
    return _steepest(scalar, steps)


def _steepest(scalar: Array, steps: Array) -> tuple[Array, Array]:
    """The steepest rise of each row, by the centre of its slope, and by how much it rises there."""
    pitch = float(steps[1] - steps[0])
    slope = cv2.GaussianBlur(np.gradient(scalar, pitch, axis=1), (0, 0), 0.8 / pitch, sigmaY=0.01)
    at = np.argmax(slope, axis=1)
    reach = int(round(2.5 / pitch))
    around = np.clip(at[:, None] + np.arange(-reach, reach + 1), 0, len(steps) - 1)
    weights = np.maximum(np.take_along_axis(slope, around, axis=1), 0.0)
    top = weights.max(axis=1, keepdims=True)
    weights = np.where(weights > 0.3 * top, weights, 0.0)
    total = weights.sum(axis=1)
    total[total == 0] = 1.0
    offsets = (weights * steps[around]).sum(axis=1) / total
    return offsets, total * pitch


def _fit(origin: Array, along: Array, inward: Array, places: Array, offsets: Array, limit: float) -> _Line:
    """A line through points at ``places`` along and ``offsets`` inward, robust against those that lie off it."""
    weights = np.ones(len(places))
    scale, slope, level = limit, 0.0, float(np.median(offsets))
    for _ in range(12):
        design = np.stack([np.ones(len(places)), places], axis=1) * weights[:, None] ** 0.5
        (level, slope), *_ = np.linalg.lstsq(design, offsets * weights**0.5, rcond=None)
        residuals = offsets - level - slope * places
        scale = min(max(1.4826 * float(np.median(np.abs(residuals))), 0.02), limit)
        weights = np.minimum(1.0, 1.345 * scale / np.maximum(np.abs(residuals), 1e-9))
        weights[np.abs(residuals) > 6 * scale + 0.5] = 0.0
    good = weights > 0.3
    direction = along + slope * inward
    middle = float(places.mean())
    point = origin + middle * along + (level + slope * middle) * inward
    spread = float(np.sqrt((weights * residuals**2).sum() / max(weights.sum(), 1.0)))
    return _Line(
        point, direction / np.linalg.norm(direction), spread / max(good.sum(), 1) ** 0.5 * 1.6, float(good.mean())
    )


def _meet(one: _Line, other: _Line) -> Array:
    """Where two lines cross."""
    matrix = np.stack([one.along, -other.along], axis=1)
    if abs(np.linalg.det(matrix)) < 1e-6:
        raise NotMeasured.at("card", "no card was found: its sides do not meet")
    return np.asarray(one.point + np.linalg.solve(matrix, other.point - one.point)[0] * one.along, float)


def _measure_frame(
    pixels: NDArray[np.float32], corners: Sequence[Array], edges: Sequence[_Line], dpi: float | None,
    size: tuple[float, float],
) -> Centering:  # fmt: skip
    """The borders on the card mapped to its size."""
    found = np.array(corners)
    to_flat, flat, per_mm = _lay_flat(found, size)
    width, height = flat[2]
    margin = 3.0
    shift = np.array([[1, 0, margin], [0, 1, margin], [0, 0, 1]], float)
    board = cv2.warpPerspective(
        pixels, shift @ to_flat, (int(round(width + 2 * margin)), int(round(height + 2 * margin))),
        flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    flat_corners = flat + margin
    frame_lines, borders, errors = [], [], []
    for side in range(4):
        line, border = _find_frame(board, flat_corners, side, per_mm)
        frame_lines.append(line)
        borders.append(border)
        errors.append(float(np.hypot(np.hypot(line.error, edges[side].error), _FLOOR)))
    back = np.linalg.inv(shift @ to_flat)
    frame = np.array([_meet(frame_lines[side - 1], frame_lines[side]) for side in range(4)])
    mapped = cv2.perspectiveTransform(frame[None], back)[0]
    return _sum_up(found, mapped, borders, errors, _turn(frame), dpi)


def _lay_flat(corners: Array, size: tuple[float, float]) -> tuple[Array, Array, float]:
    """The map of the picture to the card seen straight from above, the card's corners there (shape (4, 2), pixels as
    large as in the picture), and how many of these are a mm."""
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    across, down = (sides[0] + sides[2]) / 2, (sides[1] + sides[3]) / 2
    wide, high = (min(size), max(size)) if across <= down else (max(size), min(size))
    per_mm = float(across / wide + down / high) / 2
    width, height = wide * per_mm, high * per_mm
    flat = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    to_flat = cv2.getPerspectiveTransform(corners.astype(np.float32), flat)
    return np.asarray(to_flat, np.float64), flat.astype(np.float64), per_mm


def _turn(corners: Array) -> float:
    """How a four-sided shape is turned (degrees, clockwise): the mean of its sides."""
    ways = np.roll(corners, -1, axis=0) - corners  # along the top, down the right, back along the bottom, up the left
    turns = [np.arctan2(y, x) for x, y in (ways[0], (ways[1][1], -ways[1][0]), -ways[2], (-ways[3][1], ways[3][0]))]
    return float(np.degrees(np.mean(turns)))


def _sum_up(
    corners: Array, frame: Array, borders: Sequence[float], errors: Sequence[float], tilt: float, dpi: float | None
) -> Centering:
    """What the borders (pixels on the flat card: top, right, bottom, left) and their standard errors say."""
    top, right, bottom, left = borders
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    mm = None if dpi is None else 25.4 / dpi
    return Centering(
        _shares(left, right), _shares(top, bottom),
        (_reach(left, right, errors[3], errors[1]), _reach(top, bottom, errors[0], errors[2])),
        _turn(corners), _points(corners), _points(frame),
        None if mm is None else (float((sides[0] + sides[2]) / 2 * mm), float((sides[1] + sides[3]) / 2 * mm)), tilt,
    )  # fmt: skip


def center_by_lines(
    edges: Sequence[Segment], frame: Sequence[Segment], dpi: float | None = None, size: tuple[float, float] = CARD
) -> Centering:
    """The centering by lines that a hand placed: four along the card's edge and four along its printed frame, each
    through two points (pixels), top, right, bottom, left. Rule C-27. Raises NotMeasured where they make no card, or a
    frame line lies outside of it.
    """
    if len(edges) != 4 or len(frame) != 4:
        raise NotMeasured.at("lines", "four lines go along the edge and four along the frame")
    outer, inner = ([_through(line) for line in lines] for lines in (edges, frame))
    corners = np.array([_meet(outer[side - 1], outer[side]) for side in range(4)])
    if not _is_card(corners, size):
        raise NotMeasured.at("card", "the outer lines do not make a card: move them to its edge")
    meets = np.array([_meet(inner[side - 1], inner[side]) for side in range(4)])
    to_flat, flat, _ = _lay_flat(corners, size)
    flat_frame = cv2.perspectiveTransform(meets[None], to_flat)[0]
    borders = []
    for side in range(4):
        start, end = flat[side], flat[(side + 1) % 4]
        along = (end - start) / np.linalg.norm(end - start)
        inward = np.array([-along[1], along[0]])
        line = _through((tuple(flat_frame[side]), tuple(flat_frame[(side + 1) % 4])))
        middle = (start + end) / 2
        borders.append(float((_meet(line, _Line(middle, inward, 0.0, 1.0)) - middle) @ inward))
    if not min(borders) > 0 or not np.isfinite(borders).all():
        raise NotMeasured.at("frame", "a frame line lies outside of the card")
    return _sum_up(corners, meets, borders, [_BY_HAND] * 4, _turn(flat_frame), dpi)


def _through(line: Segment) -> _Line:
    start, end = np.array(line[0], float), np.array(line[1], float)
    length = float(np.linalg.norm(end - start))
    if length < 1:
        raise NotMeasured.at("lines", "a line needs two points")
    return _Line(start, (end - start) / length, _BY_HAND, 1.0)


def flatten(
    picture: NDArray[np.uint8], corners: Sequence[Point], width: int, size: tuple[float, float] = CARD
) -> NDArray[np.uint8]:
    """The card by itself as seen straight from above, upright and so many pixels wide."""
    height = round(width * max(size) / min(size))
    flat = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    found = np.array(corners, np.float32)
    sides = np.linalg.norm(np.roll(found, -1, axis=0) - found, axis=1)
    if sides[0] + sides[2] > sides[1] + sides[3]:  # it lies: its left side becomes the top
        found = np.roll(found, 1, axis=0)
    to_flat = cv2.getPerspectiveTransform(found, flat)
    return np.asarray(cv2.warpPerspective(picture, to_flat, (width, height), flags=cv2.INTER_AREA), np.uint8)


def _points(corners: Array) -> tuple[Point, Point, Point, Point]:
    one, two, three, four = ((float(x), float(y)) for x, y in corners)
    return one, two, three, four


def _shares(one: float, other: float) -> tuple[float, float]:
    both = one + other
    return 100 * one / both, 100 * other / both


def _reach(one: float, other: float, error_one: float, error_other: float) -> float:
    """The 95 % of a share of two borders (points)."""
    both = one + other
    return float(1.96 * 100 * np.hypot(other * error_one, one * error_other) / both**2)


def _find_frame(board: NDArray[Any], corners: Array, side: int, per_mm: float) -> tuple[_Line, float]:
    """The line of the printed frame on one side of the flat card, and how far it is from the edge on average along the
    middle 60 % (pixels)."""
    start, end = corners[side], corners[(side + 1) % 4]
    length = float(np.linalg.norm(end - start))
    along = (end - start) / length
    inward = np.array([-along[1], along[0]])
    shorter = min(float(np.linalg.norm(corners[1] - corners[0])), length * 1.4)
    skip, reach = max(0.45 * per_mm, 2.5), _MOST_BORDER * shorter
    places = (0.5 + np.linspace(-0.5, 0.5, _STRIPS) * _MIDDLE) * length
    pitch = 0.25
    steps = np.arange(skip, reach, pitch)
    profiles = _sample(board, start, along, inward, places, steps, width=length * _MIDDLE / _STRIPS)
    near = profiles[:, : max(int(0.7 * per_mm / pitch), 6)]
    border = np.median(near, axis=(0, 1))
    noise = float(np.median(np.abs(near - border)) * 1.4826)
    far = np.linalg.norm(cv2.GaussianBlur(profiles, (0, 0), 0.5 / pitch, sigmaY=0.01) - border, axis=2)
    level = max(_CONTRAST, 4.5 * noise)
    typical = np.median(far, axis=0)
    beyond = typical > level
    if not beyond.any():
        raise NotMeasured.at("frame", "no printed frame was found: the card has no border that ends")
    first = int(np.argmax(beyond))
    if first < int(0.5 * per_mm / pitch):
        raise NotMeasured.at("frame", "no printed frame was found: the picture goes up to the edge")
    window = max(int(1.2 * per_mm / pitch), int(4 / pitch))
    low, high = max(first - window, 0), min(first + window, len(steps))
    after = np.median(profiles[:, min(first + int(2 / pitch), len(steps) - 1) : high], axis=1)
    apart = after - border
    sizes = np.linalg.norm(apart, axis=1)
    is_clear = sizes > level
    if is_clear.mean() < 0.6:
        raise NotMeasured.at("frame", "no printed frame was found: the border ends nowhere in a line")
    scalar = np.einsum("psc,pc->ps", profiles[:, low:high] - border, apart / np.maximum(sizes, 1e-9)[:, None])
    offsets, rises = _steepest(scalar, steps[low:high])
    is_clear &= rises > 0.6 * level
    if is_clear.mean() < 0.6:
        raise NotMeasured.at("frame", "no printed frame was found: the border ends nowhere in a line")
    line = _fit(start, along, inward, places[is_clear], offsets[is_clear], limit=max(0.15 * per_mm, 1.0))
    if line.share * is_clear.mean() < 0.55:
        raise NotMeasured.at("frame", "no printed frame was found: the border ends nowhere in a line")
    middle = start + 0.5 * length * along
    cross = _meet(line, _Line(middle, inward, 0.0, 1.0))
    return line, float((cross - start) @ inward)
