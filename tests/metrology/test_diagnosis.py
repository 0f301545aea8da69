"""Diagnosis: exact weights against brute force, honest probabilities, faults that look alike, and where to look
next.
"""

import itertools
import json
import math

import numpy as np
import pytest
from scipy import stats

from nonna.bench.station.diagnosis_document import DOUBTFUL, FALSE, MINUTES, PRIOR, RAISED, diagnose, effects
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.metrology.diagnosis import FaultGroup, groups, information


def seen(what, change, u=0.002, **more):
    return {"what": what, "change_mm": change, "u_mm": u, **more}


def evidence(*observations, **more):
    return {"observations": list(observations), **more}


def probability(answer, name, subject=None):
    return next(f["probability"] for f in answer["faults"] if (f["name"], f["subject"]) == (name, subject))


MASTER = seen("setter-by-master", 0.05, length_mm=140.0)
TOOL_4 = seen("tool-on-setter", 0.051, subject=4, length_mm=90.0)


def test_weights_are_those_of_all_sets_worked_out_one_by_one():
    dice = np.random.default_rng(1)
    a = np.array([[1.0, 1, 1, 0, 0], [1, 1, 0, 1, 0], [0, 1, 0, 0, 1], [1, 0, 0, -1, 1]])
    u, spread = np.full(4, 0.5), np.array([3.0, 2.0, 3.0, 4.0, 1.0])
    prior = np.array([0.02, 0.3, 0.02, 0.3, 0.1])
    for _ in range(5):
        y = dice.normal(0, 2, 4)
        group = FaultGroup(y, u, a, spread, prior)
        direct = {}
        for each in itertools.chain.from_iterable(itertools.combinations(range(5), k) for k in range(6)):
            part = a[:, list(each)] * spread[list(each)]
            covariance = np.diag(u**2) + part @ part.T
            there = np.isin(np.arange(5), each)
            direct[each] = (
                stats.multivariate_normal.logpdf(y, np.zeros(4), covariance)
                + np.log(np.where(there, prior, 1 - prior)).sum()
            )
        logs = np.array([direct[each] for each in group.posterior.sets])
        weights = np.exp(logs - logs.max())
        assert group.posterior.weights == pytest.approx(weights / weights.sum(), rel=1e-9)
        whole = np.exp(np.array(list(direct.values())) - logs.max()).sum()
        assert weights.sum() / whole > 0.999  # what was not tried weighs next to nothing
        best = group.posterior.sets[0]
        if best:
            part = a[:, list(best)]
            inverse = np.linalg.inv(part.T @ part / 0.25 + np.diag(spread[list(best)] ** -2.0))
            sizes, covariance = group.sizes(best)
            assert sizes == pytest.approx(inverse @ part.T @ y / 0.25) and covariance == pytest.approx(inverse)


def test_probabilities_are_kept_as_often_as_they_say():
    dice, said, was, doubted = np.random.default_rng(2), [], [], []
    wants = [
        ("setter-by-master", None, 140.0, 0.0),
        ("tool-on-setter", 4, 90.0, 0.0),
        ("face-by-probe", None, 0.0, 0.0),
        ("probe-on-setter", None, 120.0, 0.0),
    ]
    rows = [effects(*want) for want in wants]
    faults = sorted({fault for row in rows for fault in row})
    for _ in range(300):
        there = dice.uniform(size=len(faults)) < [
            RAISED if f.name in ("setter-moved", "growth", "probe-length", "tool") else PRIOR for f in faults
        ]
        sizes = {
            f: (dice.normal(0, 100.0 if f.name == "scale" else 0.1) if on else 0.0)
            for f, on in zip(faults, there, strict=True)
        }
        false = dice.uniform(size=len(rows)) < FALSE  # dirt, a chip, a slip of the hand
        changes = [
            sum(sizes[f] * v for f, v in row.items()) + dice.normal(0, 0.01) + (dice.normal(0, 0.1) if wrong else 0.0)
            for row, wrong in zip(rows, false, strict=True)
        ]
        found = diagnose(evidence(
            *(seen(w, c, 0.01, length_mm=long, **({"subject": n} if n else {})) for (w, n, long, _),
                c in zip(wants, changes, strict=True)),
            events=["crash"],
        ))  # fmt: skip
        listed = {f["subject"]: f["probability"] for f in found["faults"] if f["name"] == DOUBTFUL}
        assert all(p >= 0.05 for p in listed.values())
        doubted += [(listed.get(i, 0.0), bool(wrong)) for i, wrong in enumerate(false) if i in listed]
        for fault, on in zip(faults, there, strict=True):
            said.append(probability(found, fault.name, fault.subject or None))
            was.append(bool(on))
    said, was = np.array(said), np.array(was)
    assert abs(said.mean() - was.mean()) < 0.015
    told = np.array([p for p, _ in doubted])
    assert abs(told.mean() - np.mean([w for _, w in doubted])) < 3.5 * math.sqrt(0.25 / told.size)
    for low, high in ((0.0, 0.1), (0.1, 0.5), (0.5, 0.9), (0.9, 1.0)):
        part = (said >= low) & (said <= high)
        assert abs(said[part].mean() - was[part].mean()) < 3.5 * math.sqrt(0.25 / part.sum())


def test_the_fewest_faults_explain_what_changed():
    answer = diagnose(evidence(MASTER, TOOL_4, seen("face-by-probe", 0.0005), events=["crash"]))
    assert answer["faults"][0]["name"] == "setter-moved" and answer["faults"][0]["probability"] > 0.98
    assert answer["faults"][0]["size_mm"] == pytest.approx(0.0505, abs=2e-3) and answer["none"] < 1e-3
    grown = diagnose(evidence(MASTER, TOOL_4, seen("face-by-probe", 0.05)))
    assert grown["faults"][0]["name"] == "growth"
    calm = diagnose(evidence(seen("setter-by-master", 0.001, length_mm=140.0), seen("lobing", 0.0005)))
    assert calm["none"] > 0.9
    apart = diagnose(evidence(seen("setter-by-master", 0.001, length_mm=140.0)))["none"]
    assert calm["none"] == pytest.approx(apart * diagnose(evidence(seen("lobing", 0.0005)))["none"])
    scale = diagnose(
        evidence(
            *(
                seen("tool-on-setter", 1e-4 * long, 5e-4, subject=n, length_mm=long)
                for n, long in ((1, 60.0), (2, 120.0), (3, 180.0))
            ),
            seen("step-by-probe", 0.01, 5e-4, length_mm=100.0),
        )
    )
    assert scale["faults"][0]["name"] == "scale" and scale["faults"][0]["size_ppm"] == pytest.approx(100.0, abs=8.0)
    assert "size_mm" not in scale["faults"][0]


def test_what_looks_alike_is_said_and_where_to_look_next():
    answer = diagnose(evidence(MASTER, TOOL_4, events=["crash"], minutes={"face-by-probe": 2}))
    assert answer["alike"] == [["growth", "setter-moved"]]
    assert answer["next"] == {
        "what": "face-by-probe",
        "subject": None,
        "minutes": 2.0,
        "why": "tells growth from setter-moved",
    }
    slow = diagnose(evidence(MASTER, TOOL_4, events=["crash"], minutes={"face-by-probe": 1e5}))
    assert slow["next"]["what"] != "face-by-probe"
    assert diagnose(evidence(seen("tool-on-setter", 0.0, subject=7)))["alike"] == [["growth", "setter-moved", "tool-7"]]
    assert MINUTES.keys() >= {"lobing"}


def test_information_is_what_a_simulation_finds():
    part = [(0.6, 0.0, 0.0), (0.4, 1.0, 0.3)]
    dice, u = np.random.default_rng(3), 0.5
    which = dice.uniform(size=200_000) < 0.6
    y = np.where(which, 0.0, 1.0 + dice.normal(0, math.sqrt(0.3), which.size)) + dice.normal(0, u, which.size)
    one = 0.6 * stats.norm.pdf(y, 0, u)
    two = 0.4 * stats.norm.pdf(y, 1, math.sqrt(0.3 + u * u))
    p = one / (one + two)
    entropy = -(p * np.log(p) + (1 - p) * np.log1p(-p)).mean()
    before = -(0.6 * math.log(0.6) + 0.4 * math.log(0.4))
    assert information([part], u) == pytest.approx(before - entropy, abs=3e-3)
    assert information([[(1.0, 0.0, 0.01)]], u) == pytest.approx(0.0, abs=1e-6)


def test_parts_that_share_nothing_are_apart():
    a = np.array([[1.0, 1, 0, 0], [0, 0, 1, 0], [0, 1, 0, 0]])
    assert [(rows.tolist(), faults.tolist()) for rows, faults in groups(a)] == [([0, 2], [0, 1]), ([1], [2]), ([], [3])]


def test_a_tray_full_of_tools_takes_no_time_worth_speaking_of():
    many = [seen("tool-on-setter", 0.05 + 0.0005 * (n % 3), subject=n, length_mm=60.0 + n) for n in range(1, 41)]
    answer = diagnose(evidence(*many, MASTER))
    assert {answer["faults"][k]["name"] for k in range(2)} == {"growth", "setter-moved"}


def test_the_command_and_what_it_refuses(tmp_path, capsys):
    good = evidence(MASTER, TOOL_4)
    bad = [
        evidence(),
        evidence({**MASTER, "u_mm": 0.0}),
        evidence({**TOOL_4, "subject": None}),
        evidence({**MASTER, "subject": 3}),
        evidence({**MASTER, "what": "colour"}),
    ]
    (tmp_path / "e.jsonl").write_text("\n".join(map(json.dumps, [good, *bad])))
    assert run(["diagnose", "--jsonl", str(tmp_path / "e.jsonl")], lambda _: 0) == 1
    said = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert said[0] == diagnose(good) and all("error" in line for line in said[1:])
    assert said[2]["error"]["where"] == "observations[0].u_mm"
    with pytest.raises(NonnaError, match="name their tool"):
        diagnose(bad[2])


@pytest.mark.parametrize("length", [5e-324, -1e-300, 1e6])
@pytest.mark.parametrize("u", [1e-6, 1e6])
def test_numbers_at_the_edge_are_reckoned_with_or_refused(length, u):
    answer = diagnose(evidence(seen("setter-by-master", -1e6, u, length_mm=length), seen("lobing", 5e-324, u)))
    assert all(math.isfinite(x) for f in answer["faults"] for x in f.values() if isinstance(x, float))
    with pytest.raises(NonnaError) as refused:
        diagnose(evidence(seen("lobing", 0.1, 1e-300)))
    assert (refused.value.code, refused.value.where) == ("out-of-range", "observations[0].u_mm")


def test_a_slip_of_the_hand_is_not_taken_for_a_fault():
    """Four observations say nothing moved, one says 0.2 mm: it is the reading that is doubted, and measured again."""
    calm = [seen("tool-on-setter", 0.001 * (-1) ** n, subject=n, length_mm=60.0 + n) for n in (1, 2, 3)]
    answer = diagnose(evidence(*calm, seen("setter-by-master", 0.2, length_mm=140.0)))
    false = next(f for f in answer["faults"] if f["name"] == DOUBTFUL)
    assert false["subject"] == 3 and false["probability"] > 0.4 and false["size_mm"] == pytest.approx(0.2, abs=0.01)
    assert answer["next"]["what"] == "setter-by-master"
    assert not any(DOUBTFUL in name for names in answer["alike"] for name in names)
    assert answer["none"] == pytest.approx(false["probability"], abs=0.15)  # a false reading alone is no fault


def test_two_hundred_tools_are_bounded_and_that_is_said():
    many = [seen("tool-on-setter", 0.05, subject=n, length_mm=60.0 + n) for n in range(1, 201)]
    answer = diagnose(evidence(*many))
    assert "tried only where" in answer["note"] and answer["faults"][0]["name"] in ("growth", "setter-moved")
    assert "note" not in diagnose(evidence(*many[:20]))


def test_a_chance_of_being_false_takes_from_what_is_told():
    part = [(0.5, 0.0, 0.0), (0.5, 0.05, 1e-6)]
    sure, doubtful = information([part], 0.002), information([part], 0.002, [(0.03, 0.1)])
    assert math.log(2) == pytest.approx(sure, abs=1e-3) and 0.9 * sure < doubtful < sure
    assert information([part], 0.002, [(0.03, 0.1)], glance=True) == pytest.approx(doubtful, rel=0.15)
