"""Presetter transfer: the same tools on the presetter and on a machine, and what one more is then good for."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PRESETTER

LISTED = Listed("presetter-transfer", "Presetter transfer", PRESETTER, offers={offers.TRANSFER: "transfer_mm"})
