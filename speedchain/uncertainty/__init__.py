"""How sure a figure is, and which cause explains a ratio."""
