"""The sun over a place: its way, the hours of a day, when it matches a plate, and day for night."""
