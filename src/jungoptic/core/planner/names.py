"""What people call the rules that the planner searches by."""

from __future__ import annotations

#: Rules by what a person calls them.
NAMES = {
    "impossible": "cannot be built",
    "view": "view and pixels",
    "floor": "lens floor",
    "mismatch": "match with the world camera",
    "move": "camera move",
    "close_focus": "close focus",
    "depth": "depth of field",
    "passes": "focus passes",
    "diffraction": "diffraction",
    "rate": "capture rate",
    "blur": "motion blur",
    "step": "step per frame",
    "skew": "rolling readout",
    "light": "light",
    "flicker": "lamps that pulse",
    "backing": "screen",
    "room": "room",
    "loan": "borrowed things",
    "key-side": "light side",
    "hardness": "shadow edge",
    "colour": "light colour",
    "ratio": "key to fill",
    "falloff": "fall-off",
    "sun": "sun",
    "mains": "mains",
    "evenness": "even screen",
    "screen-level": "screen level",
    "spill": "spill",
    "screen-shadow": "shadow on screen",
    "sweep": "floor of the screen",
    "screen-colour": "screen colour",
    "recording": "recording for a key",
}


def name_of(rule: str) -> str:
    """A rule in words."""
    return NAMES.get(rule, rule.replace("-", " ").replace("_", " "))
