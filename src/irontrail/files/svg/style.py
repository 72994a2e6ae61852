"""What a drawing says of each element's style: sheets, attributes and their weights, as CSS has them."""

from collections.abc import Iterator
from typing import Any
from xml.etree.ElementTree import Element

from irontrail.core.errors import IronTrailError

Style = dict[str, str]

INHERITED = (
    "fill", "fill-rule", "stroke", "stroke-width", "stroke-dasharray", "stroke-dashoffset", "fill-opacity",
    "stroke-opacity", "visibility", "color",
)  # fmt: skip
OWN = ("display", "opacity", "clip-path", "mask", "transform", "vector-effect", "stop-color")
# Every rule is tried on every element.
MOST_TRIES = 4_000_000


def inherited(style: Style) -> Style:
    """What is passed on of a style to what is drawn inside."""
    return {name: value for name, value in style.items() if name in INHERITED}


def specified(root: Element, where: str) -> dict[Element, Style]:
    """What is said of every element's own style, the weightiest of all that says something.

    What it inherits depends on where it is drawn: an element that is used inherits from its use.

    Raises
    ------
    IronTrailError
        If there are more rules than can be tried on so many elements.
    """
    import cssselect2

    matcher = cssselect2.Matcher()
    rules = 0
    for element in root.iter():
        if _tag(element) == "style" and element.get("type", "text/css") == "text/css":
            for selectors, declarations in _rules(element.text or ""):
                rules += 1
                try:
                    for selector in cssselect2.compile_selector_list(selectors):
                        matcher.add_selector(selector, declarations)
                except cssselect2.SelectorError:
                    continue
    wrapped = cssselect2.ElementWrapper.from_xml_root(root)
    count = sum(1 for _ in root.iter())
    if rules * count > MOST_TRIES:
        raise IronTrailError(f"it has {rules:,} rules of style", where, "Save it as plain SVG.")
    found: dict[Element, Style] = {}
    for each in wrapped.iter_subtree():
        element = each.etree_element
        own: Style = {name: element.get(name, "") for name in (*INHERITED, *OWN) if element.get(name) is not None}
        weighty: Style = {}
        if rules:
            for match in sorted(matcher.match(each), key=lambda match: match[:2]):
                _take(match[3], own, weighty)
        _take(list(_declarations(element.get("style", ""))), own, weighty)
        own |= weighty
        found[element] = {name: value for name, value in own.items() if value != "inherit"}
    return found


def _tag(element: Element) -> str:
    return str(element.tag).rpartition("}")[2]


def _rules(sheet: Any) -> Iterator[tuple[Any, list[tuple[str, str, bool]]]]:
    import tinycss2

    for rule in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
        if rule.type == "qualified-rule":
            yield rule.prelude, list(_declarations(rule.content))
        elif rule.type == "at-rule" and rule.lower_at_keyword == "media" and _is_for_screens(rule.prelude):
            yield from _rules(rule.content)


def _is_for_screens(prelude: Any) -> bool:
    """Whether what stands under `@media` holds on any screen; what depends on its size does not."""
    import tinycss2

    queries = tinycss2.serialize(prelude).lower().split(",")
    return any(query.split() in ([], ["all"], ["screen"], ["only", "screen"], ["not", "print"]) for query in queries)


def _declarations(content: Any) -> Iterator[tuple[str, str, bool]]:
    import tinycss2

    if not content:
        return
    for each in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if each.type == "declaration":
            yield each.lower_name, tinycss2.serialize(each.value).strip(), each.important


def _take(declarations: list[tuple[str, str, bool]], own: Style, weighty: Style) -> None:
    for name, value, important in declarations:
        (weighty if important else own)[name] = value
