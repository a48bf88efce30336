"""How far what was filmed may be off: limits that several of its measures share."""

#: Delivered pixels by which nobody sees that two pictures lie apart, and by which they can be laid
#: on each other in post; a camera that moved further also saw round things (judgement).
APART_HOLDS, APART_STRAINS = 0.3, 10.0
#: Stops between two halves that make no seam, and that a grade takes out (judgement).
LIGHT_HOLDS, LIGHT_STRAINS = 0.05, 0.5
