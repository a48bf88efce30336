"""From light to what the camera records: exposure, noise, curve, bits and colour samples."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .scene import Array

#: Light on a flat receptor for a normal exposure, lux seconds. Source: ISO 2720:1974.
CALIBRATION_LUX_S = 250.0
#: Photons on a square micron of sensor by a lux second of daylight (judgement: 4,100 at 555 nm,
#: more over the whole band), the part that is turned into charge, and that the colour filter lets
#: pass, and the noise of reading one photosite, electrons.
PHOTONS, TURNED, PASSED, READ_NOISE = 11_000.0, 0.5, 0.5, 3.0
#: A grey card is this part of full scale, 10 / ISO lux seconds on the sensor (ISO 12232).
GREY = 0.18
#: Brightness above which a camera rolls off instead of clipping at once (judgement).
KNEE = 0.8
#: Y', Cb and Cr of R'G'B'. Source: ITU-R BT.709.
TO_YCC = np.array([[0.2126, 0.7152, 0.0722], [-0.1146, -0.3854, 0.5], [0.5, -0.4542, -0.0458]])
FROM_YCC = np.linalg.inv(TO_YCC)


@dataclass(frozen=True)
class Film:
    """How a picture is recorded. `stop`: what passes light, glass, bellows and filters included;
    `site_um`: the side of a photosite, micrometres; `across_px`: photosites across what is used of
    the sensor."""

    stop: float
    exposure_s: float
    iso: float
    site_um: float
    across_px: float
    bits: int = 10
    samples: str = "4:2:2"
    noise: bool = True

    @property
    def normal_lux(self) -> float:
        """Light on the scene for a normal exposure, C N^2 / (t ISO). Source: ISO 2720."""
        return CALIBRATION_LUX_S * self.stop**2 / (self.exposure_s * self.iso)


def linear(light: NDArray[np.float32], film: Film) -> Array:
    """Radiance (h, w, 3), lux per steradian, as a part of full scale: 1 is a white surface in
    normal light."""
    found: Array = np.asarray(light, dtype=np.float64) * np.pi / film.normal_lux
    return found


def recorded(light: NDArray[np.float32], film: Film, seed: int = 0) -> NDArray[np.float32]:
    """Radiance (h, w, 3) as it is recorded, 0..1 with the curve of ITU-R BT.709."""
    exposed = linear(light, film)
    if film.noise:
        exposed = noisy(exposed, film, seed)
    return coded(curved(exposed), film)


def noisy(exposed: Array, film: Film, seed: int) -> Array:
    """The same with the noise of counting photons, and of reading the photosites that a pixel of
    this picture is made of."""
    dice = np.random.default_rng(seed)
    # 18 % of full scale is 10 / ISO lux seconds.
    per_full = 10.0 / GREY / film.iso
    sites = (film.across_px / exposed.shape[1]) ** 2
    per_unit = per_full * PHOTONS * TURNED * PASSED * film.site_um**2 * sites
    charge = np.clip(exposed, 0.0, 50.0) * per_unit
    counted = dice.poisson(charge) + dice.normal(0.0, READ_NOISE * np.sqrt(sites), charge.shape)
    found: Array = counted / per_unit
    return found


def curved(exposed: Array) -> Array:
    """Full scale 0..1 with the curve of ITU-R BT.709; what is brighter rolls off."""
    x = np.clip(exposed, 0.0, None)
    over = KNEE + (1.0 - KNEE) * (1.0 - np.exp(-(x - KNEE) / (1.0 - KNEE) / 2.0))
    x = np.where(x < KNEE, x, over)
    found: Array = np.where(x < 0.018, 4.5 * x, 1.099 * np.power(np.maximum(x, 1e-9), 0.45) - 0.099)
    return found


def coded(picture: Array, film: Film) -> NDArray[np.float32]:
    """A picture 0..1 (h, w, 3) in the recording's bits and colour samples, and back."""
    ycc = np.clip(picture, 0.0, 1.0) @ TO_YCC.T
    step = 2.0 ** (film.bits - 8)
    luma = np.round(ycc[..., :1] * 219.0 * step) / (219.0 * step)
    colour = ycc[..., 1:]
    tall, wide = colour.shape[:2]
    across = 1 if film.samples == "4:4:4" else 2
    down = 2 if film.samples == "4:2:0" else 1
    if across * down > 1:
        padded = np.pad(colour, ((0, -tall % down), (0, -wide % across), (0, 0)), mode="edge")
        rows, columns = padded.shape[0] // down, padded.shape[1] // across
        colour = padded.reshape(rows, down, columns, across, 2).mean(axis=(1, 3))
    colour = np.round(colour * 224.0 * step) / (224.0 * step)
    if across * down > 1:
        colour = np.repeat(np.repeat(colour, down, axis=0), across, axis=1)[:tall, :wide]
    found = np.concatenate([luma, colour], axis=-1) @ FROM_YCC.T
    whole: NDArray[np.float32] = np.clip(found, 0.0, 1.0).astype(np.float32)
    return whole
