"""Photos of things: JPEG, PNG and WebP files, without what they say of the camera, the place and the time.

What is kept are the pixels as they were taken, since cards are measured on them. A picture that lies on its side (Exif
orientation) is turned, which loses nothing in PNG. The resolution is read before the rest goes: it gives the size of a
card from a scanner.
"""

import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from io import BytesIO, RawIOBase
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from tobbix.core.base.errors import InputError

MOST_PICTURE_BYTES = 24 * 1024 * 1024
MOST_PIXELS = 60_000_000
THUMBNAIL = 320  # pixels of its longer side
_MEDIA = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
_ORIENTATION = 0x0112


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture to keep: its file without metadata, sizes in pixels, ``dpi`` dots an inch (None: not said), and a
    small one of it (JPEG)."""

    content: bytes
    media: str
    width: int
    height: int
    dpi: Decimal | None
    thumbnail: bytes


def read_picture(content: bytes) -> Picture:
    """A picture from a file. Raises InputError for what is none, is damaged, or is too large."""
    if len(content) > MOST_PICTURE_BYTES:
        raise InputError.at("file", f"is larger than {MOST_PICTURE_BYTES // 1024**2} MB")
    try:
        with Image.open(BytesIO(content), formats=list(_MEDIA)) as found:
            if found.width * found.height > MOST_PIXELS:
                raise InputError.at("file", f"has more than {MOST_PIXELS // 1_000_000} million pixels")
            kind, dpi = str(found.format), _dpi(found)
            found.load()
            is_turned = found.getexif().get(_ORIENTATION, 1) != 1
            upright = ImageOps.exif_transpose(found) if is_turned else found
            kept, kind = (_plain(upright), "PNG") if is_turned or kind != "JPEG" else (_strip_jpeg(content), kind)
            small = upright.convert("RGB")
            small.thumbnail((THUMBNAIL, THUMBNAIL))
            return Picture(kept, _MEDIA[kind], upright.width, upright.height, dpi, _saved(small, "JPEG", quality=82))
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise InputError.at("file", "is no picture that can be read (JPEG, PNG or WebP)") from error


MOST_SIDE = 1_600  # pixels of the longer side of a picture that goes to a market: common practice, no source


def shrink(content: bytes) -> bytes:
    """A kept picture as a JPEG file that is small enough to be sent."""
    with Image.open(BytesIO(content), formats=list(_MEDIA)) as found:
        found.draft("RGB", (MOST_SIDE, MOST_SIDE))  # of a JPEG file no more is decoded than is wanted
        small = found.convert("RGB")
        small.thumbnail((MOST_SIDE, MOST_SIDE))
        return _saved(small, "JPEG", quality=88)


class _Passing(RawIOBase):
    """A file that is only written to, and taken away part by part."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, part: Any) -> int:
        self._parts.append(bytes(part))
        return len(part)

    def take(self) -> bytes:
        taken, self._parts = b"".join(self._parts), []
        return taken


def stream_zip(files: Iterable[tuple[str, bytes]]) -> Iterator[bytes]:
    """Files with their names as one ZIP, part by part as they come; pictures are packed already, so that they are
    stored."""
    out = _Passing()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for name, content in files:
            archive.writestr(name, content)
            yield out.take()
    yield out.take()


def _dpi(picture: Image.Image) -> Decimal | None:
    """The resolution that a file says, if it says the same both ways."""
    said = picture.info.get("dpi")
    if not said or abs(float(said[0]) - float(said[1])) > 0.5 or not 20 <= float(said[0]) <= 10_000:
        return None
    return round(Decimal(repr(float(said[0]))), 3)


def _plain(picture: Image.Image) -> bytes:
    """A picture as PNG, its pixels alone."""
    mode = picture.mode if picture.mode in ("L", "RGB", "RGBA") else "RGB"
    bare = Image.new(mode, picture.size)
    bare.paste(picture.convert(mode))
    return _saved(bare, "PNG")


def _saved(picture: Image.Image, kind: str, **options: int) -> bytes:
    out = BytesIO()
    picture.save(out, kind, **options)
    return out.getvalue()


def _strip_jpeg(content: bytes) -> bytes:
    """A JPEG file without its application and comment segments, but for the one that says how colours are meant; what
    its pixels are is not touched. Raises ValueError for a damaged one.

    Source: ITU-T T.81 (1992), annex B: markers, and segments with their two bytes of length.
    """
    out, place = bytearray(content[:2]), 2
    if out != b"\xff\xd8":
        raise ValueError("no start of image")
    while True:
        if place + 4 > len(content) or content[place] != 0xFF:
            raise ValueError("a segment is damaged")
        marker = content[place + 1]
        if marker == 0xFF:  # a byte of filling
            place += 1
            continue
        length = int.from_bytes(content[place + 2 : place + 4])
        if length < 2 or place + 2 + length > len(content):
            raise ValueError("a segment is damaged")
        is_said = 0xE0 <= marker <= 0xEF or marker == 0xFE
        if not is_said or (marker == 0xEE and content[place + 4 : place + 9] == b"Adobe"):
            out += content[place : place + 2 + length]
        place += 2 + length
        if marker == 0xDA:  # the scan; further scans of a progressive picture follow with their tables
            break
    # What follows the end of the image (a film, a second picture) is said of it, not part of it.
    end = content.find(b"\xff\xd9", place)
    if end < 0:
        raise ValueError("no end of image")
    return bytes(out + content[place : end + 2])


def write_jpeg(pixels: NDArray[np.uint8], dpi: float | None = None) -> bytes:
    """Pixels (shape (height, width, 3)) as a JPEG, with the resolution if one is said."""
    out = BytesIO()
    said = {} if dpi is None else {"dpi": (dpi, dpi)}
    Image.fromarray(pixels).save(out, "JPEG", quality=90, **said)
    return out.getvalue()


@dataclass(frozen=True, eq=False)
class Scan:
    """The pixels of a picture as it was taken (shape (height, width, 3)), and its ``dpi`` (None: not said)."""

    pixels: NDArray[np.uint8]
    dpi: float | None


def read_scan(content: bytes) -> Scan:
    """The pixels of a picture, to be measured. Raises InputError for what is none, is damaged, or is too large."""
    found = read_picture(content)
    with Image.open(BytesIO(found.content)) as picture:
        pixels = np.asarray(picture.convert("RGB"), np.uint8)
    return Scan(pixels, None if found.dpi is None else float(found.dpi))
