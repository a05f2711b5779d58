"""The small picture that a project file carries of itself, made to fit: file managers ask for many, so no board is made."""

from __future__ import annotations

import io

from PIL import Image

from ..errors import Trouble

_LARGEST_THUMBNAIL = 4096


def fitted_png(data: bytes, size: int) -> bytes:
    """A picture from a file, made to fit a square of `size` pixels, as PNG; never enlarged."""
    try:
        with Image.open(io.BytesIO(data), formats=("PNG",)) as picture:
            if max(picture.size) > _LARGEST_THUMBNAIL:
                raise Trouble("The picture that the project carries of itself is too large; save it again.")
            small = picture.convert("RGB")
            small.thumbnail((size, size))
    except (OSError, ValueError, SyntaxError) as error:
        raise Trouble("The picture that the project carries of itself is damaged; save it again.") from error
    out = io.BytesIO()
    small.save(out, "PNG", compress_level=6)
    return out.getvalue()
