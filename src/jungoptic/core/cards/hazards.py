"""Cautions that a plate carries. Always shown where they apply; never computed into permission.

Wording is the usual care of the trade (common practice) and defers to local codes and to
licensed people. No quantities, mixtures or constructions are given, ever.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.plate import Plate

DEFER = "Follow local codes."
LICENSED = "Follow local codes; licensed people only."


@dataclass(frozen=True)
class Hazard:
    """A hazard by key, in a word, with the cautions the crew must read."""

    key: str
    name: str
    cautions: tuple[str, ...]


HAZARDS: tuple[Hazard, ...] = (
    Hazard(
        "lamps",
        "Lamps and mains",
        (
            "Lamps get hot: gloves to move them, nothing that burns near them, let them cool.",
            "Weight every stand; tape cables down; no cable through water or doors. " + DEFER,
        ),
    ),
    Hazard(
        "stands",
        "Screen and stands",
        ("A cloth on stands is a sail: sandbag every foot, nobody walks behind it alone.",),
    ),
    Hazard(
        "fire", "Fire and flame", (LICENSED, "Extinguishers and a watch who does nothing else.")
    ),
    Hazard(
        "pyrotechnics", "Pyrotechnics", (LICENSED, "Nobody else handles, loads or stands near.")
    ),
    Hazard(
        "fuel",
        "Fuel and aerosols",
        (LICENSED, "None on set beyond what the licensed person keeps."),
    ),
    Hazard(
        "cold",
        "Dry ice and cryogens",
        (
            "They take the place of air and burn skin: open doors, insulated gloves, never sealed "
            "containers, nobody alone low in the room. " + DEFER,
        ),
    ),
    Hazard("glass", "Glass", ("Gloves and eye protection; tape sharp edges; sweep before feet.",)),
    Hazard(
        "water",
        "Water near mains",
        ("Keep mains and water apart; residual-current protection on every circuit. " + DEFER,),
    ),
    Hazard(
        "height",
        "Working at height",
        ("A second person at every ladder; nothing loose overhead; tie tools on. " + DEFER,),
    ),
    Hazard(
        "traffic",
        "Traffic",
        ("An open street is never a set: permit and closed road only. " + DEFER,),
    ),
    Hazard("animals", "Animals", ("The trainer decides; water, shade, rest; no forced action.",)),
    Hazard(
        "weapons",
        "Weapon look-alikes",
        ("Tell the police and the neighbours; locked away between takes. " + DEFER,),
    ),
    Hazard("laser", "Lasers", ("Never towards eyes or lenses, nor the sky. " + DEFER,)),
    Hazard(
        "strobe",
        "Flashing light",
        (
            "Warn everybody before: flashing light can set off seizures. Avoid 3 to 30 flashes a "
            "second (ITU-R BT.1702, from memory).",
        ),
    ),
    Hazard(
        "smoke",
        "Smoke machines",
        ("Ask about asthma first; air the room between takes; tell the neighbours. " + DEFER,),
    ),
    Hazard("dust", "Sand and dust", ("Masks and eye protection; cover lenses and fans.",)),
    Hazard(
        "lifting",
        "Lifting and hanging",
        (
            "Never over people. Nobody is hung or lifted by a rig of this plan: licensed riggers "
            "only. " + DEFER,
        ),
    ),
    Hazard("spin", "Turning chairs and stands", ("Spotter within reach; stop at the first word.",)),
    Hazard(
        "falls", "Jumps and falls", ("Rehearse slowly; mats; a stunt professional for real falls.",)
    ),
)

BY_KEY = {hazard.key: hazard for hazard in HAZARDS}


def cautions_for(plate: Plate) -> list[Hazard]:
    """The hazards of a plate: lamps always, flashing light where a lamp plays a cue, stands for a
    screen, then those that its recipe brings and those marked on it."""
    keys = ["lamps"]
    if plate.cues:
        keys.append("strobe")
    if plate.kind == "screen":
        keys.append("stands")
    keys += [key for key in (*plate.recipe_hazards, *plate.hazards) if key in BY_KEY]
    return [BY_KEY[key] for key in dict.fromkeys(keys)]
