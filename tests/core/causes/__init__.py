"""Causes are named by undoing them."""
