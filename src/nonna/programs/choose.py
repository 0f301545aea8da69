"""How a tool may be touched: for now, whether it can be touched standing still at its centre."""

from __future__ import annotations

from nonna.shop.machine import Tool

SAFE_PART_MM = 6.0
SAFE_SHARE = 0.6
_CENTRE_KINDS = ("drill", "spot-drill", "tap", "reamer", "ball-mill", "probe", "master")


def centre_will_do(kind: str, diameter_mm: float, pad_width_mm: float) -> bool:
    """Say whether a tool's centre web, point or whole end lies on the pad's safe part."""
    if kind in _CENTRE_KINDS:
        return True
    return kind == "end-mill" and diameter_mm <= min(SAFE_PART_MM, SAFE_SHARE * pad_width_mm)


def refusal_at_centre(tool: Tool, pad_width_mm: float) -> str:
    """Say why a tool must not be touched standing still at its centre; "" when it may."""
    if centre_will_do(tool.kind, tool.diameter_mm, pad_width_mm) and (tool.kind != "end-mill" or tool.centre_cutting):
        return ""
    return (
        f"{tool.description or tool.kind} does not lie on the pad with its centre: it must turn backwards over the rim."
    )
