"""The frame bench: exposure sheet, move charts, strips of marks, and how far the work has come."""
