"""The certificate as XML: the open schema for digital calibration certificates, version 3, with D-SI quantities.

[DCC] https://ptb.de/dcc, schema version 3.3.0; [D-SI] https://ptb.de/si. The record as it was signed lies inside,
whole.
"""

from __future__ import annotations

import base64
import math
import re
import xml.etree.ElementTree as ET
from collections.abc import Mapping, Sequence
from datetime import date, datetime
from pathlib import Path

from nonna.adapters.files.safe_write import write_bytes
from nonna.bench.book.recalling import must_be_measured, read_back
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.telling import words_of
from nonna.shop.links.subjects import ANY
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.records.values import JsonObject, Measurement, Record
from nonna.shop.texts.given import Given, Plain

DCC, SI, VERSION = "https://ptb.de/dcc", "https://ptb.de/si", "3.3.0"
UNITS = {
    "mm": r"\milli\metre", "mm/touch": r"\milli\metre", "deg": r"\degree", "ppm": r"\ppm", "s": r"\second",
    "1": r"\one", "c": r"\degreecelsius", "min": r"\milli\metre\per\minute",
}  # fmt: skip
NO_COUNTRY = "ZZ"  #: of ISO 3166-1, for users: the shop's files do not say where it is
COVERAGE = 0.95
_NAME = re.compile(r"(?!(record|readings)$)[A-Za-z][A-Za-z0-9_]*")  # what may be an id, and is no other's
_NOT_XML = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
UNKNOWN = "not given"


def write(signed: Record, path: Path, withdrawn_by: int | None = None) -> None:
    """Write the certificate of a measurement record; one that was taken back says so.

    Raises: NonnaError ``wrong-format`` (an event has no certificate), ``unreadable`` (the file cannot be written),
    DamagedRecordError (its hash fits, but it does not hold what a record holds).
    """
    record = must_be_measured(signed)
    root = ET.Element(
        "dcc:digitalCalibrationCertificate",
        {
            "xmlns:dcc": DCC, "xmlns:si": SI, "xmlns:xsi": "http://www.w3.org/2001/XMLSchema-instance",
            "xsi:schemaLocation": f"{DCC} {DCC}/v{VERSION}/dcc.xsd", "schemaVersion": VERSION,
        },
    )  # fmt: skip
    evaluation = read_back(record)
    try:
        _administrative(root, record, withdrawn_by)
        _measured(root, record, evaluation)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError) as error:
        raise DamagedRecordError(record.number, f"a certificate cannot be made of it ({error!r})") from error
    ET.indent(root)
    write_bytes(path, ET.tostring(root, encoding="utf-8", xml_declaration=True))


def _administrative(root: ET.Element, record: Measurement, withdrawn_by: int | None) -> None:
    part = _in(root, "dcc:administrativeData")
    software = _in(_in(part, "dcc:dccSoftware"), "dcc:software")
    _say(_in(software, "dcc:name"), record.made_with.name)
    _in(software, "dcc:release", record.made_with.version)
    core = _in(part, "dcc:coreData")
    begun, ended = _days(record)
    for name, text in (
        ("countryCodeISO3166_1", NO_COUNTRY), ("usedLangCodeISO639_1", "en"), ("mandatoryLangCodeISO639_1", "en"),
        ("uniqueIdentifier", record.hash),
    ):  # fmt: skip
        _in(core, f"dcc:{name}", text)
    _identified(core, "owner", str(record.number), "Number in the book of records")
    _in(core, "dcc:beginPerformanceDate", begun.isoformat())
    _in(core, "dcc:endPerformanceDate", ended.isoformat())
    _in(core, "dcc:performanceLocation", "laboratory")
    item = _in(_in(part, "dcc:items"), "dcc:item")
    what = record.subject.words if record.subject != ANY else record.title
    _say(_in(item, "dcc:name"), f"{what}, {record.machine}" if record.machine else what)
    _identified(item, "owner", str(record.subject) or record.title, "In the shop's files")
    _contact(_in(_in(part, "dcc:calibrationLaboratory"), "dcc:contact"), record.shop)
    person = _in(_in(part, "dcc:respPersons"), "dcc:respPerson")
    _say(_in(_in(person, "dcc:person"), "dcc:name"), record.operator)
    _in(person, "dcc:mainSigner", "true")
    _contact(_in(part, "dcc:customer"), record.shop)
    _statements(part, record, withdrawn_by)


def _statements(part: ET.Element, record: Measurement, withdrawn_by: int | None) -> None:
    said = [("Invented demonstration data: no statement about a real thing.", False)] if record.invented else []
    if withdrawn_by is not None:
        said.append((f"Taken back by record {withdrawn_by}.", False))
    if said:
        place = _in(part, "dcc:statements")
        for words, valid in said:
            one = _in(place, "dcc:statement")
            _say(_in(one, "dcc:declaration"), words)
            _in(one, "dcc:valid", "true" if valid else "false")


def _measured(root: ET.Element, record: Measurement, evaluation: Evaluation) -> None:
    result = _in(_in(root, "dcc:measurementResults"), "dcc:measurementResult")
    _say(_in(result, "dcc:name"), record.title)
    _say(_in(result, "dcc:description"), words_of(evaluation.headline), *map(words_of, evaluation.advice))
    method = _in(_in(result, "dcc:usedMethods"), "dcc:usedMethod")
    _say(_in(method, "dcc:name"), record.name)
    _equipment(result, record.masters)
    _conditions(result, Given(record.input.conditions or {}))
    found = _in(result, "dcc:results")
    for quantity in evaluation.quantities:
        one = _in(found, "dcc:result", **({"id": quantity.name} if _NAME.fullmatch(quantity.name) else {}))
        _say(_in(one, "dcc:name"), quantity.title)
        _real(_in(_in(one, "dcc:data"), "dcc:quantity"), quantity)
    _readings(found, record.input.readings)
    whole = _in(found, "dcc:result", id="record")
    _say(_in(whole, "dcc:name"), "The record as it was signed")
    data = _in(_in(whole, "dcc:data"), "dcc:byteData")  # the schema has no word for struck readings, budgets, sources
    _in(data, "dcc:fileName", f"record-{record.number}.json")
    _in(data, "dcc:mimeType", "application/json")
    _in(
        data,
        "dcc:dataBase64",
        base64.b64encode(record.text.encode("utf-8", "surrogateescape")).decode(),
    )
    _verdict(result, record, evaluation)


def _verdict(result: ET.Element, record: Measurement, evaluation: Evaluation) -> None:
    """Say what was decided, by which rule; undecided is neither of the schema's two words."""
    meta = _in(_in(result, "dcc:measurementMetaData"), "dcc:metaData")
    if "self-consistent" in evaluation.flags:
        _in(meta, "dcc:traceable", "false")
    flags = f" Flags: {', '.join(evaluation.flags)}." if evaluation.flags else ""
    _say(_in(meta, "dcc:declaration"), f"Verdict: {record.verdict}; rule: {record.result.rule.kind}.{flags}")
    if record.verdict in ("pass", "fail"):
        _in(meta, "dcc:conformity", record.verdict)


def _equipment(result: ET.Element, cards: Mapping[str, JsonObject]) -> None:
    if not cards:
        return
    place = _in(result, "dcc:measuringEquipments")
    for role, card in cards.items():
        one = _in(place, "dcc:measuringEquipment")
        _say(_in(one, "dcc:name"), str(card.get("name", role)))
        known = str(card.get("certificate") or card.get("id") or role)
        _identified(one, "owner", known, "Certificate" if card.get("certificate") else "In the shop's files")


def _conditions(result: ET.Element, given: Given) -> None:
    if "temperature_c" not in given:
        return
    one = _in(_in(result, "dcc:influenceConditions"), "dcc:influenceCondition")
    assumed = given.get("temperature_assumed")
    _say(_in(one, "dcc:name"), "Temperature, assumed: not read that day" if assumed else "Temperature")
    real = _in(_in(_in(one, "dcc:data"), "dcc:quantity"), "si:real")
    _in(real, "si:value", repr(given["temperature_c"]))
    _in(real, "si:unit", UNITS["c"])
    u = given.number("temperature_u_c")
    if u:
        _doubt(real, 2.0 * u, 2.0)


def _real(place: ET.Element, quantity: Quantity) -> None:
    if not math.isfinite(quantity.value):
        _say(_in(place, "dcc:noQuantity"), UNKNOWN)
        return
    real = _in(place, "si:real")
    _in(real, "si:value", repr(quantity.value))
    _in(real, "si:unit", UNITS[quantity.unit])
    if quantity.estimate is not None:
        _doubt(real, quantity.estimate.expanded, quantity.estimate.k)


def _doubt(real: ET.Element, expanded: float, k: float) -> None:
    place = _in(_in(real, "si:measurementUncertaintyUnivariate"), "si:expandedMU")
    _in(place, "si:valueExpandedMU", repr(expanded))
    _in(place, "si:coverageFactor", repr(k))
    _in(place, "si:coverageProbability", repr(COVERAGE))


def _readings(found: ET.Element, rows: Sequence[Mapping[str, Plain]]) -> None:
    """List the readings that were evaluated, a column a field; the numbers as a list that the schema knows."""
    names = list(dict.fromkeys(name for row in rows for name in row))
    columns = {name: [row[name] for row in rows] for name in names if all(name in row for row in rows)}
    if not columns:
        return
    one = _in(found, "dcc:result", id="readings")
    _say(_in(one, "dcc:name"), "Readings")
    table = _in(_in(one, "dcc:data"), "dcc:list")
    for name, values in columns.items():
        quantity = _in(table, "dcc:quantity")
        _say(_in(quantity, "dcc:name"), name)
        if all(isinstance(v, int | float) and not isinstance(v, bool) for v in values):
            listed = _in(quantity, "si:realListXMLList")
            _in(listed, "si:valueXMLList", " ".join(map(repr, values)))
            _in(listed, "si:unitXMLList", UNITS.get(name.rpartition("_")[2], UNITS["1"]))
        else:
            _in(quantity, "dcc:charsXMLList", " ".join(str(v).replace(" ", "_") for v in values))


def _days(record: Measurement) -> tuple[date, date]:
    """Return the first and the last day of measuring: of the readings where the tape has their times."""
    times = [datetime.fromisoformat(row.at) for row in record.tape if row.at] or [record.signed_at]
    days = sorted(at.date() for at in times)
    return days[0], days[-1]


def _contact(place: ET.Element, name: str) -> None:
    _say(_in(place, "dcc:name"), name or UNKNOWN)
    _in(_in(place, "dcc:location"), "dcc:countryCode", NO_COUNTRY)


def _identified(place: ET.Element, issuer: str, value: str, words: str) -> None:
    one = _in(_in(place, "dcc:identifications"), "dcc:identification")
    _in(one, "dcc:issuer", issuer)
    _in(one, "dcc:value", value)
    _say(_in(one, "dcc:name"), words)


def _in(parent: ET.Element, tag: str, text: str = "", **attributes: str) -> ET.Element:
    made = ET.SubElement(parent, tag, attributes)
    if text:
        made.text = _NOT_XML.sub("\ufffd", text)
    return made


def _say(place: ET.Element, *sentences: str) -> None:
    for words in sentences:
        _in(place, "dcc:content", words).set("lang", "en")
