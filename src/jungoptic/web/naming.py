"""What our fields are called when people read of them."""

from __future__ import annotations

#: How the ends of our field names are written: what takes their place, and the unit.
UNITS = {
    "_m_s": ("", " m/s"),
    "_mm": ("", " mm"),
    "_m": ("", " m"),
    "_deg": ("", "°"),
    "_fps": (" rate", " fps"),
    "_s": ("", " s"),
    "_px": ("", " px"),
    "_hz": ("", " Hz"),
    "_k": ("", " K"),
    "_ev": ("", " stops"),
    "_stops": ("", " stops"),
    "_lux": ("", " lx"),
}
#: Those that are called otherwise on our screens.
OTHERWISE = {"f_number": "stop", "iso": "ISO", "focal": "focal length", "nd": "ND"}


def in_words(name: str) -> tuple[str, str]:
    """A field as a person would say it, and the unit of its numbers: `shutter_deg` is the shutter,
    in degrees."""
    words, unit = name.removesuffix("_id"), ""
    for end, (instead, written) in UNITS.items():
        if words.endswith(end):
            words, unit = words.removesuffix(end) + instead, written
            break
    return OTHERWISE.get(words, words.replace("_", " ").strip()), unit
