"""What may be wrong, one thing a file; the registry lists them."""
