"""How a sentence begins."""


def capital(text: str) -> str:
    """The same with a large first letter, and else as it is.

    >>> capital("the PID's gain")
    "The PID's gain"
    """
    return text[:1].upper() + text[1:]
