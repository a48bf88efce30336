"""The board that logs itself: a sheet of coded markers held up before a take, its number, and what
a picture of it tells of the camera."""
