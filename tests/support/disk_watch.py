"""Sees what of a shop's folder is touched on the thread that paints."""

import os
import sys
import threading
from contextlib import contextmanager
from pathlib import Path

_EVENTS = {"open", "sqlite3.connect", "os.rename", "os.remove", "os.mkdir", "os.listdir", "os.scandir", "os.chmod"}
_watching = []  #: an audit hook stays for good, so there is one


class DiskWatch:
    """What the desk did with the disk while nobody else may: where, and with what."""

    def __init__(self, root):
        self.root, self.seen, self.on = str(root), [], True

    def note(self, what, path):
        if not self.on or threading.current_thread() is not threading.main_thread():
            return
        frame, places = sys._getframe(2), []
        while frame is not None:
            name = frame.f_code.co_filename
            if "/nonna/" in name:
                places.append(f"{name.split('/nonna/')[-1]}:{frame.f_lineno}")
            frame = frame.f_back
        by_desk = any(place.startswith("desk/") for place in places)
        if by_desk and self.root in str(path):
            self.seen.append(f"{what} {Path(str(path)).name}: {' < '.join(places[:6])}")

    @contextmanager
    def looking_away(self):
        """Let a test itself do something through the desk's functions."""
        self.on = False
        yield
        self.on = True


def _heard(event, args):
    if event in _EVENTS:
        for watch in _watching:
            watch.note(event, args[0] if args else "")


sys.addaudithook(_heard)


@contextmanager
def disk_watched(root):
    """Give a DiskWatch for a shop's folder; files looked at, opened and changed are seen."""
    watch, stat = DiskWatch(root), os.stat

    def stat_seen(path, *args, **kwargs):
        watch.note("stat", path)
        return stat(path, *args, **kwargs)

    _watching.append(watch)
    os.stat = stat_seen
    try:
        yield watch
    finally:
        os.stat = stat
        _watching.remove(watch)
