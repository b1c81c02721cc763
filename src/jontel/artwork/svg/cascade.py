"""The CSS of an SVG: what its style sheets and its elements declare, before anything is inherited.

Rules are matched by ``cssselect2`` and parsed by ``tinycss2``. Source: W3C, "CSS Cascading and Inheritance Level 4".
"""

import re
from xml.etree import ElementTree

import cssselect2
import tinycss2

from jontel.design.stopping import go_on

_VARIABLE = re.compile(r"var\(\s*(--[\w-]+)\s*(?:,((?:[^()]|\([^()]*\))*))?\)")
DEEPEST = 12
"""Variables that lead to each other are followed so many times."""
Declared = dict[str, str]
Declarations = list[tuple[str, str, bool]]


def declared(root: ElementTree.Element) -> dict[ElementTree.Element, Declared]:
    """What is declared of every element: its attributes, then rules by their weight, then its own ``style``."""
    matcher = _rules(root)
    scopes: dict[ElementTree.Element, Declared] = {}
    found: dict[ElementTree.Element, Declared] = {}
    for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
        go_on()
        element = wrapped.etree_element
        above = {} if wrapped.parent is None else scopes[wrapped.parent.etree_element]
        matches = matcher.match(wrapped) if matcher is not None else []
        own = _declared(matches, element.get("style", ""))
        variables = {name: value for name, value in own.items() if name.startswith("--")}
        scopes[element] = {**above, **variables} if variables else above
        said = {**element.attrib, **{name: value for name, value in own.items() if not name.startswith("--")}}
        found[element] = {
            name: _filled_in(value, scopes[element]) if "var(" in value else value for name, value in said.items()
        }
    return found


def _rules(root: ElementTree.Element) -> cssselect2.Matcher | None:
    """All rules of the style sheets; what no selector can be made of is left out, as browsers do."""
    matcher: cssselect2.Matcher | None = None
    for element in root.iter():
        if not isinstance(element.tag, str) or element.tag.rsplit("}", 1)[-1] != "style":
            continue
        matcher = matcher or cssselect2.Matcher()
        for rule in tinycss2.parse_stylesheet(element.text or "", skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                continue
            said = _declarations(tinycss2.serialize(rule.content))
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, said)
    return matcher


def _declarations(content: str) -> Declarations:
    """The declarations of a rule or of a ``style``: name, value, and whether each is important."""
    found = tinycss2.parse_declaration_list(content, skip_comments=True, skip_whitespace=True)
    return [
        (
            one.name if one.name.startswith("--") else one.lower_name,
            tinycss2.serialize(one.value).strip(),
            one.important,
        )
        for one in found
        if one.type == "declaration"
    ]


def _declared(matches: list[tuple[object, int, object, Declarations]], own: str) -> Declared:
    """What rules, in the order of their weight, and an element's own ``style`` declare together."""
    found: Declared = {}
    important: Declared = {}
    for declarations in (*(one[-1] for one in matches), _declarations(own) if own else []):
        for name, value, weighs in declarations:
            (important if weighs else found)[name] = value
    return {**found, **important}


def _filled_in(value: str, scope: Declared) -> str:
    """A value with its variables filled in; one that is not there is what it falls back to, or nothing."""
    for _ in range(DEEPEST):
        filled = _VARIABLE.sub(lambda match: scope.get(match[1], (match[2] or "").strip()), value)
        if filled == value:
            return value
        value = filled[:4000]
    return ""
