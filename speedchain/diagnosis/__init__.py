"""What a setting implies, and what most likely went wrong."""
