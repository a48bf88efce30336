"""What is drawn: frame, rail, stage, overlays, maps."""
