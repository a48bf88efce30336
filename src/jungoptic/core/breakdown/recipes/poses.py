"""Recipes for people who are filmed near and stand elsewhere, and for what glows in a hand or in a
puppet."""

from __future__ import annotations

from dataclasses import replace

from ...cost.work import Work
from .model import Pass, Recipe, Thing, clean, fills, on_screen, performer

#: How high a roof is on which somebody stands, metres (judgement); all of it is in a level picture.
ROOF_M = 3.0


_PAIR = on_screen(
    key="pair",
    name="Two people from below",
    why="Filmed near and whole, from as far below their eyes as the story's camera looks up at "
    "them.",
    things=(
        Thing("One", "figure", 0.28, 2.5, z_m=ROOF_M),
        Thing("Other", "figure", 0.36, 2.5, z_m=ROOF_M),
    ),
    placed=True,
)
#: Their floor is the roof, and they stand on the cloth.
_ROOFED = replace(_PAIR, settings={**_PAIR.settings, "ground_m": ROOF_M, "screen_sweep_m": 1.5})

RECIPES: tuple[Recipe, ...] = (
    Recipe(
        key="roof-from-below",
        name="Two people on a roof, seen from below",
        family="performers",
        effect="People stand high up and small in the picture; nobody leaves the ground.",
        suits=("They are far away, and seen whole.", "The room is short and low."),
        avoid=("They come near, or the camera goes round them.",),
        passes=(
            Pass(
                "house",
                "House or cliff",
                "What they stand on, with the edge that their feet come to.",
                "live",
                settings={"motion": "still"},
                things=(Thing("House", "box", 0.3, 2.5, 6.0, ROOF_M, 4.0),),
                marks=("A ruler held at the roof's edge once: how large a person is there.",),
                work=Work(takes=2),
            ),
            _ROOFED,
            Pass(
                "sky",
                "Sky behind them",
                "What their outline stands against; the eye looks there first.",
                "still",
                required=False,
                things=(fills("Sky", 12.0),),
                work=Work(takes=1),
            ),
        ),
        right=("The height of view.", "Key side and height.", "Feet on the edge.", "Haze."),
        betrays=("Soles that are seen, or not.", "Too sharp for so far away.", "Wind in one only."),
        post=("Key", "Lay in by the sheet's table", "Soften and haze to the distance"),
        shows=frozenset({"performer", "height", "place"}),
        camera=frozenset({"locked", "moving"}),
        needs=frozenset({"screen"}),
        people=3,
        risk=0,
        risk_why="small in the picture, they are filmed again in an hour",
    ),
    Recipe(
        key="talking-before",
        name="Talking person before a background",
        family="performers",
        effect="Somebody talks at length before a place where nobody has to go.",
        suits=("Pages of text.", "The place is far, dear, or gone."),
        avoid=("Feet and floor are seen.", "The person touches anything of the place."),
        passes=(
            Pass(
                "background",
                "Background",
                "Filmed first: its light and its lens height decide those of the person.",
                "live",
                settings={"motion": "still", "f_number": 2.8},
                things=(fills("Background", 4.0),),
                marks=("Twice as long as the longest take: it cannot be stretched.",),
                work=Work(takes=2),
            ),
            on_screen(
                key="person",
                name="Person on a screen",
                why="The text, with as many takes as it needs, and a back light for the hair.",
                things=(performer("Person", 0.0, 0.45),),
                after=("background",),
            ),
            Pass(
                "hair",
                "Hair before a plain card",
                "A still of loose hair before a bright and a dark card says what a key will keep.",
                "still",
                required=False,
                settings={"motion": "still"},
                work=Work(takes=1),
            ),
        ),
        right=("Lens height and tilt of the background.", "Key side.", "Back light on hair."),
        betrays=("A background as sharp as the face.", "Spill under the chin.", "Room sound."),
        post=("Key", "Light wrap by the background", "One grade over both"),
        shows=frozenset({"performer", "place"}),
        needs=frozenset({"screen", "lamps"}),
        people=2,
        risk=0,
        risk_why="all of it can be filmed again",
        reusable=True,
    ),
    Recipe(
        key="held-glow",
        name="A flame or glow held in a hand",
        family="elements",
        effect="Somebody carries fire or light in the hand; there is only a small lamp.",
        suits=("Face and hand are near.", "The flame is seen for seconds."),
        avoid=("Many reflections.", "The hand turns the lamp to the lens."),
        passes=(
            Pass(
                "take",
                "Take with a lamp in the hand",
                "A small warm lamp, dimmed to play, lights face and fingers as the flame will.",
                "live",
                lock="a",
                settings={"f_number": 4.0},
                things=(
                    performer("Performer", 0.0, 0.6),
                    Thing("Lamp in the hand", "box", 0.12, 0.55, 0.04, 0.06, 0.04, z_m=1.15),
                ),
                marks=("Lamp out of sight of the lens in the palm; wires down the sleeve.",),
                work=Work(cut="roto", takes=5),
            ),
            Pass(
                "off",
                "The same, lamp off",
                "The light on its own, to be dimmed and coloured afterwards.",
                "live",
                required=False,
                lock="a",
                after=("take",),
                settings={"pass_for": "light"},
                work=Work(takes=1),
            ),
            Pass(
                "flame",
                "Flame over black",
                "A flame alone, filmed by who may, or one from the shelf; laid onto the lamp.",
                "element",
                required=False,
                settings={"motion": "gravity", "f_number": 5.6},
                hazards=("fire",),
                work=Work(cut="luma", takes=4),
            ),
            clean(required=False),
        ),
        right=("Light on face and fingers.", "Flame tied to the hand.", "Not clipped."),
        betrays=("A glow that lights nothing.", "Fingers in front that should be bright."),
        post=("Track the lamp", "Lay the flame over it", "Warm the skin around it"),
        shows=frozenset({"performer", "fire"}),
        needs=frozenset({"lamps"}),
        people=2,
        risk=1,
        risk_why="a lamp that shows has to be painted out by hand",
        longest_s=6.0,
    ),
    Recipe(
        key="glowing-puppet",
        name="Translucent puppet in lit fog",
        family="frames",
        effect="A small creature glows from within, in drifting fog, and blinks.",
        suits=("The creature is small and slow.",),
        avoid=("It must touch a living hand.",),
        passes=(
            Pass(
                "puppet",
                "Puppet",
                "Poses and the blink, lit from the side, on black.",
                "puppet",
                lock="a",
                settings={"f_number": 11.0, "scale": 2.0},
                things=(Thing("Creature", "box", 0.0, 0.4, 0.3, 0.5, 0.25),),
                marks=("Eyes by replacement: open, half, shut.",),
                work=Work(cut="luma", takes=1),
            ),
            Pass(
                "glow",
                "Glow from behind",
                "Every frame once more, lit from behind alone: what shines through it.",
                "puppet",
                lock="a",
                settings={"f_number": 11.0, "scale": 2.0, "pass_for": "light"},
                work=Work(takes=1),
            ),
            Pass(
                "fog",
                "Fog in a beam, over black",
                "Real fog drifts as no animation does; its light comes on top.",
                "element",
                settings={"motion": "powered", "f_number": 4.0},
                hazards=("smoke",),
                work=Work(cut="luma", takes=3),
            ),
        ),
        right=(
            "The two lights of every frame.",
            "The speed of the fog.",
            "A blink of a few frames.",
        ),
        betrays=("A glow that stands while it breathes.", "Fog that flickers."),
        post=("Add the glow by its own curve", "Fog before and behind"),
        shows=frozenset({"creature", "smoke"}),
        needs=frozenset({"puppet", "black", "stills"}),
        people=1,
        risk=1,
        risk_why="a bump between the two lights is found in post",
    ),
)
