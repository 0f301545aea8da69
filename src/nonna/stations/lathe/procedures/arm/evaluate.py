"""The swing-arm setter: planes of its faces and what lies between them, with the reference tool."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.procedures.telling import saying
from nonna.stations.lathe.axes import carried_value, enter_shown
from nonna.stations.lathe.procedures.arm.model import FACES, PLANES, ArmReadings

said = saying("lathe-arm")


def evaluate(file: ArmReadings) -> Evaluation:
    """``plane = mean + reference offset`` of each face; widths free of the reference's doubt."""
    setup = file.setup
    faces: dict[str, list[float]] = {face: [r.position_mm for r in file.readings if r.face == face] for face in FACES}
    faces = {face: values for face, values in faces.items() if values}
    if not faces:
        raise TooFewReadingsError("No face was touched yet.")
    influences = Influences()
    by_axis = {axis: {f: v for f, v in faces.items() if f[1] == axis} for axis in "xz"}
    shown = enter_shown({axis: own for axis, own in by_axis.items() if own}, setup.x_shows, setup, influences)
    references = {
        axis: carried_value(setup, influences, f"reference_{axis}", f"reference tool in {axis.upper()}")
        for axis, own in by_axis.items() if own
    }  # fmt: skip
    quantities = [
        Quantity.of(f"{PLANES[face]}_mm", f"Plane {face[0]}{as_shown(face[1], setup.x_shows)}",
            influences.estimate(shown.means[face] + references[face[1]]))
        for face in faces
    ]  # fmt: skip
    uneven = False
    for axis in "xz":
        plus, minus = shown.means.get(f"+{axis}"), shown.means.get(f"-{axis}")
        if plus is None or minus is None:
            continue
        uneven = uneven or len(faces[f"+{axis}"]) != len(faces[f"-{axis}"])
        width = influences.estimate(real_per_shown(axis, setup.x_shows) * (plus - minus))
        quantities.append(Quantity.of(f"width_{axis}_mm", f"Width in {axis.upper()}", width))
    spread = max((max(values) - min(values)) * real_per_shown(face[1], setup.x_shows) for face, values in faces.items())
    quantities.append(Quantity("range_mm", "Range of one face", spread))
    checks: tuple[Check, ...] = ()
    if setup.limit_range_mm is not None:
        checks = (check_limit("Range of one face", spread, setup.limit_range_mm, file.rule.rule(), of="range_mm"),)
    first = quantities[0].estimate
    found = said("found", count=len(faces), U=first.expanded if first else 0.0, range=spread)
    flags = (*shown.flags, *(("unequal-sides",) if uneven else ()))
    verdict = checks[0].verdict if checks else "none"
    return Evaluation(file.procedure, tuple(quantities), file.rule.rule(), found, said(str(verdict)), checks, flags)
