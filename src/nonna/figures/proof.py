"""Drawings of proof: two chains on one surface, an artefact's error beside its doubt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box
from nonna.figures.setter import spindle, table, tool_outline
from nonna.wording.lengths import Units, small


def closure_figure(taken: Mapping[str, Sequence[float]], found: tuple[float, float] | None, units: Units) -> Figure:
    """Draw tool and probe over one surface, with their difference on a scale of its own between them.

    Parameters: taken, heights (mm) by chain; found, (difference mm, expanded uncertainty mm).
    """
    top = 46.0
    strokes: list[Stroke] = [table(-100, 100, 0), box(-92, 0, 92, top, "steel", "muted")]
    for x, kind, wide, long, via in ((-56.0, "end-mill", 12.0, 86.0, "tool"), (56.0, "probe", 6.0, 92.0, "probe")):
        gap = 0.0 if taken.get(via) else 10.0
        strokes += [*spindle(x, top + gap + long, 40.0), *tool_outline(kind, wide, long, (x, top + gap))]
        strokes.append(Label((x, 18), f"by the {via}", "ink", 15, True))
        strokes.append(Label((x, 6), f"{len(taken.get(via, ()))} heights", "muted", 14))
    if found is not None:
        difference, doubt = found
        scale = 40.0 / max(abs(difference) + doubt, 1e-5)
        zero = 100.0
        strokes += [
            Line((-18, zero), (18, zero), "muted", 1.5),
            Label((-20, zero), "tool", "muted", 13, anchor="right", dy=5),
            Line((6, zero + (difference - doubt) * scale), (6, zero + (difference + doubt) * scale), "accent", 4.0),
            Circle((6, zero + difference * scale), 7, "accent", None, dot=True),
            Label((0, zero + 50), small(difference, units, sign=True), "accent", 16, True),
        ]
    return Figure(
        "One surface through both chains", (-104, -8, 104, 182), tuple(strokes),
        "bodies schematic; the difference between them on a scale of its own",
    )  # fmt: skip


def artefact_figure(certified: float, found: tuple[float, float] | None, en: float | None, units: Units) -> Figure:
    """Draw the error with its doubt against the certificate's own.

    Parameters: certified, expanded uncertainty (k = 2) of the artefact (mm); found, (error mm, expanded
    uncertainty mm); en, the E_n number.
    """
    reach = max([certified, 2e-4] + ([abs(found[0]) + found[1]] if found else [])) * 1.25
    scale = 46.0 / reach

    def x(value: float) -> float:
        return 60.0 + value * scale

    strokes: list[Stroke] = [
        box(x(-certified), 34, x(certified), 70, "master", None),
        Line((60, 26), (60, 76), "ink", 1.5),
        Label((60, 18), f"certificate, ± {small(certified, units)}", "muted", 14),
        Line((10, 52), (110, 52), "faint", 1.5),
    ]
    if found is not None:
        error, doubt = found
        ink: Ink = "bad" if en is not None and en > 1.0 else "accent"
        strokes += [
            Line((x(error - doubt), 52), (x(error + doubt), 52), ink, 6.0),
            Circle((x(error), 52), 9, ink, None, dot=True),
            Label((60, 92), f"{small(error, units, sign=True)}", ink, 22, True),
        ]
        if en is not None:
            strokes.append(Label((60, 82), f"Eₙ {en:.2f}", ink, 16, True))
    else:
        strokes.append(Label((60, 84), "the error will stand here", "muted", 14))
    return Figure("Measured against the certificate", (0, 0, 120, 102), tuple(strokes),
                  f"full width {small(2 * reach, units)}; band: the certificate's doubt; bar: ours")  # fmt: skip
