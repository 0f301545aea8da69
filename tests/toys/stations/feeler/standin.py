"""The toy's stand-in: a true zero that only it knows."""

from nonna.standin.wishes import Measured, Standin

TRUE_ZERO_MM = 1.2345


def measure(job, world, watch=None):
    if watch is not None:
        watch(1, 1, 0.1)
    if job.taking not in ("repeated-touch", "block-felt"):
        raise job.refused("feeler's ")
    count = 10 if job.taking == "repeated-touch" else 3
    field = "value_mm" if job.taking == "repeated-touch" else "position_mm"
    height = float(job.setup.get("height_mm", 0.0))
    return Measured([{field: round(height + TRUE_ZERO_MM + 1e-4 * (i % 3), 4)} for i in range(count)], "")


STANDIN = Standin(measure)
