"""What a drawing of a mat does not need, and is refused for: entities, scripts, pictures, links to elsewhere."""

import re

from irontrail.core.errors import IronTrailError

MAX_ELEMENTS = 5000


def check(text: bytes, where: str) -> None:
    """IronTrailError for what a drawing of a mat does not need: entities, links to elsewhere, scripts."""
    from defusedxml import ElementTree
    from defusedxml.common import DefusedXmlException

    try:
        root = ElementTree.fromstring(text, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as error:
        raise IronTrailError(
            "it defines entities, which a drawing does not need", where, "Save it as plain SVG."
        ) from error
    except (ElementTree.ParseError, ValueError, RecursionError) as error:
        raise IronTrailError(f"not an SVG drawing ({error})", where, "Save it as plain SVG.") from error
    if not root.tag.endswith("svg"):
        raise IronTrailError("not an SVG drawing", where, "Save it as plain SVG.")
    for count, element in enumerate(root.iter()):
        if count > MAX_ELEMENTS:
            raise IronTrailError(f"it has more than {MAX_ELEMENTS} parts", where, "Save only the mat.")
        tag = str(element.tag).rpartition("}")[2]
        if tag in ("script", "foreignObject", "image"):
            raise IronTrailError(f"it holds a part of the kind '{tag}'", where, "Save only the mat's paths.")
        for key, value in element.attrib.items():
            links = key.rpartition("}")[2] == "href" and not value.strip().startswith("#")
            if links or re.search(r"url\(\s*['\"]?\s*(?!['\"]?#)", value):
                raise IronTrailError("it links to something outside itself", where, "Save it with all it needs inside.")
        if tag == "style" and re.search(r"@import|url\(\s*['\"]?(?!#)", element.text or ""):
            raise IronTrailError("its style links to something outside itself", where, "Save it as plain SVG.")
