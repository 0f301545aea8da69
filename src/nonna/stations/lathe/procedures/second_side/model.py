"""Second side of a part: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from nonna.stations.lathe.procedures.chuck.model import TurnedReadings


class SecondSideReadings(TurnedReadings):
    """Readings file of a part's second side."""

    procedure: Literal["second-side"]
