"""What stands in a job's list of things to fetch until the shop's own names are known."""

MASTER = "master"  #: the master the loop rests on
RING = "ring"
DIAL = "indicator"
ARTEFACT = "artefact"  #: one not used in any calibration
