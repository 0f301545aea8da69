"""Home check: one touch of a pin that never changes, after each start; how far did the home move?"""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "home-check", "Home check", Subject.of("Machine"), offers={f"home.pin_{axis}": f"pin_{axis}_mm" for axis in "xyz"}
)
