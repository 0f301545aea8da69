"""Planes, harmonics and circles: published examples, an independent solver, and geometry that cannot tell."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import least_squares

from nonna.errors import NonnaError
from nonna.metrology.doubt.fits import fit_harmonics, fit_plane
from nonna.metrology.shapes.centring import Pass, apart, learned_gains, moves, passes_left
from nonna.metrology.shapes.circles import fit_circles, largest_gap


def test_a_published_circle_fit_to_its_printed_digits():
    """Gander, Golub and Strebel, BIT 34 (1994) 558-578: six points, geometric fit."""
    fit = fit_circles([[(1, 7), (2, 6), (5, 8), (7, 7), (9, 5), (3, 7)]])
    assert [round(float(c), 4) for c in (*fit.centres[0], fit.radius)] == [4.7398, 2.9835, 4.7142]


def general_solver(points, start):
    """The same circle by SciPy's general solver with its own derivatives."""
    shift = points.mean(axis=0)
    x, y = (points - shift).T

    def miss(b):
        return np.hypot(x - b[0], y - b[1]) - b[2]

    def slope(b):
        d = np.hypot(x - b[0], y - b[1])
        return np.column_stack(((b[0] - x) / d, (b[1] - y) / d, -np.ones(x.size)))

    found = least_squares(miss, start, slope, xtol=1e-15, ftol=1e-15, gtol=1e-15, method="lm")
    return np.array([*(found.x[:2] + shift), found.x[2]])


@given(
    arc=st.floats(10, 360), n=st.integers(3, 400), radius=st.floats(0.1, 200), away=st.floats(0, 5),
    turn=st.floats(0, 6.28), seed=st.integers(0, 10_000), noise=st.floats(-8, -4.3),
)  # fmt: skip
def test_circles_agree_with_a_general_solver(arc, n, radius, away, turn, seed, noise):
    t = turn + np.linspace(0, math.radians(arc), n, endpoint=arc < 355)
    middle = np.array([math.cos(turn), math.sin(turn)]) * (10**away - 1) * radius
    scatter = np.random.default_rng(seed).normal(0, 10**noise * radius * (arc / 360) ** 2, (n, 2))
    points = middle + radius * np.column_stack((np.cos(t), np.sin(t))) + scatter
    fit = fit_circles([points])
    ours = np.array([*fit.centres[0], fit.radius])
    shift = points.mean(axis=0)
    other = general_solver(points, [*(ours[:2] - shift + 0.003 * radius), ours[2] * 1.002])
    rounding = 4 * np.finfo(float).eps * (abs(middle).max() + radius) * (360 / arc) ** 4  # what the data can carry
    assert np.abs(ours - other).max() <= 1e-9 * radius + rounding


@given(seed=st.integers(0, 10_000), n=st.integers(4, 40), e=st.floats(0, 0.1))
def test_two_orientations_share_one_radius(seed, n, e):
    dice = np.random.default_rng(seed)
    t = np.linspace(0, 2 * math.pi, n, endpoint=False)
    groups = [
        np.column_stack((np.cos(t), np.sin(t))) * 22 + [700 + s * e, 60 - s * e] + dice.normal(0, 1e-3, (n, 2))
        for s in (1, -1)
    ]
    fit = fit_circles(groups)
    start = np.array([*fit.centres.ravel(), fit.radius]) + 1e-3

    def miss(b):
        return np.concatenate([np.hypot(*(g - b[2 * i : 2 * i + 2]).T) - b[4] for i, g in enumerate(groups)])

    other = least_squares(miss, start, xtol=1e-15, ftol=1e-15, gtol=1e-15)
    assert np.abs(other.x - [*fit.centres.ravel(), fit.radius]).max() < 1e-7
    assert 2 * other.cost >= sum(float(r @ r) for r in fit.residuals) * (1 - 1e-8)
    assert fit.scatter.dof == 2 * n - 5


@pytest.mark.parametrize(
    "points",
    [
        [(0, 0), (1, 1), (2, 2), (3, 3)],
        [(5, 5)] * 4,
        [(0, 0), (0, 0), (1, 0), (1, 0)],
        [(700 + x, 60 + 2 * x + 1e-9 * x * x) for x in range(5)],
    ],
)
def test_what_is_no_circle_is_said_not_guessed(points):
    with pytest.raises(NonnaError) as caught:
        fit_circles([points])
    assert (caught.value.code, caught.value.where) == ("degenerate-geometry", "readings")


@given(c=st.floats(-400, 400), sx=st.floats(-0.1, 0.1), sy=st.floats(-0.1, 0.1), x0=st.floats(-1e4, 1e4))
def test_a_plane_comes_back_wherever_it_stands(c, sx, sy, x0):
    x, y = np.array([0.0, 5, -5, 0, 0, 3]) + x0, np.array([0.0, 0, 0, 5, -5, 3]) - x0
    fit = fit_plane(x, y, c + sx * x + sy * y)
    assert fit.coefficients[1:] == pytest.approx([sx, sy], abs=1e-9)
    assert fit.scatter.variance < 1e-18


def test_a_plane_agrees_with_the_textbook_solution():
    rng = np.random.default_rng(3)
    x, y, z = rng.normal(0, 5, 9), rng.normal(0, 5, 9), rng.normal(0, 0.01, 9)
    fit = fit_plane(x, y, z)
    design = np.column_stack((np.ones(9), x, y))
    expected, rest, *_ = np.linalg.lstsq(design, z, rcond=None)
    assert fit.coefficients == pytest.approx(expected)
    assert fit.spread == pytest.approx(np.linalg.inv(design.T @ design))
    assert fit.scatter.variance == pytest.approx(float(rest[0]) / 6)
    with pytest.raises(NonnaError):
        fit_plane([1, 2, 3, 4], [2, 4, 6, 8], [0, 0, 0, 1])


def test_even_angles_give_the_fourier_sums():
    t = np.arange(12) * math.pi / 6
    y = np.random.default_rng(4).normal(0, 1, 12)
    fit = fit_harmonics(t, y, (1, 3))
    assert fit.coefficients[1:] == pytest.approx(
        [2 / 12 * float(y @ f(n * t)) for n in (1, 3) for f in (np.cos, np.sin)]
    )
    assert fit.u(0, 1, 0, 0, 0) == pytest.approx(math.sqrt(2 / 12))


def test_the_largest_gap_goes_round_the_back():
    points = [(math.cos(math.radians(a)), math.sin(math.radians(a))) for a in (350, 10, 100)]
    assert math.degrees(largest_gap((0, 0), points)) == pytest.approx(250)


def dialled_in(dice, screws=(0, 90, 180, 270), by_key=False):
    """Passes until a hidden run-out of 100 µm is truly within 3 µm, by somebody who does what is advised."""
    high = dice.uniform(0, 2 * math.pi)
    ball = 0.05 * np.array([math.cos(high), math.sin(high)])
    gains = {s: 0.0005 * 3.0 ** dice.uniform(-1, 1) for s in screws}  # mm a degree of key: nobody knows
    earlier = []
    t = np.radians(np.arange(0, 360, 45))
    for number in range(1, 10):
        dial = np.round((ball[0] * np.cos(t) + ball[1] * np.sin(t) + dice.normal(0, 0.0003, 8)) / 0.001) * 0.001
        _, a, b = fit_harmonics(t, dial).coefficients
        if 2 * math.hypot(a, b) <= 0.003:
            return number if 2 * np.hypot(*ball) <= 0.0036 else 99
        turned = {}
        for move in moves(a, b, screws, 0.001, earlier):
            way = np.array([math.cos(math.radians(move.screw_deg)), math.sin(math.radians(move.screw_deg))])
            if by_key and move.key_deg:
                done = move.key_deg * gains[move.screw_deg]
            else:  # watch the dial, in whole micrometres; it springs back a little when the key is let go
                done = max(0.001, round(move.drop_mm, 3))
            done = done * dice.uniform(0.85, 1.05) + dice.uniform(-0.0005, 0.0005)
            ball = ball - way * done
            turned[move.screw_deg] = done / gains[move.screw_deg]
        earlier.append(Pass(a, b, turned))
    return 99


@pytest.mark.parametrize("by_key", [False, True])
def test_the_screw_advice_converges(by_key):
    dice = np.random.default_rng(11)
    passes = [dialled_in(dice, by_key=by_key) for _ in range(200)]
    assert sum(p <= 6 for p in passes) >= 190, np.bincount(passes)


def test_screw_advice_by_hand():
    (first, second) = moves(0.010 * math.cos(math.radians(30)), 0.005, [0, 90, 180, 270], 0.001)
    assert (first.screw_deg, first.opposite_deg) == (0, 180)
    assert first.drop_mm == pytest.approx(0.8 * 0.010 * math.cos(math.radians(30)))
    assert (second.screw_deg, second.drop_mm) == (90, pytest.approx(0.8 * 0.005))
    (fine,) = moves(0.001, 0.0, [0, 90, 180, 270], 0.001)
    assert fine.drop_mm == pytest.approx(0.001)  # all of it, never more than half the run-out
    assert moves(0.0, 0.0, [0], 0.001) == ()
    assert learned_gains([Pass(0.02, 0, {0.0: 20.0}), Pass(0.01, 0, {0.0: 10.0}), Pass(0.005, 0)]) == {
        0.0: pytest.approx(0.0005)
    }
    assert apart(350, 10) == pytest.approx(-20)
    assert [passes_left(s, 3) for s in ([2], [9], [81, 27, 9], [9, 9], [0.0])] == [0, None, 1, None, 0]
