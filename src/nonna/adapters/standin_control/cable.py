"""Where a stand-in control's printed lines go: everyone who listens on a socket, and a log that grows."""

from __future__ import annotations

import contextlib
import socket
from pathlib import Path

from nonna.errors import NonnaError

LOOPBACK = ("127.0.0.1", "localhost", "::1")


class Cable:
    """Sends lines; who hangs up is forgotten, who comes later hears what comes then."""

    def __init__(self, listen: str, log: Path | None) -> None:
        self._log = log
        self._listeners: list[socket.socket] = []
        self._server = _server(listen) if listen else None

    @property
    def port(self) -> int:
        """The port it listens on, 0 for none."""
        return int(self._server.getsockname()[1]) if self._server is not None else 0

    def accept(self) -> None:
        """Take in whoever called since the last time."""
        while self._server is not None:
            try:
                caller, _ = self._server.accept()
            except BlockingIOError:
                return
            caller.settimeout(2.0)
            self._listeners.append(caller)

    def send(self, raw: bytes) -> None:
        """Send bytes to the log and to all that listen. Raises: OSError (the log cannot be written)."""
        if self._log is not None:
            with self._log.open("ab") as file:
                file.write(raw)
        self.accept()
        for listener in list(self._listeners):
            try:
                listener.sendall(raw)
            except OSError:
                self._listeners.remove(listener)
                with contextlib.suppress(OSError):
                    listener.close()

    def close(self) -> None:
        """Hang up."""
        for each in (*self._listeners, *([self._server] if self._server is not None else [])):
            with contextlib.suppress(OSError):
                each.close()


def _server(listen: str) -> socket.socket:
    """Listen at ``host:port``, this computer only. Raises: NonnaError."""
    host, _, port = listen.rpartition(":")
    if host.strip("[]") not in LOOPBACK or not port.isdigit() or int(port) > 65535:
        words = "--listen: 127.0.0.1:PORT is wanted, this computer alone, not {listen!r}."
        raise NonnaError("out-of-range", words, "listen", listen=listen[:60])
    family = socket.AF_INET6 if host.strip("[]") == "::1" else socket.AF_INET
    server = socket.socket(family, socket.SOCK_STREAM)
    try:
        server.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        server.bind((host.strip("[]"), int(port)))
        server.listen()
        server.setblocking(False)
    except OSError as error:
        server.close()
        words = "--listen: port {port} cannot be used: {error}."
        raise NonnaError("unreadable", words, "listen", port=port, error=error.strerror or error) from error
    return server
