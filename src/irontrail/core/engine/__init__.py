"""The engine: one compiled kernel that computes a whole run."""
