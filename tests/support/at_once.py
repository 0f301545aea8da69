"""In front of a session where nobody has to wait: work is done at once, what comes later when it is asked for."""

from pathlib import Path

from nonna.bench.session.front import CancelledError, Task
from nonna.errors import NonnaError


class Done:
    """Something that was begun, and has ended unless it waits for its time."""

    def __init__(self, act=None):
        self.act = act

    @property
    def busy(self):
        return self.act is not None

    def cancel(self):
        self.act = None

    def hand_over(self, seconds):
        return True

    def ended(self):
        pass

    close = cancel


class AtOnce:
    """Fills the port `bench.session.front.Front`; tests look at what was asked of it."""

    def __init__(self):
        self.waiting, self.asked, self.progress = [], [], []

    def behind(self, function, done, failed, *, progress=None, cancelled=None, file=False, last=False):
        try:
            found = function(Task(progress or self.progress.append))
        except CancelledError:
            cancelled()
        except NonnaError as error:
            failed(error)
        else:
            done(found)
        return Done()

    def later(self, ms, act):
        self.waiting.append(Done(act))
        return self.waiting[-1]

    def turn(self):
        """Let what waits come once."""
        waiting, self.waiting = self.waiting, []
        for each in waiting:
            act, each.act = each.act, None
            if act is not None:
                act()

    def ask(self, words, answer, yes, no):
        self.asked.append((words, yes, no))
        return True

    def listen(self, line, pattern, arrived, lost, unread):
        return Done()

    def read_bytes(self, path):
        return Path(path).read_bytes()

    def unprintable(self, letters):
        return ()


class Stage:
    """A window with nothing in it: shows sheets by remembering which one is in front."""

    home = "loop"

    def __init__(self, folder, remembered):
        from nonna.bench.session.shop_session import ShopSession

        self.front, self.places, self.told, self.seen, self.pages = AtOnce(), [], [], None, []
        self.session = ShopSession(self.front, self, folder, remembered)
        self.session.said.connect(lambda words, tone: self.told.append((words, tone)))
        self.session.wanted.connect(self.go)

    def __getattr__(self, name):
        return getattr(self.session, name)  # what a window hands through

    def go(self, place):
        self.places.append(place)
        self.seen = None
        self.session.sheets.went_behind()

    come_to = go

    def front_of_sheet(self):
        return self.front

    def present(self, sheet):
        self.pages.append(sheet)

    def bring(self, sheet, place):
        self.seen = sheet

    def put_away(self, sheet):
        self.pages.remove(sheet)
        self.seen = None

    take_back = present

    def let_go(self, sheet):
        self.pages.remove(sheet)


class Remembered:
    """What a program keeps between two starts, in memory."""

    def __init__(self, units, operator=""):
        self.units, self.operator, self.shops, self.stations = units, operator, [], {}

    def station(self, shop):
        return self.stations.get(shop, "")

    def set_station(self, shop, station):
        self.stations[shop] = station

    def remember_shop(self, shop):
        self.shops.append(shop)
