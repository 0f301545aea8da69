"""Safe feeds on a sheet of their own: what the sensor's give, the machine and the smallest tool allow, and why."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.bench.form_fields import Asked
from nonna.bench.job.feed_advice import USUAL_MM_MIN, feed_advice
from nonna.desk.forms.form_dialog import FormDialog
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_number
from nonna.shop.cards.machine import Machine
from nonna.wording.lengths import Units, small
from nonna.wording.lengths import feed as feed_number

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

_FIELDS = (
    ("latency", "Trigger comes late by", "ms"), ("jitter", "... give or take", "ms"),
    ("deceleration", "Machine brakes with", "mm/s²"),
    ("overtravel", "Sensor gives way by", "mm"), ("tool", "Smallest tool bears", "mm"),
    ("accuracy", "Accuracy wanted", "µm"),
    ("rpm", "Turning at", "rpm, 0 standing still"),
)  # fmt: skip


def feed_dialog(machine: Machine | None, units: Units, parent: QWidget) -> FormDialog:
    """Open the calculator with the machine's own figures; every change is worked out at once."""
    setter = machine.setter if machine else None
    start = {
        "latency": f"{machine.trigger_latency_s * 1000:g}" if machine else "2",
        "jitter": f"{machine.trigger_jitter_s * 1000:g}" if machine else "0.2",
        "deceleration": f"{machine.acceleration_mm_s2.z:g}" if machine else "2500",
        "overtravel": f"{setter.overtravel_mm:g}" if setter else "4", "tool": "0.05", "accuracy": "2", "rpm": "0",
    }  # fmt: skip
    fields = [Asked(name, title, start[name], unit=unit) for name, title, unit in _FIELDS]
    dialog = FormDialog("Safe feeds", "Esc leaves. Nothing here changes a plan.", fields, parent, action="")

    def work_out(values: dict[str, str]) -> None:
        try:
            dialog.say(words(values, units))
        except NonnaError as error:
            dialog.say(error.message, "bad")

    dialog.edited.connect(work_out)
    work_out(dialog.values())
    return dialog


def words(values: dict[str, str], units: Units) -> str:
    """Work the feeds out and say them with their reasons. Raises: NonnaError naming the field."""
    got = {name: parse_number(values[name], title, name) for name, title, _ in _FIELDS}
    for name, title, _ in _FIELDS:
        least = 0.0 if name in ("latency", "jitter", "overtravel", "tool", "rpm") else 1e-9
        if got[name] < least:
            raise NonnaError(
                "out-of-range",
                "{title}: {value} is wanted.",
                name,
                title=title,
                value="0 or more" if least == 0.0 else "more than 0",
            )
    late, a, give = got["latency"] / 1000.0, got["deceleration"], got["overtravel"]
    room = give + got["tool"]
    if room <= 0.0:
        raise NonnaError(
            "out-of-range", "A sensor and a tool that give nothing at all cannot be touched at any feed.", "overtravel"
        )
    advice = feed_advice(
        room_mm=room, latency_s=late, jitter_s=got["jitter"] / 1000.0, deceleration_mm_s2=a,
        accuracy_mm=got["accuracy"] / 1000.0, rpm=got["rpm"],
    )  # fmt: skip
    feeds = advice.feeds
    per_minute = f"{units.symbol}/min"

    def feed(mm_min: float) -> str:
        return f"{feed_number(mm_min, units)} {per_minute}"

    scatter = feeds.slow_mm_min / 60.0 * got["jitter"] / 1000.0
    turn = f", {small(feeds.slow_mm_min / got['rpm'], units)} a turn" if got["rpm"] else ""
    middle = f" Between them {feed(feeds.middle_mm_min)}: it saves time." if feeds.middle_mm_min else ""
    run_on = advice.usual_runs_on_mm
    said = [
        f"Fast touch {feed(feeds.fast_mm_min)}: the machine runs on "
        f"{small(advice.fast_runs_on_mm, units)} of the "
        f"{small(room, units)} there are. At {feed(advice.used_up_mm_min)} all of it would be used up.",
        f"Slow touch {feed(feeds.slow_mm_min)}{turn}: the trigger scatters by {small(scatter, units)}.{middle}",
    ]
    if run_on > give:
        said.append(
            f"At {feed(USUAL_MM_MIN)} the machine runs on {small(run_on, units)}. A sensor that gives "
            f"{small(give, units)} leaves {small(run_on - give, units)} to the tool: that is how small drills break."
        )
    return "\n".join(said)
