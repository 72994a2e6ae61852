"""A mat as a drawing: SVG out, true to scale, and SVG in from any program."""
