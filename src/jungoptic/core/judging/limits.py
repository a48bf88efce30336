"""Every limit of the judgements: up to where a rule holds, and up to where it strains.

Half of the craft is in these numbers. Each says where it comes from; "judgement" is ours, and
"common practice" a fact of the trade without a published source."""

from __future__ import annotations

#: Blur at the worst end, as a multiple of the allowed disc, that still passes at a glance
#: (judgement).
DEPTH_STRAINS_TO = 2.0

#: Airy disc over the allowed disc up to which diffraction only softens (judgement).
AIRY_STRAINS_TO = 1.5

#: Blur within a third of the world camera's is not told apart; beyond twice or under half it is
#: seen at once (judgement).
BLUR_HOLDS_TO = 1.33
BLUR_STRAINS_TO = 2.0

#: Differences in blur shorter than this are not seen, in pixels at 1920 wide (judgement).
BLUR_SEEN_PX = 2.0

#: A thing whose smears leave gaps of more than half its width seems to jump (judgement).
GAP_TO_WIDTH = 0.5

#: Lean of an upright by rolling readout that is not seen, and that still passes (judgement).
LEAN_HOLDS_DEG = 0.5
LEAN_STRAINS_DEG = 2.0

#: Exposure off a whole number of pulses, as a part of it: banding not seen; seen by some
#: (judgement, from common practice).
PULSE_HOLDS = 0.01
PULSE_STRAINS = 0.05

#: With this many pulses in one exposure what is left over hardly shows (judgement).
MANY_PULSES = 6

#: Mismatch up to three tolerances can often be hidden by movement or brevity (judgement).
MISMATCH_STRAINS_TO = 3.0

#: Ratio of key to fill, stops (judgement).
RATIO_HOLDS = 0.5
RATIO_STRAINS = 1.5

#: Fall-off across a set that the sun is said to light, stops (judgement).
FALLOFF_HOLDS = 0.5
FALLOFF_STRAINS = 1.0

#: A source within twice as wide or narrow is not told apart; beyond four times it is seen at once
#: (judgement).
HARD_HOLDS = 1.0
HARD_STRAINS = 2.0

#: Colour that a grade takes out unnoticed, and with effort, mired (judgement).
LIGHT_COLOUR_HOLDS = 15.0
LIGHT_COLOUR_STRAINS = 45.0

#: Scores of `screens.colours` that key cleanly, and with work.
SCREEN_COLOUR_HOLDS, SCREEN_COLOUR_STRAINS = 0.75, 0.3

#: Fewer recorded pixels than delivered ones soften the picture. Down to 85 % is hard to see, and
#: below 65 % it looks enlarged next to sharper plates (judgement).
PIXELS_HOLD_FROM = 1.0
PIXELS_STRAIN_FROM = 0.65

#: A view half a per cent short is lost in any reframe; up to 3 % short the whole shot can be
#: framed in a little (judgement).
VIEW_COVERED_TO = 1.005
VIEW_SHORT_STRAINS_TO = 1.03

#: A pass enlarged by more than this loses detail that shows beside the other (judgement).
PASSES_STRAIN_TO = 0.05

#: Retiming by up to a fifth passes for natural motion; more shows as light, toy-like movement
#: (judgement).
RATE_HOLDS_TO = 1.02
RATE_STRAINS_TO = 1.2

#: Under by a third of a stop is nothing; under by one can be lifted in post, with noise
#: (judgement).
LIGHT_HOLDS_TO = 1.0 / 3.0
LIGHT_STRAINS_TO = 1.0

#: A hand's breadth can be found by moving a chair (judgement).
ROOM_STRAINS_TO_M = 0.05

#: Screen-to-subject distance under which spill and shadows usually trouble a key
#: (common practice).
SCREEN_USUAL_GAP_M = 2.0

#: Nothing may come nearer to the lens front than this (judgement).
LENS_CLEAR_M = 0.02

#: Within plus and minus a third of a stop behind the action (common practice); twice that strains.
EVEN_HOLDS = 2.0 / 3.0
EVEN_STRAINS = 4.0 / 3.0

#: The screen lies as bright as the key or up to a stop under it (common practice).
LEVEL_LOW, LEVEL_HIGH = -1.0, 0.0
LEVEL_STRAINS = 0.7

#: Spill on an edge as a part of the key (judgement: four and three stops under).
SPILL_HOLDS = 1.0 / 16.0
SPILL_STRAINS = 1.0 / 8.0

#: A shadow on the screen, stops darker (judgement).
SHADOW_HOLDS = 1.0 / 3.0
SHADOW_STRAINS = 1.0

#: Minutes of matching sun that a plate takes to set and film; fewer is a race (judgement).
SUN_HOLDS_MIN = 40.0
SUN_STRAINS_MIN = 15.0

#: Degrees of world light direction between shots of a place that nobody sees, and that anybody
#: sees (judgement).
SAME_TO_DEG = 20.0
NEAR_TO_DEG = 45.0
