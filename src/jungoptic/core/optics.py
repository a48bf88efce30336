"""Lens and depth of field, exact at close focus.

Distances are object distances from the front principal plane unless a name says
`sensor_distance`; where a `pupil_ratio` other than 1 is given they are told from the entrance
pupil, from which perspective is seen (for a thin lens that is the same place). Sources: the
thin-lens equation (any optics text; e.g. Hecht, Optics, ch. 5), Ray, Applied Photographic Optics
(from memory) for pupils and the effective f-number, and Born & Wolf, Principles of Optics, section
8.5, for the Airy disc.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from . import thin_lens
from .checks_on_input import not_negative, positive
from .impossible import Impossible
from .thin_lens import MID_VISIBLE_NM


@dataclass(frozen=True)
class DepthOfField:
    """Nearest and farthest object distance that look sharp, in metres; `far_m` may be inf."""

    near_m: float
    far_m: float

    def covers(self, near_m: float, far_m: float) -> bool:
        """Whether everything from `near_m` to `far_m` lies inside."""
        slack = 1e-9
        return self.near_m <= near_m * (1 + slack) and self.far_m >= far_m * (1 - slack)


@dataclass(frozen=True)
class FocusPass:
    """One focus distance of a split-focus plate and the depth it keeps sharp, all in metres."""

    focus_m: float
    near_m: float
    far_m: float


def _beyond_focal(focal_mm: float, object_distance_m: float, pupil_ratio: float = 1.0) -> float:
    """Object distance in mm, refused when it is inside the focal length."""
    positive("focal length", focal_mm)
    positive("pupil ratio", pupil_ratio)
    if not object_distance_m > 0:
        raise Impossible(
            f"object distance must be above zero, not {object_distance_m!r}.", "object_distance_m"
        )
    u_mm = object_distance_m * 1000.0
    if u_mm <= focal_mm / pupil_ratio:
        raise Impossible(
            f"an object {u_mm:.4g} mm from a {focal_mm:.4g} mm lens is inside its focal length: "
            "no image can form. Move it away or use a shorter lens.",
            "object_distance_m",
        )
    return u_mm


def angle_of_view_deg(
    extent_mm: float, focal_mm: float, magnification: float = 0.0, pupil_ratio: float = 1.0
) -> float:
    """Full angle that a sensor side of `extent_mm` sees, in degrees (0..180).

    `magnification` is image over object size (0 at infinity); focusing close moves a thin lens
    out and narrows the view. Raises Impossible for a side, focal length or pupil ratio that is not
    positive.
    """
    positive("sensor side", extent_mm)
    positive("focal length", focal_mm)
    not_negative("magnification", magnification)
    positive("pupil ratio", pupil_ratio)
    pinhole = thin_lens.pinhole(focal_mm, magnification, pupil_ratio)
    return 2.0 * math.degrees(math.atan(extent_mm / (2.0 * pinhole)))


def magnification(focal_mm: float, object_distance_m: float, pupil_ratio: float = 1.0) -> float:
    """Image size over object size, m = f / (u - f / P). Infinity gives 0."""
    u_mm = _beyond_focal(focal_mm, object_distance_m, pupil_ratio)
    return thin_lens.magnification(focal_mm, u_mm, pupil_ratio)


def object_distance_m(focal_mm: float, sensor_distance_m: float) -> float:
    """Object distance from the principal plane for a tape measured to the sensor mark.

    Thin lens: u = (D + sqrt(D^2 - 4 f D)) / 2, the larger root (the usual, reducing set-up).
    Raises Impossible when D < 4 f, where a thin lens cannot form an image at all.
    """
    positive("focal length", focal_mm)
    if sensor_distance_m == math.inf:
        return math.inf
    d_mm = positive("distance to the sensor mark", sensor_distance_m) * 1000.0
    square = d_mm * d_mm - 4.0 * focal_mm * d_mm
    if square < 0.0:
        raise Impossible(
            f"{d_mm:.4g} mm from the sensor mark is nearer than four focal lengths "
            f"({4 * focal_mm:.4g} mm): this lens cannot focus there."
        )
    return (d_mm + math.sqrt(square)) / 2.0 / 1000.0


def sensor_distance_m(focal_mm: float, object_distance_m: float) -> float:
    """Tape distance from the sensor mark, D = u + v, for an object distance u. Inverse of
    `object_distance_m`; infinity gives infinity."""
    u_mm = _beyond_focal(focal_mm, object_distance_m)
    if math.isinf(u_mm):
        return math.inf
    return (u_mm + focal_mm * u_mm / (u_mm - focal_mm)) / 1000.0


def effective_f_number(f_number: float, magnification: float, pupil_ratio: float = 1.0) -> float:
    """Working f-number N (1 + m / P) of a lens focused at magnification m with pupil ratio P.

    Raises Impossible unless f-number and pupil ratio are above zero and magnification is zero
    or more.
    """
    positive("f-number", f_number)
    not_negative("magnification", magnification)
    positive("pupil ratio", pupil_ratio)
    return thin_lens.working_stop(f_number, magnification, pupil_ratio)


def hyperfocal_m(focal_mm: float, f_number: float, coc_mm: float) -> float:
    """Hyperfocal distance f^2 / (N c) + f, in metres.

    Raises Impossible unless focal length, f-number and circle of confusion are above zero.
    """
    positive("focal length", focal_mm)
    positive("f-number", f_number)
    positive("circle of confusion", coc_mm)
    return (focal_mm * focal_mm / (f_number * coc_mm) + focal_mm) / 1000.0


def depth_of_field(
    focal_mm: float,
    f_number: float,
    object_distance_m: float,
    coc_mm: float,
    pupil_ratio: float = 1.0,
) -> DepthOfField:
    """Where the blur disc of a lens is exactly `coc_mm` at the sensor, before and behind.

    1/near and 1/far = 1/u +- c N (u - f / P) / (f^2 u); `far_m` is inf past the hyperfocal
    distance. Exact at close focus, not the far-field approximation.

    Raises Impossible unless f-number and disc are above zero and the focus lies beyond the
    focal length.
    """
    u_mm = _beyond_focal(focal_mm, object_distance_m, pupil_ratio)
    positive("f-number", f_number)
    positive("circle of confusion", coc_mm)
    spread = coc_mm * f_number / (focal_mm * focal_mm)
    if math.isinf(u_mm):
        return DepthOfField(near_m=1.0 / spread / 1000.0, far_m=math.inf)
    half = spread * (u_mm - focal_mm / pupil_ratio) / u_mm
    near = 1.0 / (1.0 / u_mm + half)
    far_dioptre = 1.0 / u_mm - half
    far = 1.0 / far_dioptre if far_dioptre > 1e-15 else math.inf
    return DepthOfField(near_m=near / 1000.0, far_m=far / 1000.0)


def blur_disc_mm(
    focal_mm: float,
    f_number: float,
    focus_m: float,
    object_distance_m: float,
    pupil_ratio: float = 1.0,
) -> float:
    """Diameter at the sensor of the defocus disc of a point at `object_distance_m`.

    (f^2 / N) |x - u| / (x (u - f / P)) with focus u and point x; both may be infinite.

    Raises Impossible unless f-number and distance are above zero and the focus lies beyond the
    focal length.
    """
    u_mm = _beyond_focal(focal_mm, focus_m, pupil_ratio)
    positive("f-number", f_number)
    x_mm = object_distance_m * 1000.0
    if not x_mm > 0:
        raise Impossible(
            f"object distance must be above zero, not {object_distance_m!r}.", "object_distance_m"
        )
    return thin_lens.blur_disc(focal_mm, f_number, u_mm, x_mm, pupil_ratio)


def airy_disc_mm(f_number: float, wavelength_nm: float = MID_VISIBLE_NM) -> float:
    """Diameter of the Airy disc to its first dark ring, 2.44 lambda N, in mm.

    `f_number` is the effective one. Source: Born & Wolf, Principles of Optics.

    Raises Impossible unless f-number and wavelength are above zero.
    """
    positive("f-number", f_number)
    positive("wavelength", wavelength_nm)
    return thin_lens.airy_disc(f_number, wavelength_nm)


def total_blur_mm(defocus_mm: float, airy_mm: float) -> float:
    """Defocus and diffraction together, sqrt(a^2 + b^2): a common approximation."""
    return math.hypot(defocus_mm, airy_mm)


def coc_from_delivery_mm(
    sensor_width_used_mm: float, delivery_width_px: float, pixels: float = 2.0
) -> float:
    """Largest unnoticed blur disc at the sensor: `pixels` delivered pixels wide.

    k = 2 is a judgement: below two pixels a disc cannot be told from a point.

    Raises Impossible unless sensor width used, delivery width and pixels are above zero.
    """
    positive("sensor width used", sensor_width_used_mm)
    positive("delivery width", delivery_width_px)
    positive("pixels", pixels)
    return pixels * sensor_width_used_mm / delivery_width_px


def best_focus_m(near_m: float, far_m: float) -> float:
    """Focus distance with equal blur at `near_m` and `far_m`: their harmonic mean.

    Follows from `blur_disc_mm`; `far_m` may be infinite.

    Raises Impossible unless the near distance is above zero and the far one no nearer.
    """
    positive("near distance", near_m)
    if not far_m >= near_m:
        raise Impossible("the far distance must not be nearer than the near one.", "far_m")
    return 2.0 * near_m if math.isinf(far_m) else 2.0 * near_m * far_m / (near_m + far_m)


def stop_needed(
    focal_mm: float, near_m: float, far_m: float, coc_mm: float, pupil_ratio: float = 1.0
) -> float:
    """Smallest f-number whose depth, focused at `best_focus_m`, covers near..far exactly.

    Raises Impossible unless the near distance lies beyond the focal length, the far one no
    nearer, and the disc is above zero.
    """
    near_mm = _beyond_focal(focal_mm, near_m, pupil_ratio)
    positive("circle of confusion", coc_mm)
    focus_mm = best_focus_m(near_m, far_m) * 1000.0
    half = (1.0 / near_mm - (0.0 if math.isinf(far_m) else 1.0 / (far_m * 1000.0))) / 2.0
    return half * focal_mm * focal_mm / (coc_mm * (1.0 - focal_mm / pupil_ratio / focus_mm))


def focus_passes(
    focal_mm: float,
    f_number: float,
    near_m: float,
    far_m: float,
    coc_mm: float,
    pupil_ratio: float = 1.0,
) -> list[FocusPass]:
    """Fewest focus distances whose depths cover `near_m`..`far_m`, nearest first.

    With q = 1 - f / (P x) a pass focused at q_u is sharp from q_u (1 - k) to q_u (1 + k),
    k = c N / (f P). So the range divides into equal ratios of q (equal steps in dioptres to first
    order), the count is the rounded-up logarithm, and what is left over becomes even overlap.
    Derived from the thin lens. Raises Impossible when more than 1,000 passes would be needed.
    """
    near_mm = _beyond_focal(focal_mm, near_m, pupil_ratio)
    positive("f-number", f_number)
    positive("circle of confusion", coc_mm)
    if not far_m >= near_m:
        raise Impossible("the far distance must not be nearer than the near one.", "far_m")
    reach_mm = focal_mm / pupil_ratio
    q_near = 1.0 - reach_mm / near_mm
    q_far = 1.0 if math.isinf(far_m) else 1.0 - reach_mm / (far_m * 1000.0)
    span = math.log(q_far / q_near)
    k = thin_lens.spread(focal_mm, f_number, coc_mm, pupil_ratio)
    wanted = thin_lens.passes_needed(span, k)
    count = int(min(wanted, 1e9))
    if count > 1000:
        raise Impossible(
            f"{count} focus passes would be needed: stop down, move away or work larger."
        )
    ratio = math.exp(span / count)
    passes = []
    for i in range(count):
        q_u = q_near * ratio**i * (1.0 + ratio) / 2.0
        u_m = reach_mm / (1.0 - q_u) / 1000.0 if q_u < 1.0 else math.inf
        depth = depth_of_field(focal_mm, f_number, u_m, coc_mm, pupil_ratio)
        passes.append(FocusPass(focus_m=u_m, near_m=depth.near_m, far_m=depth.far_m))
    return passes


#: Full, third-stop series of marked f-numbers, as engraved on lenses (rounded by custom).
THIRD_STOPS = (
    *(1.0, 1.1, 1.2, 1.4, 1.6, 1.8, 2.0, 2.2, 2.5, 2.8, 3.2, 3.5, 4.0, 4.5, 5.0, 5.6, 6.3, 7.1),
    *(8.0, 9.0, 10.0, 11.0, 13.0, 14.0, 16.0, 18.0, 20.0, 22.0, 25.0, 29.0, 32.0, 36.0, 40.0),
    *(45.0, 51.0, 57.0, 64.0),
)


def next_stop_down(f_number: float) -> float:
    """The first marked third-stop at or above `f_number` (within 2 %), inf past f/64."""
    return next((stop for stop in THIRD_STOPS if stop >= f_number * 0.98), math.inf)


def next_stop_open(f_number: float) -> float:
    """The last marked third-stop at or below `f_number` (within 2 %), at least f/1."""
    return next((stop for stop in reversed(THIRD_STOPS) if stop <= f_number * 1.02), 1.0)
