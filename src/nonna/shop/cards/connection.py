"""Where an instrument is and how it is spoken to: part of its card."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from nonna.shop.texts.strict_model import Strict

Parity = Literal["none", "even", "odd"]
LineEnd = Literal["lf", "cr"]


@dataclass(frozen=True, slots=True)
class Connection:
    """A serial port or a socket with its settings; a socket has none."""

    url: str  #: /dev/ttyUSB0, COM3 or socket://name:number; "": not connected
    baud: int = 9600
    parity: Parity = "none"
    data_bits: int = 8
    stop_bits: int = 1
    line_end: LineEnd = "lf"


UNCONNECTED = Connection("")


class Connected(Strict):
    """What the card of an instrument that sends its readings says of its line."""

    port: str = Field("", title="Port or socket", max_length=200, examples=["/dev/ttyUSB0, COM3, socket://name:4001"])
    baud: int = Field(9600, title="Baud rate", ge=50, le=4_000_000)
    parity: Parity = Field("none", title="Parity")
    data_bits: int = Field(8, title="Data bits", ge=7, le=8)
    stop_bits: int = Field(1, title="Stop bits", ge=1, le=2)
    line_end: LineEnd = Field("lf", title="A line ends with")

    @property
    def connection(self) -> Connection:
        """Where it is, and how it is spoken to."""
        return Connection(self.port.strip(), self.baud, self.parity, self.data_bits, self.stop_bits, self.line_end)
