"""Few people filmed several times as many: where each stands, in which pass, as whom."""
