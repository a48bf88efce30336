"""The Frame in tone: each face of a plate in the tone that the lamps of its stage give it, with the
shadows they throw, as soft as the lens and the movement make it, behind the air of the story.

Flat faces and few of them: quick enough to be drawn while something is dragged. What is exact is
developed by the simulated camera.
"""

from .picture import Tone, tones

__all__ = ["Tone", "tones"]
