"""The second side of a part: how far it runs out to the first, which the chuck holds."""

from __future__ import annotations

from nonna.procedures.evaluation import Evaluation
from nonna.stations.lathe.procedures.chuck.evaluate import evaluate as of_the_chuck
from nonna.stations.lathe.procedures.second_side.model import SecondSideReadings

OVAL_MM = 0.005  #: what jaws make of a bored or thin part


def evaluate(file: SecondSideReadings) -> Evaluation:
    """As the chuck's run-out, of the second side while the first one is clamped: twice the eccentricity of the two."""
    return of_the_chuck(file, OVAL_MM)
