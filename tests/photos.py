"""Photos of a panel that was never there: half levelled, under three lamps, from a camera that stands askew."""

import functools
import tempfile
from pathlib import Path

import numpy as np
from PIL import Image

from ravden.core.surface.align import homography
from ravden.core.surface.rake import scratches
from ravden.core.surface.trial import Hold, Setup, Sheet, Trial
from tests.core.test_levelling import BACKS

SIZE_MM = (90.0, 90.0)
CORNERS = ((118.0, 96.0), (742.0, 132.0), (718.0, 731.0), (92.0, 706.0))
WIDE, HIGH = 860, 820
LAMPS = {"low": (20.0, 12.0), "low-other": (115.0, 12.0)}


@functools.cache
def panel(touched=0.85, seed=3, cells=360):
    """A trial rubbed until so much of it is dull, and wiped; to be looked at only, since all have the same one."""
    sheets = (Sheet(label="P800", grain_um=21.8, kappa=0.191),)
    trial = Trial(
        Setup(sheets=sheets, backings=BACKS, base=(0.2, 0.085, 0.028), cells=cells, film_sd_um=0.0, seed=seed)
    )
    while trial.told().touched < touched:
        trial.round(Hold(stands_for=4))
    trial.wipe()
    return trial


def lit(trial, lamp):
    """The panel's light under a lamp (cells, cells, 3), linear."""
    if lamp in LAMPS:
        return np.asarray(trial.seen(*LAMPS[lamp]), dtype=float)
    dull = trial.dull()[..., None]
    lines = scratches(dull.shape[:2], trial.work.dx_mm, 15.0, 5)[..., None]
    dull = dull * (1 + 0.12 * lines)
    return 0.55 * np.array(trial.setup.base) + dull * 0.16 + (1 - dull) * 0.42 * np.array([1.0, 0.98, 0.95])


def photo(trial, lamp, path, *, moved=(0.0, 0.0), exposure=1.0, seed=0, quality=92, exif=None, scale=1.0):
    """Write a photo; returns the share of the panel that is shiny."""
    from scipy.ndimage import map_coordinates

    light = lit(trial, lamp) * exposure
    corners = tuple((scale * (x + moved[0]), scale * (y + moved[1])) for x, y in CORNERS)
    back = np.linalg.inv(homography(SIZE_MM, corners))
    cols, rows = np.meshgrid(np.arange(round(WIDE * scale)), np.arange(round(HIGH * scale)))
    x, y, w = back @ np.stack([cols.ravel(), rows.ravel(), np.ones(cols.size)])
    at = np.stack([y / w, x / w]) / trial.work.dx_mm - 0.5
    noise = np.random.default_rng(seed)
    out = np.stack([map_coordinates(light[..., i], at, order=1, cval=0.05, mode="constant") for i in range(3)], axis=-1)
    out = out.reshape(*cols.shape, 3) * (1 + 0.02 * noise.standard_normal((*cols.shape, 1)))
    out = np.clip(out, 0, 1)
    shown = np.where(out <= 0.0031308, 12.92 * out, 1.055 * out ** (1 / 2.4) - 0.055)
    image = Image.fromarray((255 * shown + 0.5).astype(np.uint8))
    if exif is not None:
        image.save(path, quality=quality, exif=exif)
    elif str(path).endswith(".png"):
        image.save(path)
    else:
        image.save(path, quality=quality)
    return 1 - trial.told().touched


@functools.cache
def _shots(touched):
    """The three photos as they are on the card."""
    with tempfile.TemporaryDirectory() as folder:
        out = {}
        for i, lamp in enumerate(("low", "low-other", "broad")):
            path = Path(folder) / "shot.jpg"
            photo(panel(touched), lamp, path, seed=i, moved=(1.5 * i, -1.0 * i))
            out[lamp] = path.read_bytes()
        return out


def three(folder, touched=0.85):
    """Three shots of one panel in a folder: their paths by lamp."""
    out = {lamp: folder / f"{lamp}.jpg" for lamp in _shots(touched)}
    for lamp, path in out.items():
        path.write_bytes(_shots(touched)[lamp])
    return out
