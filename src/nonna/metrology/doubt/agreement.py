"""The E_n number: whether an error is no larger than the two doubts that meet in it (ISO 13528, ISO/IEC 17043)."""

from __future__ import annotations

import math

from nonna.metrology.doubt.coverage import coverage_factor
from nonna.metrology.doubt.uncertain import Estimate

CERTIFICATE_K = 2.0  #: of the certificate's part


def en_number(error: Estimate, certificate: str) -> float:
    """Return ``|error| / sqrt(U_measured² + U_certificate²)``.

    The measuring part's factor is formed from its own sources: k = 2 would fail one sound proof in seven after two
    touches. Parameters: error, with its budget; certificate, the field its certified value stands in.
    """
    measuring = error.part(certificate)
    measured = math.hypot(*(source.u for source in measuring))
    certified = math.hypot(*(row.u for row in error.budget if row.field == certificate))
    expanded = coverage_factor(measuring) * measured if measured > 0.0 else 0.0
    return abs(error.value) / math.hypot(expanded, CERTIFICATE_K * certified)
