"""The stops of the work line, one file a panel; they never import each other."""
