"""The lathe's whole chain on its stand-in, many times: reference tool, arm, tips by sheet and by program, against what
is so.
"""

from __future__ import annotations

import tempfile
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

from nonna.programs.dialects.listing import dialects

CHAINS, A_SHOP = 400, 10
TIPS = (1, 5)


def figures(chains: int = CHAINS) -> Iterator[str]:
    """Give the share of intervals that hold the truth, by how X is shown and how the tips were touched."""
    for shows in ("diameter", "radius"):
        hits: Counter[str] = Counter()
        tried: Counter[str] = Counter()
        for first in range(0, chains, A_SHOP):
            for what, hit in _chains(shows, first, min(A_SHOP, chains - first)):
                tried[what] += 1
                hits[what] += hit
        words = ", ".join(f"{what} {100 * hits[what] / n:.1f} of {n}" for what, n in tried.items())
        yield (
            f"lathe, X shown on {shows}, {chains} chains from a new reference tool on: {words} % hold the "
            "truth; wanted 94-96"
        )


def _chains(shows: str, first: int, count: int) -> Iterator[tuple[str, bool]]:
    """Yield of each interval what it is of and whether it holds; every chain has a machine of its own."""
    from tests.support.tool_programs import judged_each, tools_program

    from nonna.adapters.shop_files.practice import make
    from nonna.adapters.shop_files.shop_folder import ShopFolder
    from nonna.bench.sheet.opening import prepared  # fmt: skip
    from nonna.bench.sheet.signing import recorded
    from nonna.bench.sheet.standin_jobs import job_of
    from nonna.bench.station.site import Site
    from nonna.errors import NonnaError
    from nonna.procedures.session import Session
    from nonna.procedures.shown import real_per_shown
    from nonna.shop.links.subjects import ARM, REFERENCE_TOOL
    from nonna.standin.world import World
    from nonna.stations.lathe.standin import LatheTruth, measure, tip_offsets
    from nonna.stations.lathe.tip_run import run_tips

    factor = real_per_shown("x", shows)  # type: ignore[arg-type]
    with tempfile.TemporaryDirectory() as place:
        make(Path(place) / "shop")
        folder = ShopFolder(Path(place) / "shop")
        folder.change(("machines", "willow.json"), lambda old: {**old, "x_shows": shows})
        for number in range(first, first + count):
            world, truth = World.from_seed(1000 + number), LatheTruth.of(1000 + number)
            tools = {t.number: t for t in Site.load(folder, "willow").tools}
            own = {n: tip_offsets(tools[n], truth, world) for n in TIPS}

            def table(old: Any, own: Any = own) -> dict[str, Any]:
                rows = [
                    {**t, "offset_x_mm": round(own[t["number"]]["x"] / factor, 2),
                        "offset_z_mm": round(own[t["number"]]["z"], 2)}
                    if t["number"] in own else t
                    for t in old["tools"]
                ]  # fmt: skip
                return {**old, "tools": rows}

            folder.change(("tools", "willow.json"), table)
            site = Site.load(folder, "willow")

            def signed(name: str, subject: Any, site: Any = site, world: Any = world, number: int = number) -> Any:
                opening = prepared(site, name, subject)
                session = (
                    Session(name, opening.facts).with_setup(limit_mm=None)
                    if name == "lathe-tip"
                    else Session(name, opening.facts)
                )
                found = measure(replace(job_of(site, session), run=number), world)
                session = session.with_setup(**found.setup).take_all(
                    found.readings, "stand-in", "2026-11-20T08:00:00+00:00"
                )
                result = session.evaluate()
                if isinstance(result, NonnaError):
                    raise result
                site.folder.book.sign([recorded(site, session, opening, result, "K. Amsel")])
                return result

            reference = signed(("lathe-offset-cut", "lathe-offset-master")[number % 2], REFERENCE_TOOL)
            signed("repeatability", ARM)
            signed("lathe-arm", ARM)
            for axis, f in (("x", factor), ("z", 1.0)):
                yield "reference", _holds(reference, axis, f, truth.reference[axis])
            made = tools_program(site, TIPS, dialects()[number % 2], 1 + number % 3)
            found, _ = run_tips(
                made.trial.text, made.spots, site.machine, site.tools, world, number, dialect=made.trial.dialect
            )
            for row in judged_each(site, found, "stand-in"):
                for axis, f in (("x", factor), ("z", 1.0)):
                    yield "tips by program", _holds(row.evaluation, axis, f, own[int(row.subject.id[1:])][axis])
            for n in TIPS:
                result = signed("lathe-tip", tools[n].subject)
                for axis, f in (("x", factor), ("z", 1.0)):
                    yield "tips by sheet", _holds(result, axis, f, own[n][axis])


def _holds(result: Any, axis: str, factor: float, truth: float) -> bool:
    row = result.quantity(f"offset_{axis}_mm")
    return bool(abs(row.value * factor - truth) <= row.estimate.expanded * factor)


if __name__ == "__main__":
    for figure in figures():
        print(figure, flush=True)
