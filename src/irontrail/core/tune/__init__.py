"""Finding better numbers: many runs at once, maps, searches, duels, and how well a setup holds."""
