"""The mat: tape laid in pieces, the way along it, and how bright it is at every point."""
