"""Chuck run-out: a part or bar probed at angles of the chuck, or the second side against the first."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed("chuck-runout", "Chuck run-out", Subject.of("Chuck"))
