"""What the robot's own processor does each decision: from what its sensor gives to the powers of both wheels."""
