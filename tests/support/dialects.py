"""The dialects that come along; one that was taken out leaves the usual one in its place."""

from nonna.programs.dialects.listing import dialects

DIALECTS = {dialect.key: dialect for dialect in dialects()}
RS274 = DIALECTS["rs274"]
BRANCH = DIALECTS.get("branch", RS274)
PLAIN_OR_BRANCHING = (RS274, BRANCH)
