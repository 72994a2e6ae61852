"""How much light a colour gives back."""

import numpy as np
from numpy.typing import NDArray

# Of the mat's raster.
MM_PER_PX = 1.0


def shares_of(colour: str) -> NDArray[np.float64]:
    """Red, green and blue of a colour such as '#2a2b2d', 0..1."""
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) / 255.0


def as_hex(shares: NDArray[np.floating]) -> str:
    """A colour by its red, green and blue.

    >>> as_hex(shares_of("#2a2b2d"))
    '#2a2b2d'
    """
    return "#" + "".join(f"{round(255 * float(np.clip(part, 0.0, 1.0))):02x}" for part in shares)


def linear_light(colour: str) -> NDArray[np.float32]:
    """Linear reflectance of an sRGB colour such as '#2a2b2d' (IEC 61966-2-1); white is 1.

    >>> linear_light("#ffffff").tolist()
    [1.0, 1.0, 1.0]
    """
    srgb = shares_of(colour)
    low, high = srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4
    return np.where(srgb <= 0.04045, low, high).astype(np.float32)


def srgb(linear: NDArray[np.floating]) -> NDArray[np.floating]:
    """Linear reflectance as sRGB, 0..1 (IEC 61966-2-1); what shines is white.

    >>> srgb(np.array([0.0, 1.0, 2.0])).round(6).tolist()
    [0.0, 1.0, 1.0]
    """
    clipped = np.clip(linear, 0.0, 1.0)
    return np.asarray(np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * np.power(clipped, 1 / 2.4) - 0.055))
