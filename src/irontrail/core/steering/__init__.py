"""The steering laws: from a reading to the powers of both wheels."""
