"""What it says."""

from nonna.procedures.telling import saying

said = saying("feeler-zero")
SENTENCES = {"found": "The feeler's zero stands at {z:length}.", "sign": "Sign it."}
