"""The computation of Jungoptic: no framework, no files, no clock of its own.

Conventions used by every module here:

* SI inside; a name carries its unit when it is not metres or seconds (`focal_mm`, `tilt_deg`).
* World frame: right-handed, x right, y away from the camera, z up, metres, origin on the
  ground under the camera's first position.
* A scale is kept as its denominator: 1:12 is `scale=12.0`, life size is `1.0`.
* "No answer" is a value (NaN, infinity, an empty list); nonsense raises `Impossible` with a
  sentence that a person can act on; any other exception is a mistake of ours.
"""
