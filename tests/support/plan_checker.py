"""A second pair of eyes on written programs: reads and runs them apart from the product, with tools as clouds of
points.

Nothing of the product is imported. A program is walked in small steps; whatever comes nearer than it may is said in
words.
"""

import math
import re

STEP, FAR = 0.2, 2.0  #: mm between places looked at; far above the pad


class Stop(Exception):
    """The machine would stop here: an alarm of its own, or of the program's."""


def cloud(tool):
    """Return points (radius, height above the tip) of a tool's cutting end and body."""
    d, kind = tool["diameter_mm"], tool["kind"]
    r, rc, tip = d / 2, tool.get("corner_radius_mm", 0.0), tool.get("tip_diameter_mm", 0.0)
    angle = tool.get("point_angle_deg", 0.0)
    rings = [r * i / 60 for i in range(61)]
    if kind in ("drill", "spot-drill"):
        slope = math.tan(math.radians(angle or (118 if kind == "drill" else 90)) / 2)
        points = [(q, q / slope) for q in rings]
    elif kind in ("ball-mill", "probe"):
        points = [(q, r - math.sqrt(max(r * r - q * q, 0.0))) for q in rings]
    elif kind == "chamfer-mill":
        points = [(q, max(0.0, q - tip / 2)) for q in rings]
    elif kind in ("face-mill", "thread-mill") or (kind == "end-mill" and not tool.get("centre_cutting", True)):
        inner = r - rc - min(12.0, d / 4) if kind != "end-mill" else 0.15 * d
        points = [(q, _corner(q, r, rc)) for q in rings if q >= max(inner, 0.0) - 1e-9]
    elif kind == "boring-bar":
        points = [(q, 0.0 if q >= r - max(rc, 1.0) - 1e-9 else 1.5) for q in [*rings, r - max(rc, 1.0)]]
    elif kind == "slitting-saw":
        screw = (tip or max(6.0, 0.2 * d)) / 2
        points = [(q, -0.5 * screw if q <= screw else 0.0) for q in [*rings, screw]]
    elif kind == "reamer":
        points = [(q, max(0.0, q - (r - 0.15 * d))) for q in rings]
    elif kind == "tap":
        points = [(q, max(0.0, (q - 0.3 * d) / (0.2 * d) * 0.8 * d)) for q in rings]
    else:
        points = [(q, _corner(q, r, rc)) for q in rings]
    top = max(h for _, h in points)
    return points, r, top


def _corner(q, r, rc):
    into = q - (r - rc)
    return rc - math.sqrt(max(rc * rc - into * into, 0.0)) if into > 0 and rc else 0.0


class Checker:
    def __init__(self, machine, tools, branching, lengths):
        self.m, self.s, self.branching = machine, machine["setter"], branching
        self.tools, self.lengths = {t["number"]: t for t in tools}, lengths
        travel = machine["travel_mm"]
        self.at = [sum(travel["x"]) / 2, sum(travel["y"]) / 2, travel["z"][1]]
        self.v, self.tool, self.spin, self.oriented, self.stood = {5220: 1.0}, 0, 0, None, 0.0
        self.clock, self.absolute, self.feed, self.motion = 0.0, True, 0.0, 0
        self.said, self.touched, self.pressed, self.asked = [], [], None, False

    def say(self, line, words):
        self.said.append(f"line {line}: T{self.tool} {words}")

    def number(self, text):
        """Work out a number: our programs use parameters, sums, products and ABS alone."""
        text = re.sub(r"#\[", "#[", text.strip())
        while "#" in text:
            inner = re.search(r"#(\d+)|#\[([^\[\]#]*(?:\[[^\[\]#]*\][^\[\]#]*)*)\]", text)
            key = int(inner[1]) if inner[1] else round(self.number(inner[2]))
            text = text[: inner.start()] + f"({self.v.get(key, 0.0)!r})" + text[inner.end() :]
        plain = text.replace("[", "(").replace("]", ")").replace("ABS", "abs")
        assert re.fullmatch(r"[0-9eE+\-*/(). abs]*", plain), plain
        return float(eval(plain, {"__builtins__": {}}, {"abs": abs}))  # digits, signs and abs: checked above

    def run(self, text):
        rows = [re.sub(r"\([^()]*\)", "", row).strip() for row in text.splitlines()]
        labels = {int(m[1]): i for i, row in enumerate(rows) if (m := re.match(r"N(\d+)", row))}
        i = 0
        while i < len(rows):
            row, line = re.sub(r"^N\d+\s*", "", rows[i]), i + 1
            i += 1
            if row in ("", "%"):
                continue
            if m := re.fullmatch(r"(?:IF \[(.*) (LT|GT) (.*)\] )?GOTO (\d+)", row):
                if m[1] is None or (self.number(m[1]) < self.number(m[3])) == (m[2] == "LT"):
                    i = labels[int(m[4])]
                continue
            if m := re.fullmatch(r"#(\d+) = (.*)", row):
                self.v[int(m[1])] = self.number(m[2])
                continue
            if self.block(row, line):
                return
        self.say(len(rows), "the text runs out without an end")

    def block(self, row, line):
        words = re.findall(r"([A-Z])((?:\[(?:[^\[\]]|\[(?:[^\[\]]|\[[^\[\]]*\])*\])*\])|#\d+|-?[\d.]+)", row)
        assert "".join(a + b for a, b in words) == row.replace(" ", "") or "[" in row, row
        gs = [float(b) for a, b in words if a == "G"]
        ms = [int(b) for a, b in words if a == "M"]
        value = {a: self.number(b) for a, b in words if a not in "GM"}
        for g in gs:
            self.absolute = {90.0: True, 91.0: False}.get(g, self.absolute)
            self.motion = g if g in (0.0, 1.0, 31.0, 38.2) else self.motion
        self.feed = value.get("F", self.feed)
        if 4.0 in gs:
            self.clock += value["P"]
        for m in ms:
            self.word(m, value, line)
        target = list(self.at)
        for k, axis in enumerate("XYZ"):
            if axis in value:
                target[k] = value[axis] if self.absolute else self.at[k] + value[axis]
        if target != self.at:
            self.go(target, line)
        if 0 in ms:
            self.asked, self.clock = True, max(self.clock, self.stood)
        if ms and ms[-1] in (2, 30):
            if self.spin or self.pressed or not self.absolute:
                self.say(line, "it ends turning, pressed or in G91")
            return True
        return False

    def word(self, m, value, line):
        if m in (3, 4):
            self.spin, self.rpm, self.oriented = (1 if m == 3 else -1), value["S"], None
            limit = min(self.m["max_rpm"], self.tools[self.tool].get("max_rpm") or 1e9)
            if not 0 < self.rpm <= limit + 0.5:
                self.say(line, f"turns at {self.rpm}, {limit} at most")
        elif m == 5:
            if self.spin:
                self.stood = self.clock + self.m.get("spindle_run_down_s", 2.0) * self.rpm / self.m["max_rpm"]
            self.spin, self.oriented = 0, None
        elif m == 19:
            if not self.m.get("spindle_orient"):
                self.say(line, "is oriented by a spindle that cannot be")
            self.spin, self.oriented = 0, value.get("R", 0.0)
        elif m == 6:
            if self.pressed or (self.spin and not self.m["pocket_count"]):
                self.say(line, "is changed while pressed or turning")
            self.tool, self.asked, self.spin, self.stood = int(value["T"]), False, 0, 0.0
            self.points, self.r, self.top = cloud(self.tools[self.tool])
            self.long = self.lengths[self.tool]
            self.look(self.at, line, "stands")

    def pad(self, x, y):
        """Return how far beside the pad a place is (below 0: over it)."""
        s = self.s
        dx, dy, hx, hy = abs(x - s["x_mm"]), abs(y - s["y_mm"]), s["width_x_mm"] / 2, s["width_y_mm"] / 2
        if s["shape"] == "disc":
            return math.hypot(dx, dy) - min(hx, hy)
        return math.hypot(max(dx - hx, 0), max(dy - hy, 0)) if max(dx - hx, dy - hy) > 0 else max(dx - hx, dy - hy)

    def reach_of_pad(self, x, y):
        """Return nearest and farthest distance of the pad from the spindle's axis."""
        s = self.s
        dx, dy, hx, hy = abs(x - s["x_mm"]), abs(y - s["y_mm"]), s["width_x_mm"] / 2, s["width_y_mm"] / 2
        far = math.hypot(dx, dy) + min(hx, hy) if s["shape"] == "disc" else math.hypot(dx + hx, dy + hy)
        return max(0.0, self.pad(x, y)), far

    def deep(self, at):
        """Return how far the tool pushes into the setter's column (0: not), and the height of what touches it."""
        if not self.tool:
            return 0.0, 0.0
        near, far = self.reach_of_pad(at[0], at[1])
        below = self.s["trigger_plane_mm"] - (at[2] - self.long)
        over = [(below - h, h) for q, h in self.points if near - 0.02 <= q <= far + 0.02 and h < below]
        side = max((q for q, h in self.points if h <= below), default=-1.0) - near
        if not over or (near > 0.0 and side <= 0.0) or (below > self.top and near > self.r):
            return 0.0, 0.0
        down, h = max(over)
        return (min(down, side), h) if near > 0.0 else (down, h)

    def look(self, at, line, how):
        """Nothing may be met but the setter's pad by a tip that searches for it."""
        travel = self.m["travel_mm"]
        for k, axis in enumerate("xyz"):
            if not travel[axis][0] - 1e-6 <= at[k] <= travel[axis][1] + 1e-6:
                self.say(line, f"{how} beyond the travel in {axis}: {at[k]:.3f}")
        if not self.tool:
            return
        tip = at[2] - self.long + min(0.0, min(h for _, h in self.points))
        foot = self.s["trigger_plane_mm"] - self.s["height_mm"]
        if tip < foot - 1e-6:
            self.say(line, f"{how} in the table")
        for box in self.m.get("obstacles", []):
            a, b = box["box_mm"]
            beside = math.hypot(max(a[0] - at[0], at[0] - b[0], 0), max(a[1] - at[1], at[1] - b[1], 0))
            if beside < self.r - 1e-6 and tip < max(a[2], b[2]) - 1e-6:
                self.say(line, f"{how} in {box['name']}")

    def go(self, target, line):
        searching, start = self.motion in (31.0, 38.2), list(self.at)
        way = [b - a for a, b in zip(start, target, strict=True)]
        long = math.dist(start, target)
        if self.motion == 38.2 and long < 0.254:
            self.say(line, f"searches {long:.3f} mm, too short for the language")
        if self.pressed:
            axis, off = self.pressed
            if any(abs(w) > 1e-6 for k, w in enumerate(way) if k != axis) or way[axis] * off < 0:
                self.say(line, "goes on sideways or further while it presses the sensor")
        low = min(start[2], target[2]) - (self.long if self.tool else 0.0)
        near = low < self.s["trigger_plane_mm"] + 1.0 and self.tool
        count, was = max(2, math.ceil(long / (STEP if near else FAR))), self.deep(start)[0]
        for i in range(1, count + 1):
            at = [a + w * i / count for a, w in zip(start, way, strict=True)]
            self.look(at, line, "goes")
            now, h = self.deep(at)
            if now > 0.0 and now > was + 1e-6:
                if not searching:
                    self.say(line, f"{'rapid' if self.motion == 0 else 'feed'} into the setter")
                    break
                self.touch(start, at, way, h, line)
                return
            was = now
        self.clock += long / (self.feed / 60.0 if self.motion else 300.0)
        self.at = target
        if self.pressed and self.deep(self.at)[0] <= 1e-6:
            self.pressed = None
        if searching:
            self.v |= {5061 + k: self.at[k] for k in range(3)}
            if self.motion == 38.2:
                raise Stop("no trigger")

    def touch(self, start, at, way, h, line):
        """The sensor triggers: by the right end, at a feed it stands, turning as it must."""
        tool, axis = self.tools[self.tool], max(range(3), key=lambda k: abs(way[k]))
        off = math.copysign(1.0, -way[axis])
        for _ in range(40):  # to the micrometre
            middle = [(a + b) / 2 for a, b in zip(start, at, strict=True)]
            start, at = (start, middle) if self.deep(middle)[0] > 0.0 else (middle, at)
        if axis == 2 and abs(self.deep(at)[1]) > 0.02:
            self.say(line, f"is touched {self.deep(at)[1]:.2f} mm off its tip")
        if axis != 2:
            below = self.s["trigger_plane_mm"] - (at[2] - self.long)
            wide = max((q for q, g in self.points if g <= below), default=0.0)
            if wide < self.r - 0.02:
                self.say(line, f"is touched where it is {2 * wide:.2f} wide")
        away = math.hypot(at[0] - self.s["x_mm"], at[1] - self.s["y_mm"])
        flat = tool["kind"] not in ("drill", "spot-drill", "ball-mill", "probe", "master")
        edge = tool["kind"] != "boring-bar" and (
            axis != 2 or (away > min(0.8, self.r / 8, (tool.get("tip_diameter_mm") or 99) / 8) and flat)
        )
        if edge and tool["kind"] not in ("probe", "master") and self.oriented is None:
            if self.spin != (-1 if tool.get("hand", "right") == "right" else 1):
                self.say(line, "is touched at its edge and does not turn backwards")
        elif not edge and self.spin and axis == 2:
            self.say(line, "is touched at its middle and turns")
        if tool["kind"] == "boring-bar" and self.oriented is None and not self.asked:
            self.say(line, "its edge may be anywhere")
        if not self.spin and self.clock < self.stood:
            self.say(line, "is touched before the spindle stands")
        v, a = self.feed / 60.0, self.m["acceleration_mm_s2"]["z" if axis == 2 else "xy"]
        late = v * self.m["trigger_latency_s"] + v * v / (2 * a) + (self.feed / self.rpm if self.spin else 0.0)
        if late > self.s["overtravel_mm"]:
            self.say(line, f"runs {late:.2f} mm on")
        self.v |= {5061 + k: at[k] for k in range(3)}
        self.touched.append((self.tool, axis))
        self.at = list(at)
        self.at[axis] -= off * (v * self.m["trigger_latency_s"] + v * v / (2 * a))
        if self.deep(self.at)[0] > 1e-6:
            self.pressed = (axis, off)
