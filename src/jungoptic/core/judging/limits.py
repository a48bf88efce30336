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

#: Part of the frame's height that a reframe in post may leave empty: nobody sees half a pixel in a
#: thousand, and what a push-in of two per cent hides strains (judgement).
LEFT_HOLDS, LEFT_STRAINS = 0.0005, 0.02

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

#: A support this much too low can stand on a firm platform; a higher one is a scaffold (judgement).
SUPPORT_RAISED_M = 0.5
#: Up to so far from the ground a camera lies on it, on a bag or a board (judgement).
SUPPORT_LAID_M = 0.03
#: Heights and ways are told to so much; what is nearer is the same (judgement).
SUPPORT_NEARLY_M = 0.002

#: Screen-to-subject distance under which spill and shadows usually trouble a key
#: (common practice).
SCREEN_USUAL_GAP_M = 2.0

#: Nothing may come nearer to the lens front than this (judgement).
LENS_CLEAR_M = 0.02
#: A lens front with its hood reaches so far from the axis (judgement).
LENS_RADIUS_M = 0.06

#: A figure taller by this part than who stands for it is not told from them: shoes and hair make
#: as much (judgement).
TALL_HOLDS = 0.02

#: So much of a cloth is lost at its hems without anybody noticing (judgement).
CLOTH_NEARLY_M = 0.01

#: Within plus and minus a third of a stop behind the action (common practice); twice that strains.
EVEN_HOLDS = 2.0 / 3.0
EVEN_STRAINS = 4.0 / 3.0

#: The screen lies as bright as the key or up to a stop under it (common practice).
LEVEL_LOW, LEVEL_HIGH = -1.0, 0.0
LEVEL_STRAINS = 0.7

#: Stops that light of the screen's lamps on the action lies under the key, and how far above that
#: it still only strains: up to the key itself (judgement).
SCREEN_LAMPS_UNDER = 2.0
SCREEN_LAMPS_STRAIN = 2.0

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

# --- how plates join ---------------------------------------------------------------------------

#: Closer to a divider than this nobody is at ease, pixels (judgement).
LINE_CLEAR_PX = 12.0

#: So many times as far the sun may go before a hard line shows it at first sight: five degrees, or
#: a quarter of a stop (judgement). Until then a soft line and a grade hide it.
DRIFT_STRAINS_TO = 2.5

#: Nobody counts repeats of a crowd that lie farther apart than this part of the picture
#: (judgement).
CROWD_APART = 0.2

#: A head of which less shows does not read as a person (judgement).
HEAD_SHOWS = 0.35

#: Fewer people than this part of those wanted read as another scene (judgement).
CROWD_BREAKS_UNDER = 0.8

#: Fewer pixels than this part of what is delivered look soft; much fewer, coarse (judgement).
CROP_HOLDS = 1.0
CROP_STRAINS = 0.7

#: Slower than this a shape cut by hand moves only slowly, delivered pixels a frame (judgement).
ROTO_SLOW_PX = 3.0

#: Keys so many times as far apart as the movement asks for let the shape slip; so many, off the
#: thing altogether (judgement).
ROTO_HOLDS_TO = 1.5
ROTO_STRAINS_TO = 3.0

#: A marker smaller than this in the picture is hard to follow, and fewer than this many leave a
#: track that slips (common practice).
MARKER_LEAST_PX = 8.0
MARKERS_LEAST = 6

#: Colour difference of a marker that stands out, CIELAB (judgement).
MARKER_STANDS_OUT = 30.0

# --- takes -------------------------------------------------------------------------------------

#: An exposure a third of a stop off is graded away; past one stop it costs noise or clips
#: (judgement).
TAKE_STOPS_HOLD = 1.0 / 3.0
TAKE_STOPS_STRAIN = 1.0
