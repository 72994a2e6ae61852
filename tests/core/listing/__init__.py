"""Listings decide as the engine does."""
