"""Tool tables as MTConnect cutting-tool assets (ANSI/MTC1.4, part 4: assets), read carefully and written back.

Number, length, diameter, corner radius, point angle, teeth and top speed stand where the standard puts them; what it
has no place for stands in one element of a name space of our own, which others may ignore.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator
from xml.etree import ElementTree as Xml

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from nonna.bench.tables.holders import holder_from, holder_text
from nonna.bench.tables.kinds import kind_of
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked
from nonna.wording.lengths import MM_PER_INCH

SPACE = "urn:mtconnect.org:MTConnectAssets:1.8"
OURS = "urn:nonna:tools:1"
_MEASURES = {
    "FunctionalLength": ("LF", "length_mm"), "CuttingDiameterMax": ("DC", "diameter_mm"),
    "CuttingDiameter": ("DC", "diameter_mm"),
    "CornerRadius": ("RE", "corner_radius_mm"), "PointAngle": ("SIG", "point_angle_deg"),
}  # fmt: skip
_REST = (
    "kind", "tip_diameter_mm", "centre_cutting", "true_length_mm", "length_uncertainty_mm", "hand", "material",
    "edge_deg",
    "repeats", "tolerance_mm",
)  # fmt: skip
_NOT_XML = re.compile("[^\t\n\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
_FACTORS = {"MILLIMETER": 1.0, "INCH": MM_PER_INCH, "DEGREE": 1.0, "": 1.0}


def tools_of(data: bytes) -> tuple[Tool, ...]:
    """Read the cutting tools of an assets document: all of them or none.

    Raises: NonnaError ``wrong-format`` (not XML, entities or a document type in it, not an assets document) or with
    the tool and the field that is wrong.
    """
    try:
        root = fromstring(data, forbid_dtd=True)
    except DefusedXmlException as error:
        raise NonnaError(
            "wrong-format", "This XML declares a document type or entities; no tool table needs that, so it is refused."
        ) from error
    except (Xml.ParseError, ValueError, LookupError) as error:
        raise NonnaError("wrong-format", "This is not XML: {error}.", error=error) from error
    if _local(root.tag) not in ("MTConnectAssets", "Assets", "CuttingTool"):
        raise NonnaError(
            "wrong-format", "An assets document is wanted, this is a {value!r}.", value=_local(root.tag)[:40]
        )
    found = [e for e in root.iter() if _local(e.tag) == "CuttingTool"]
    if not found:
        raise NonnaError("missing-field", "There is no CuttingTool in this document.", "Assets")
    return tuple(_tool(element, i) for i, element in enumerate(found))


def xml_of(tools: Iterable[Tool], made_at: str, machine: str) -> bytes:
    """Write tools as an assets document; ``made_at`` is an ISO time with zone."""
    Xml.register_namespace("m", SPACE)
    Xml.register_namespace("nonna", OURS)
    root = Xml.Element(f"{{{SPACE}}}MTConnectAssets")
    rows = list(tools)
    Xml.SubElement(
        root, f"{{{SPACE}}}Header", creationTime=made_at, sender="nonna", instanceId="1", version="1.8",
        assetBufferSize=str(max(1, len(rows))), assetCount=str(len(rows)),
    )  # fmt: skip
    assets = Xml.SubElement(root, f"{{{SPACE}}}Assets")
    for tool in rows:
        _write(assets, tool, made_at, machine)
    Xml.indent(root)
    written: bytes = Xml.tostring(root, encoding="utf-8", xml_declaration=True)
    return written + b"\n"


def _write(assets: Xml.Element, tool: Tool, made_at: str, machine: str) -> None:
    def put(parent: Xml.Element, name: str, text: str = "", **more: str) -> Xml.Element:
        made = Xml.SubElement(parent, f"{{{SPACE}}}{name}", more)
        made.text = text or None
        return made

    name = re.sub(r"[^A-Za-z0-9]", "-", machine) or "machine"
    asset = put(
        assets, "CuttingTool", assetId=f"{name}-T{tool.number}", serialNumber=str(tool.number), toolId=str(tool.number),
        timestamp=made_at,
    )  # fmt: skip
    if tool.description:
        put(asset, "Description", _NOT_XML.sub(" ", tool.description))
    life = put(asset, "CuttingToolLifeCycle")
    put(put(life, "CutterStatus"), "Status", "MEASURED" if tool.length_mm is not None else "NEW")
    put(life, "ProgramToolNumber", str(tool.number))
    put(life, "Location", str(tool.number), type="POT")
    if tool.max_rpm is not None:
        put(life, "ProcessSpindleSpeed", "", maximum=repr(tool.max_rpm))
    measures = put(life, "Measurements")
    for element, (code, name) in _MEASURES.items():
        value = getattr(tool, name)
        if element != "CuttingDiameter" and value is not None:
            units = "DEGREE" if name.endswith("_deg") else "MILLIMETER"
            put(measures, element, repr(value), code=code, units=units)
    put(life, "CuttingItems", count=str(tool.flutes))
    rest = {n: getattr(tool, n) for n in _REST} | {"holder": holder_text(tool.holder) or None}
    Xml.SubElement(
        life, f"{{{OURS}}}Tool",
        {n: repr(v) if isinstance(v, float) else str(v).lower() if isinstance(v, bool) else v for n,
            v in rest.items() if v is not None},
    )  # fmt: skip


def _tool(element: Xml.Element, index: int) -> Tool:
    where = f"CuttingTool[{index}]"
    values: dict[str, Plain] = {}
    for part in element.iter():
        name, text = _local(part.tag), (part.text or "").strip()
        if part.tag == f"{{{OURS}}}Tool":
            values |= dict(_ours(part, where))
        elif name == "Description" and text:
            values["description"] = part.text
        elif name == "ProgramToolNumber":
            values["number"] = _whole(text, f"{where}.{name}")
        elif name == "CuttingItems":
            values["flutes"] = _whole(part.get("count", "0"), f"{where}.{name}.count")
        elif name == "ProcessSpindleSpeed" and part.get("maximum"):
            values["max_rpm"] = _number(part.get("maximum", ""), f"{where}.{name}.maximum")
        elif name in _MEASURES and text:
            units = part.get("units", "")
            if units not in _FACTORS:
                raise NonnaError(
                    "out-of-range",
                    "{place}.{name}: the unit {value!r} is not known.",
                    f"{where}.{name}",
                    place=where,
                    name=name,
                    value=units[:20],
                )
            values[_MEASURES[name][1]] = _number(text, f"{where}.{name}") * _FACTORS[units]
    if "number" not in values:
        raise NonnaError(
            "missing-field", "{place}.ProgramToolNumber: this is missing.", f"{where}.ProgramToolNumber", place=where
        )
    values.setdefault("kind", kind_of(str(values.get("description", ""))))
    try:
        return checked(Tool, values)
    except NonnaError as error:
        raise NonnaError(
            error.code, "{place}.{words}", f"{where}.{error.where}", place=where, words=error.message
        ) from error


def _ours(part: Xml.Element, where: str) -> Iterator[tuple[str, Plain]]:
    for name in _REST:
        text = part.get(name)
        if text is None:
            continue
        if name.endswith(("_mm", "_deg")):
            yield name, _number(text, f"{where}.{name}")
        else:
            yield name, text == "true" if name in ("centre_cutting", "repeats") else text
    if part.get("holder"):
        yield "holder", holder_from(part.get("holder", ""))


def _number(text: str, where: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise NonnaError(
            "not-a-number", "{place}: a number is wanted, not {value!r}.", where, place=where, value=text[:30]
        ) from None
    if not math.isfinite(value):
        raise NonnaError(
            "not-a-number", "{place}: a finite number is wanted, not {value!r}.", where, place=where, value=text[:30]
        )
    return value


def _whole(text: str, where: str) -> int:
    value = _number(text, where)
    if not value.is_integer():
        raise NonnaError(
            "out-of-range", "{place}: a whole number is wanted, not {value!r}.", where, place=where, value=text[:30]
        )
    return int(value)


def _local(tag: object) -> str:
    return str(tag).rpartition("}")[2]
