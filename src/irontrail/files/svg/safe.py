"""A drawing's text taken apart with care: no entities, nothing that leads elsewhere, not too much."""

import re
import zlib
from xml.etree.ElementTree import Element

from irontrail.core.errors import IronTrailError

MAX_ELEMENTS, MAX_BYTES = 5000, 16 * 1024 * 1024


def parsed(text: bytes, where: str) -> Element:
    """The root of a drawing, compressed or not.

    Raises
    ------
    IronTrailError
        If it is none, or has what a drawing of a mat does not need: entities, links to elsewhere, scripts.
    """
    from defusedxml import ElementTree
    from defusedxml.common import DefusedXmlException

    if text[:2] == b"\x1f\x8b":
        text = _unpacked(text, where)
    try:
        root: Element = ElementTree.fromstring(text, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise IronTrailError(
            "it defines entities, which a drawing does not need", where, "Save it as plain SVG."
        ) from error
    except (ElementTree.ParseError, ValueError, RecursionError, LookupError) as error:
        raise IronTrailError(f"not an SVG drawing ({error})", where, "Save it as plain SVG.") from error
    if not root.tag.endswith("svg"):
        raise IronTrailError("not an SVG drawing", where, "Save it as plain SVG.")
    for count, element in enumerate(root.iter()):
        if count > MAX_ELEMENTS:
            raise IronTrailError(f"it has more than {MAX_ELEMENTS} parts", where, "Save only the mat.")
        _check(element, where)
    return root


def _check(element: Element, where: str) -> None:
    tag = str(element.tag).rpartition("}")[2]
    if tag in ("script", "foreignObject"):
        raise IronTrailError(f"it holds a part of the kind '{tag}'", where, "Save only the mat's paths.")
    for key, value in element.attrib.items():
        link = value.strip() if key.rpartition("}")[2] == "href" else ""
        within = link.startswith("#") or (tag == "image" and link.startswith("data:image/"))
        if (link and not within and tag != "a") or re.search(r"url\(\s*['\"]?\s*(?!['\"]?#)", value[:10_000]):
            raise IronTrailError("it links to something outside itself", where, "Save it with all it needs inside.")
    if tag == "style" and re.search(r"@import|url\(\s*['\"]?(?!#)", element.text or ""):
        raise IronTrailError("its style links to something outside itself", where, "Save it as plain SVG.")


def _unpacked(text: bytes, where: str) -> bytes:
    try:
        opened = zlib.decompressobj(wbits=31)
        plain = opened.decompress(text, MAX_BYTES)
    except zlib.error as error:
        raise IronTrailError(
            f"a compressed drawing that is damaged ({error})", where, "Save it as plain SVG."
        ) from error
    if opened.unconsumed_tail:
        raise IronTrailError(f"a drawing of more than {MAX_BYTES:,} bytes", where, "Save only the mat.")
    return plain
