"""The stand-in indicator: streams what its dial shows over a local socket, a line a reading."""

from __future__ import annotations

import contextlib
import socket
import threading
from collections.abc import Callable

RATE_HZ = 50.0


class IndicatorServer:
    """Serves one reader at a time on this computer alone; ``read`` is asked for each line: a number in millimetres, or
    the line itself.
    """

    def __init__(self, read: Callable[[], float | str], rate_hz: float = RATE_HZ) -> None:
        self._read, self._pause = read, 1.0 / rate_hz
        self._stop = threading.Event()
        self._listener = socket.create_server(("127.0.0.1", 0))
        self._listener.settimeout(0.2)
        host, port = self._listener.getsockname()[:2]
        self.url = f"socket://{host}:{port}"  #: where a reader finds it
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop serving."""
        self._stop.set()
        self._thread.join(2.0)
        self._listener.close()

    def _serve(self) -> None:
        while not self._stop.is_set():
            try:
                client, _ = self._listener.accept()
            except TimeoutError:
                continue
            except OSError:
                return
            with client, contextlib.suppress(ConnectionError):
                client.sendall(b"\r\n")  # nobody takes a first line: it may have begun before
                while not self._stop.wait(self._pause):
                    line = self._read()
                    client.sendall(f"{line if isinstance(line, str) else f'{line:+.4f}'}\r\n".encode())
