"""The dialects that come along."""

from nonna.programs.dialects.listing import dialect_of

RS274, BRANCH = dialect_of("rs274"), dialect_of("branch")
