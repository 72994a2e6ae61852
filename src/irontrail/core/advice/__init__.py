"""What the program says of a setup: before a run, after it, and beside other runs."""
