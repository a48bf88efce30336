"""A lamp whose light is gathered into a beam, for the engine: radiance L cos^p off its axis, which
is an intensity of cos^(p+1)."""

from __future__ import annotations

from typing import Any


def register(mi: Any) -> None:
    """Make `beam` known to the engine as a kind of lamp."""
    import drjit as dr

    class Beam(mi.Emitter):  # type: ignore[misc, name-defined]
        def __init__(self, props: Any) -> None:
            mi.Emitter.__init__(self, props)
            colour = (props["radiance_r"], props["radiance_g"], props["radiance_b"])
            self.colour = mi.Color3f(*colour)
            self.power = mi.Float(props.get("power", 0.0))
            # Values, not constants: one program serves every lamp.
            dr.make_opaque(self.colour, self.power)
            self.m_flags = mi.EmitterFlags.Surface

        def _shines(self, cosine: Any, active: Any) -> Any:
            given = self.colour * dr.power(dr.maximum(cosine, 1e-6), self.power)
            return dr.select(active & (cosine > 0), given, 0.0)

        def eval(self, si: Any, active: Any = True) -> Any:
            return self._shines(mi.Frame3f.cos_theta(si.wi), active)

        def sample_direction(self, it: Any, sample: Any, active: Any = True) -> Any:
            ds = self.get_shape().sample_direction(it, sample, active)
            cosine = -dr.dot(ds.d, ds.n)
            good = active & (cosine > 0) & (ds.pdf > 0)
            ds.emitter = mi.EmitterPtr(self)
            return ds, dr.select(good, self._shines(cosine, good) / ds.pdf, 0.0)

        def eval_direction(self, it: Any, ds: Any, active: Any = True) -> Any:
            return self._shines(-dr.dot(ds.d, ds.n), active)

        def pdf_direction(self, it: Any, ds: Any, active: Any = True) -> Any:
            faces = active & (dr.dot(ds.d, ds.n) < 0)
            return dr.select(faces, self.get_shape().pdf_direction(it, ds, active), 0.0)

        def traverse(self, cb: Any) -> None:
            cb.put("colour", self.colour, mi.ParamFlags.Differentiable)

        def to_string(self) -> str:
            return "Beam"

    mi.register_emitter("beam", lambda props: Beam(props))
