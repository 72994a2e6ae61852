"""The light sensor: the patch it sees, the light it sees it in, the reading it gives."""
