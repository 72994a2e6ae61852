"""How many there are of something, in words."""


def counted(count: int, thing: str) -> str:
    """So many of a thing.

    >>> counted(1, "piece"), counted(3, "piece")
    ('1 piece', '3 pieces')
    """
    return f"{count:,} {thing}{'' if count == 1 else 's'}"
