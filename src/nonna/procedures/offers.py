"""What sheets give to one another, by a name of its own: who needs it does not know which procedure measures it.

A procedure says in its folder's `LISTED` what it offers, and in `needs` what it takes; names beyond these are its own.
"""

TRIGGER_PLANE = "setter.plane"
SETTER_WIDTH_X, SETTER_CENTRE_X = "setter.width-x", "setter.centre-x"
SETTER_WIDTH_Y, SETTER_CENTRE_Y = "setter.width-y", "setter.centre-y"
TOUCH_SCATTER = "touch.scatter"  #: standard deviation of single touches
TRIGGER_LATENESS = "trigger.lateness"
PROBE_LENGTH = "probe.length"
BALL_RADIUS, BALL_DIAMETER = "ball.radius", "ball.diameter"
TOOL_LENGTH = "tool.length"  #: as touched on its own machine
TOOL_LENGTH_HERE = "tool.length-here"  #: for its own machine, however it was measured
TOOL_EDGES = "tool.edges"  #: how far each edge stands back
BREAKAGE_TOLERANCE = "breakage.tolerance"
ON_PRESETTER = "presetter.tool"  #: a tool's length as the presetter has it
FROM_PRESETTER = "presetter.tool-here"  #: the same, put right for a machine
TRANSFER = "presetter.transfer"  #: what one more tool's length is off by on a machine
RACK_POCKETS = "rack.pockets"
DAILY_CHECK = "check.daily"  #: one touch proves the setter, or trips it
