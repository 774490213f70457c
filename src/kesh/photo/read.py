"""Opening a picture that may be anything: turned by its EXIF, checked before it is unpacked, refused in one sentence."""

import io
import struct
import warnings
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image as Pictures
from PIL import ImageOps, UnidentifiedImageError

from kesh.photo.classes import Image
from kesh.photo.error import PhotoError as PhotoError

KINDS = {"PNG", "JPEG", "MPO", "WEBP", "TIFF"}
# focal length, for a picture 36 mm wide, up to which a lens is told of
WIDE_MM, WIDE_WORDS = 22.0, "very wide lens"
MOST_SIDE_PX, MOST_PX, LEAST_PX = 30_000, 120_000_000, 64


@dataclass(frozen=True)
class Photo:
    """A picture as BGR rows, upright, and what was done to make it so."""

    image: Image
    notes: tuple[str, ...] = ()

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, px."""
        return int(self.image.shape[1]), int(self.image.shape[0])


def read_photo(path: Path) -> Photo:
    """Read PNG, JPEG, WebP or TIFF; CMYK, 16 bit, grey and transparent ones become plain colour.

    Raises PhotoError for what is no picture, is damaged, cut short, moving, too large or too small.
    """
    try:
        return decode_photo(path.read_bytes(), path.name)
    except FileNotFoundError as err:
        raise PhotoError(f"{path.name}: there is no such file") from err
    except OSError as err:
        raise PhotoError(f"{path.name} cannot be read: {err.strerror or err}") from err


def decode_photo(body: bytes, name: str) -> Photo:
    """As `read_photo`, for the bytes of a picture's file that was called `name`. Raises PhotoError."""
    if not body:
        raise PhotoError(f"{name} is empty; take or copy the picture again")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Pictures.open(io.BytesIO(body)) as opened:
                return _read(opened, name)
    except UnidentifiedImageError as err:
        raise PhotoError(f"{name} is no PNG, JPEG, WebP or TIFF picture, whatever its name says") from err
    except Pictures.DecompressionBombError as err:
        raise PhotoError(f"{name} unpacks to more than {MOST_PX / 1e6:.0f} megapixels; make it smaller first") from err
    except (OSError, SyntaxError, ValueError, EOFError) as err:
        raise PhotoError(f"{name} is damaged or cut short: {str(err)[:80]}; copy it again") from err


def _read(opened: Pictures.Image, name: str) -> Photo:
    if opened.format not in KINDS:
        raise PhotoError(f"{name} is a {opened.format} picture; save it as PNG, JPEG, WebP or TIFF")
    wide, high = opened.size
    if max(wide, high) > MOST_SIDE_PX or wide * high > MOST_PX:
        raise PhotoError(
            f"{name} is {wide} × {high} px, more than {MOST_SIDE_PX} a side or {MOST_PX / 1e6:.0f} megapixels; make it smaller first"
        )
    if min(wide, high) < LEAST_PX:
        raise PhotoError(f"{name} is only {wide} × {high} px; nothing can be measured in it")
    notes = []
    frames = getattr(opened, "n_frames", 1)
    if frames > 1 and opened.format in ("WEBP", "PNG"):
        raise PhotoError(f"{name} moves: it holds {frames} pictures; save the one you want as a still")
    if frames > 1:
        notes.append(f"the first of {frames} pictures is taken")
    opened.load()
    turned = ImageOps.exif_transpose(opened)
    if turned.size != opened.size or opened.getexif().get(0x0112, 1) != 1:
        notes.append("turned upright as its EXIF says")
    wide_mm = _focal_mm(opened)
    if 0 < wide_mm <= WIDE_MM:
        notes.append(
            f"taken with a {WIDE_WORDS} ({wide_mm:g} mm): straight lines may bow; a card beside the tree lets them be straightened"
        )
    mode = turned.mode
    if mode in ("I", "I;16", "I;16B", "I;16L", "F"):
        values = np.asarray(turned, np.float64)
        top = 65535.0 if mode.startswith("I") else max(float(values.max()), 1e-9)
        turned = Pictures.fromarray(np.clip(values / top * 255, 0, 255).astype(np.uint8), "L")
        notes.append("16 bit brought to 8 bit")
    elif mode == "CMYK":
        notes.append("CMYK brought to RGB; its colours are approximate")
    if "A" in turned.getbands() or "transparency" in turned.info:
        flat = Pictures.new("RGBA", turned.size, (255, 255, 255, 255))
        flat.alpha_composite(turned.convert("RGBA"))
        turned = flat
        notes.append("transparent parts are white")
    rgb = np.asarray(turned.convert("RGB"))
    return Photo(np.ascontiguousarray(rgb[:, :, ::-1]), tuple(notes))


def _focal_mm(opened: Pictures.Image) -> float:
    """The focal length of a like camera 36 mm wide as the EXIF says, 0 where it says nothing of use."""
    try:
        return float(opened.getexif().get_ifd(0x8769).get(0xA405, 0))
    except (TypeError, ValueError, KeyError, SyntaxError, OSError, ArithmeticError, struct.error):
        # EXIF is written by anybody; a picture is not refused for it
        return 0.0
