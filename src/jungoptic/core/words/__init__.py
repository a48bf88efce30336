"""How anything is said or drawn: quantities and drawing primitives."""
