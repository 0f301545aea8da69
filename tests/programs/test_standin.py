"""The stand-in machine: real programs run on a truth that only the measurement can find."""

import math
from dataclasses import replace

import pytest

from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.standin_jobs import job_of, measured
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.shapes.boxes import Box, entry
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.session import Session
from nonna.programs.language.drive import Trip
from nonna.programs.language.errors import ProgramError
from nonna.programs.writing.writer import write
from nonna.shop.cards.machine import SpindleNose, Tools
from nonna.shop.links.subjects import SETTER, tool
from nonna.standin.bodies import Body
from nonna.standin.wishes import MachineStoppedError, SheetWish
from nonna.standin.world import World
from nonna.stations.mill.planning.touches import nose_aside, setter_calibration
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import run_program
from nonna.stations.mill.standin.sheet_programs import prepare, readings, run
from nonna.stations.mill.standin.truth import make
from tests.support.examples import length_plan


@pytest.fixture
def machine(shop):
    return shop.machine("larch")


@pytest.fixture
def tools(shop):
    return tuple(shop.tools("larch").tools)


FACES = ({"face": "top"},) * 3 + tuple({"face": face} for face in ("+x", "-x", "+y", "-y") for _ in range(2))


def touched(name):
    return procedure(name).touched("master")


TEN = {"slots": ({},) * 10, "touching": touched("repeatability")}
TOOL = {"slots": ({},) * 3, "touching": touched("tool-length")}


def master(shop):
    return next(card for card in shop.shelf().masters if card.id == "master-tool").as_input()


def test_calibration_then_tools_finds_the_hidden_lengths(shop, machine, tools):
    hits = total = 0
    for seed in range(12):
        job = SheetWish(
            "setter-faces",
            machine,
            tools,
            seed,
            run=seed,
            subject=SETTER,
            variant="master",
            master=master(shop),
            slots=FACES,
            touching=touched("setter-calibration"),
        )
        prepared = prepare(job)
        found = evaluate(
            _document(
                "setter-calibration", {"repeatability_mm": 0.0006}, readings(job, run(prepared)), dict(job.master)
            )
        )
        plane = found.quantity("trigger_plane_mm").estimate
        truth = make(machine, list(tools), seed, prepared.held)
        assert abs(found.quantity("centre_x_mm").value - truth.x) < 0.003
        for subject in (tool(2), tool(9), tool(14)):
            one = SheetWish(
                "tool-on-setter",
                machine,
                tools,
                seed,
                seed + 50,
                subject,
                trigger_plane_mm=plane.value,
                slots=({},) * 3,
                touching=touched("tool-length"),
            )
            setup = {"trigger_plane_mm": plane.value, "trigger_plane_u_mm": plane.u, "repeatability_mm": 0.0006}
            length = evaluate(_document("tool-length", setup, readings(one, run(prepare(one))))).quantity("length_mm")
            total += 1
            hits += abs(length.value - truth.bodies[int(subject.id[1:])].length) <= length.estimate.expanded
    assert total == 36
    assert hits >= 32


@pytest.mark.parametrize("temperature", [20.0, 24.0])
def test_sheets_on_the_standin_find_the_hidden_lengths_in_a_warm_shop_too(shop, temperature):
    """The master that is touched is as warm as the shop says: its growth must not end up in every tool."""
    shop.change(("shop.json",), lambda old: {**old, "temperature_c": temperature})
    site, errors, hits = Site.load(shop, "larch"), [], 0
    for seed in range(300, 316):
        world, truth = World.from_seed(seed), make(site.machine, list(site.tools), seed)

        def found(name, subject, run, result, seed=seed, world=world, **setup):
            session = Session(name, prepared(site, name, subject).facts).with_setup(**setup)
            got = measured(replace(job_of(site, session), run=run, seed=seed), world)
            return session.with_setup(**got.setup).take_all(got.readings, "stand-in",
                "2026-11-20T08:00:00+00:00").evaluate().quantity(result)  # fmt: skip

        plane = found("setter-calibration", SETTER, seed, "trigger_plane_mm")
        carried = {"trigger_plane_mm": plane.value, "trigger_plane_u_mm": plane.estimate.u, "trigger_plane_dof": None}
        length = found("tool-length", tool(2), seed + 700, "length_mm", **carried)
        errors.append(length.value - truth.bodies[2].length)
        hits += abs(errors[-1]) <= length.estimate.expanded
    assert hits >= 14 and abs(sum(errors)) / len(errors) < 0.0006


def _document(procedure, setup, rows, used=None):
    return {
        "format": "nonna-readings/1",
        "procedure": procedure,
        "setup": setup,
        "readings": rows,
        "masters": {"master": used} if used else {},
        "conditions": {"temperature_c": 20.0, "temperature_u_c": 0.1},
    }


def test_the_same_seed_is_the_same_machine_and_another_run_scatters(shop, machine, tools):
    job = SheetWish("repeated-touch", machine, tools, 5, run=1, master=master(shop), **TEN)
    first, again, other = (run(prepare(j)).results for j in (job, job, replace(job, run=2)))
    assert first == again
    assert first != other
    assert max(abs(a[1] - b[1]) for a, b in zip(first, other, strict=True)) < 0.01


def test_progress_is_told_and_what_it_raises_stops_the_run(shop, machine, tools):
    prepared = prepare(SheetWish("repeated-touch", machine, tools, 5, run=1, master=master(shop), **TEN))
    seen = []
    report = run(prepared, lambda line, of, seconds: seen.append((line, of, seconds)))
    assert [s[2] for s in seen] == sorted(s[2] for s in seen)
    assert len(report.contacts) == 12  # the fast one, one between, then ten slow ones
    assert report.seconds > 5
    with pytest.raises(KeyboardInterrupt):
        run(prepared, lambda *_: (_ for _ in ()).throw(KeyboardInterrupt))


def test_a_work_offset_that_is_active_does_not_matter(machine, tools):
    plan = length_plan(machine, tools[:1])
    text = write(plan)
    shifted = text.replace("\nM5\n#111", "\n#5221 = 33 #5222 = -4 #5223 = 12.5\nM5\n#111", 1)
    assert shifted != text

    def results(program):
        return run_program(
            program,
            plan,
            Mill(machine, make(machine, list(tools), 4), Tools(format="nonna-tools/1", tools=list(tools)), 9),
        ).results

    assert [r[1] for r in results(shifted)] == pytest.approx([r[1] for r in results(text)], abs=1e-6)


def test_faults_are_found_not_passed_over(machine, tools):
    table = Tools(format="nonna-tools/1", tools=list(tools))
    truth = make(machine, list(tools), 4)
    plan = length_plan(machine, tools[:1])
    text = write(plan)

    def mill(**bodies):
        return Mill(
            machine, replace(truth, bodies={**truth.bodies, **{int(k[1:]): v for k, v in bodies.items()}}), table
        )

    with pytest.raises(ProgramError) as caught:
        run_program(text, plan, mill(t2=Body(100.0, 8.5)))  # broken short
    assert caught.value.code == "no-trigger"
    with pytest.raises(MachineStoppedError) as stopped:
        run_program(text, plan, mill(t2=Body(125.0, 8.5)))  # pulled far out
    assert stopped.value.code == "rapid-contact"
    with pytest.raises(MachineStoppedError) as stopped:
        run_program(text.replace("G4 P2.5 (a wait", "S500 M3\nG4 P2.5 (a wait"), plan, mill())
    assert stopped.value.code == "spindle-running"
    with pytest.raises(MachineStoppedError) as stopped:
        run_program(text.replace("T2 M6", "T23 M6"), plan, mill())
    assert stopped.value.code == "wrong-tool"
    with pytest.raises(MachineStoppedError) as stopped:
        run_program(text.replace("G53 G0 X720", "G53 G0 X1720"), plan, mill())
    assert stopped.value.code == "out-of-travel"
    with pytest.raises(MachineStoppedError) as stopped:
        run_program(text.replace("F#101", "F30000"), plan, mill())
    assert stopped.value.code == "overtravel"


def test_what_the_stand_in_cannot_do_is_refused_in_words(machine, tools):
    with pytest.raises(NonnaError, match="not in the table"):
        prepare(SheetWish("tool-on-setter", machine, tools, 1, 1, tool(99), trigger_plane_mm=-452.4, **TOOL))
    walled = machine.model_copy(update={"setter": machine.setter.model_copy(update={"clear_sides": []})})
    with pytest.raises(NonnaError, match="no side of the setter is marked clear"):
        prepare(SheetWish("tool-on-setter", walled, tools, 1, 1, tool(4), trigger_plane_mm=-452.4, **TOOL))
    with pytest.raises(NonnaError, match="cannot do"):
        prepare(SheetWish("ring-turned", machine, tools, 1, 1))


def test_a_bare_spindle_and_a_block_calibrate_too(shop, machine, tools):
    planes = []
    for variant, used in (
        ("spindle-face", {"length_mm": 0.0}),
        ("block", {"length_mm": 75.0002, "U_length_mm": 0.0005, "k": 2}),
        ("master", master(shop)),
    ):
        slots = FACES if variant == "master" else FACES[:3]
        how = touched("setter-calibration")
        job = SheetWish(
            "setter-faces", machine, tools, 3, run=7, variant=variant, master=used, slots=slots, touching=how
        )
        setup = {"repeatability_mm": 0.0006}
        planes.append(
            evaluate(_document("setter-calibration", setup, readings(job, run(prepare(job))), used)).quantity(
                "trigger_plane_mm"
            )
        )
    for plane in planes[:2]:
        assert abs(plane.value - planes[2].value) < 3 * (plane.estimate.u + planes[2].estimate.u)


@pytest.mark.parametrize("sides", [["-y"], ["+x", "-x"], []])
@pytest.mark.parametrize("name", ["setter-calibration", "repeatability", "trigger-latency"])
def test_a_hollow_nose_is_brought_over_the_pad_with_its_ring(machine, tools, sides, name):
    """A taper open by 50 mm over a pad of 14: the program goes aside, and the stand-in's pad does not go up into it."""
    nose = SpindleNose(nose_diameter_mm=88.0, nose_length_mm=110.0, bore_mm=50.0)
    setter = machine.setter.model_copy(update={"clear_sides": sides})
    hollow = machine.model_copy(update={"spindle": nose, "setter": setter})
    slots = tuple({"feed_mm_min": feed, "face": "top"} for feed in (50.0, 50.0, 50.0, 200.0, 200.0, 200.0))
    job = SheetWish(
        "",
        hollow,
        tools,
        3,
        run=7,
        variant="spindle-face",
        master={"length_mm": 0.0},
        slots=slots,
        touching=touched(name),
    )
    made = prepare(job)
    x, y = {"-y": (0.0, -34.5)}.get((sides or [""])[0], (34.5, 0.0))
    top = made.plan.touches[0]
    assert (top.x - setter.x_mm, top.y - setter.y_mm) == (x, y)
    found = [next(v for k, v in row.items() if k in ("position_mm", "value_mm")) for row in readings(job, run(made))]
    assert found and all(abs(z - setter.trigger_plane_mm) < 0.6 for z in found)
    wide = setter.model_copy(update={"width_x_mm": 60.0, "width_y_mm": 60.0})
    assert nose_aside(hollow.model_copy(update={"setter": wide})) == (0.0, 0.0)


def test_where_a_move_enters_a_box():
    box = Box((0, 0, 0), (10, 10, 10))
    assert entry((5, 5, 20), (5, 5, 0), box) == (0.5, "+z")
    assert entry((-10, 5, 5), (10, 5, 5), box) == (0.5, "-x")
    assert entry((5, 30, 5), (5, 0, 5), box) == (pytest.approx(2 / 3), "+y")
    assert entry((20, 20, 20), (20, 0, 20), box) is None
    assert entry((5, 5, 5), (5, 5, 20), box) is None  # it starts inside
    assert box.depth((5, 5, 9)) == 1
    assert box.depth((5, 5, 11)) == -1


def test_feed_makes_a_trigger_late_and_the_axis_rounds(machine, tools):
    quiet = machine.model_copy(update={"trigger_jitter_s": 0.0})
    truth = replace(make(quiet, list(tools), 4), repeatability=0.0, growth=0.0, bodies={0: Body(100.0, 6.0)})
    table = Tools(format="nonna-tools/1", tools=[])
    trips = []
    for feed in (60.0, 600.0):
        mill = Mill(quiet, truth, table)
        mill.move((truth.x, truth.y, -300.0), None, 1)
        trip = mill.probe((truth.x, truth.y, -356.0), feed, 2)
        assert isinstance(trip, Trip)
        trips.append(trip.at[2])
    assert trips[0] - trips[1] == pytest.approx(quiet.trigger_latency_s * 9.0, abs=2e-4)
    assert all(math.isclose(t * 1e4, round(t * 1e4), abs_tol=1e-4) for t in trips)
    assert setter_calibration(machine, 100.0, 6.0, 3, 2).touches[-1].first_parameter == 1010
