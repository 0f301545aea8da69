"""A spindle that takes its time to stand, and is never turned faster than it, or what it holds, may."""

from __future__ import annotations

from nonna.shop.cards.machine import Machine, Tool

ORIENT_S = 1.5  #: to stop, turn to an angle and lock


class Spindle:
    """Direction, speed, angle, and when it will stand still."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self.turning, self.rpm = 0, 0.0
        self.angle: float | None = None  #: held there
        self._stands_s = 0.0  #: clock time from which on it stands

    def turn(self, direction: int, rpm: float, clock_s: float, tool: Tool | None) -> tuple[str, str] | None:
        """Turn it (1 clockwise, -1 counter-clockwise, 0 stop). Returns a problem's code and words, None when it may."""
        self.angle = None
        if not direction:
            self._run_down(clock_s)
            return None
        self.turning, self.rpm = direction, rpm
        if rpm <= 0.0:
            self.turning = 0
            return "overspeed", "the spindle is started without a speed: nobody knows how fast it turns"
        return self._too_fast(rpm, tool)

    def _too_fast(self, rpm: float, tool: Tool | None) -> tuple[str, str] | None:
        most, whose = self._machine.max_rpm, self._machine.name
        if tool is not None and tool.max_rpm is not None and tool.max_rpm < most:
            most, whose = tool.max_rpm, f"T{tool.number}"
        if rpm <= most:
            return None
        return "overspeed", f"{rpm:g} rpm is more than {whose} may turn: {most:g} at most"

    def halt(self) -> None:
        """Stand at once, as after a change by the machine itself."""
        self.turning, self.rpm, self.angle, self._stands_s = 0, 0.0, None, 0.0

    def orient(self, degrees: float) -> None:
        """Turn to an angle and hold it."""
        self.halt()
        self.angle = degrees

    def stands(self, clock_s: float) -> bool:
        """Whether it stands still by a time."""
        return not self.turning and clock_s >= self._stands_s

    def wait_for_stop(self, clock_s: float) -> float:
        """Return the time at which it stands, where it was stopped; now where it turns or stands."""
        return clock_s if self.turning else max(clock_s, self._stands_s)

    def _run_down(self, clock_s: float) -> None:
        if self.turning:
            self._stands_s = clock_s + self._machine.spindle_run_down_s * self.rpm / self._machine.max_rpm
        self.turning, self.rpm = 0, 0.0
