"""The model of a line-following robot: no interface, no files, no clock."""
