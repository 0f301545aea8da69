"""Presetter transfer: everything together."""

from __future__ import annotations

from nonna.procedures.presetter_transfer import LISTED
from nonna.procedures.presetter_transfer.evaluate import evaluate
from nonna.procedures.presetter_transfer.figure import figure
from nonna.procedures.presetter_transfer.hands import slots, steps
from nonna.procedures.presetter_transfer.model import TransferReadings
from nonna.procedures.sheet import Caution, Procedure

PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tools-both-ways"},
    steps=steps,
    figure=figure,
    model=TransferReadings,
    main=("transfer_mm",),
    main_title="Machine less presetter",
    foreseeable=False,
    reads={},
    offered={"model": "offset", "limit_mm": 0.02, "resolution_mm": 0.001},
    caution=Caution("Sharp edges", "Carry tools by the holder. On the machine its own cautions hold."),
)
