"""The tests; what they test comes first, since it says how NumPy's libraries are to be loaded."""

import irontrail  # noqa: F401
