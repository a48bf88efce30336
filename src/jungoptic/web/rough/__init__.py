"""What was filmed of a shot, roughly put together."""
