"""Tool from the presetter: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("tool-from-presetter")


SENTENCES = {
    "length": "Length {value:length}, ± {U:small}, put right for this machine.",
    "diameter": "Diameter {value:length}, ± {U:small}.",
    "agrees": "The machine's own setter said {own:length}: {d:signed} from that, within the doubt of both (± "
    "{U:small}).",
    "differs": "The machine's own setter said {own:length}: {d:signed} from that, more than the doubt of both (± "
    "{U:small}).",
    "recalibrated": "The setter was calibrated again since the transfer: its plane counts twice until the transfer "
    "is done anew.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Is it the right tool, well seated and clean? Touch it once on the machine's own setter.",
    "undecided": "Measure it on the machine's own setter if it has to be within the limit.",
}
