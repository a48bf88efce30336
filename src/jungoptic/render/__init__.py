"""The simulated camera: what a plate, or the story's world, would look like on film.

It is told decisions and the numbers of the sheet, and works out the picture by following light. The
core's own formulas of projection, light, haze and blur are not used here, so that the picture can
be measured to prove them (see `docs/proof.md`).
"""
