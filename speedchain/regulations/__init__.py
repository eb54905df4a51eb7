"""What a display may show, by rule."""
