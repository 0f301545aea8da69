"""A tool measured on a calibrated presetter."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed("presetter-tool", "Tool on the presetter", ANY, offers={offers.ON_PRESETTER: "length_mm"})
