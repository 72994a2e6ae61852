"""What linear theory says of a run; it never looks at the engine, so that their agreement is evidence."""
