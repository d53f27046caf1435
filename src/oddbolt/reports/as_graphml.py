"""The structure as GraphML: parts and joints as nodes with their kinds, what ties, carries and hides as edges.

Format: http://graphml.graphdrawing.org/primer/graphml-primer.html; read back by a general graph library in the tests.
"""

from __future__ import annotations

from xml.etree import ElementTree as xml

from oddbolt.model.things import Joint, Part, Teardown
from oddbolt.reports.plain_text import writable
from oddbolt.words.names import name_of

NAMESPACE = "http://graphml.graphdrawing.org/xmlns"
TIES, ON, BEHIND = "ties", "on", "behind"
_NODE = (("what", "string"), ("name", "string"), ("kind", "string"), ("type", "string"), ("count", "int"),
         ("letter", "string"), ("role", "string"), ("basis", "string"), ("mass_g", "double"))
_EDGE = (("relation", "string"), ("way", "int"))  # way: which of several alternatives of being hidden


def to_graphml(teardown: Teardown) -> bytes:
    """Only what the variant has. An edge `ties` goes from a joint to a part, `on` from a part to what carries it,
    `behind` from a thing to what hides it, with the number of the alternative."""
    root = xml.Element("graphml", xmlns=NAMESPACE)
    for domain, keys in (("node", _NODE), ("edge", _EDGE)):
        for name, type_ in keys:
            xml.SubElement(root, "key", {"id": f"{domain}-{name}", "for": domain, "attr.name": name,
                                         "attr.type": type_})
    graph = xml.SubElement(root, "graph", id="structure", edgedefault="directed")
    parts = [part for part in teardown.parts if teardown.is_present(part)]
    joints = [joint for joint in teardown.joints if teardown.is_present(joint)]
    there = {thing.id for thing in (*parts, *joints)}
    for part in parts:
        _node(graph, part.id, {"what": "part", "name": name_of(teardown, part.id), "kind": part.kind,
                               "count": part.count, "role": ", ".join(part.role), "basis": part.basis,
                               "mass_g": part.mass_g})
    for joint in joints:
        _node(graph, joint.id, {"what": "joint", "name": name_of(teardown, joint.id), "kind": joint.kind,
                                "type": joint.type, "count": joint.count, "letter": joint.fastener,
                                "basis": joint.basis})
    for part in parts:
        if part.id != teardown.device.base:
            _edge(graph, part.id, part.on if part.on in there else teardown.device.base, ON)
        _hidden(graph, part, there)
    for joint in joints:
        for part_id in joint.of:
            if part_id in there:
                _edge(graph, joint.id, part_id, TIES)
        _hidden(graph, joint, there)
    xml.indent(root)
    return xml.tostring(root, encoding="utf-8", xml_declaration=True)


def _node(graph: xml.Element, id_: str, values: dict[str, object]) -> None:
    node = xml.SubElement(graph, "node", id=writable(id_))
    for name, value in values.items():
        if value not in (None, ""):
            xml.SubElement(node, "data", key=f"node-{name}").text = writable(str(value))


def _edge(graph: xml.Element, source: str, target: str | None, relation: str, way: int | None = None) -> None:
    edge = xml.SubElement(graph, "edge", source=writable(source), target=writable(target or ""))
    xml.SubElement(edge, "data", key="edge-relation").text = relation
    if way is not None:
        xml.SubElement(edge, "data", key="edge-way").text = str(way)


def _hidden(graph: xml.Element, thing: Part | Joint, there: set[str]) -> None:
    for way, names in enumerate(thing.behind):
        for name in names:
            if name in there:
                _edge(graph, thing.id, name, BEHIND, way)
