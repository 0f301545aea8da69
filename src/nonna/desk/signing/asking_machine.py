"""What a machine is asked when it is first needed, one question a page, over the window."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PySide6.QtCore import Signal

from nonna.bench.book.writing import Signature
from nonna.bench.founding.interview import StationInterview
from nonna.bench.founding.one_more_station import add_station
from nonna.bench.founding.open_questions import StillAsked, keep
from nonna.bench.ports import ShopFiles
from nonna.desk.forms.overlay import is_open, show_over
from nonna.desk.forms.question_pages import QuestionPages
from nonna.desk.frame.window import DeskWindow
from nonna.desk.signing.event_signing import sign_behind, signature_here
from nonna.desk.threads.work import Work, behind
from nonna.errors import NonnaError

T = TypeVar("T")


class AskMachine(QuestionPages):
    """Ends with answers that go into the machine's file."""

    interview: StillAsked
    kept = Signal(object)  #: StillAsked

    def show_end(self) -> None:
        """Show what is known now and what stays open."""
        asked = self.interview
        self.end_page(self.tr("Keep it   Enter"))
        left = [q.words for q in asked.questions if not asked.said.get(q.key)]
        count = len(asked.questions) - len(left)
        words = [self.tr("One answer.") if count == 1 else self.tr("{} answers.").format(count)]
        if left:
            words.append(self.tr("Not known yet, and to be answered any day:") + "\n" + "\n".join(left))
        self.end_says(str(asked.machine["name"]), "", "\n\n".join(words))

    def write(self) -> None:
        """Give the answers away; who takes them says `refuse` or `accept`."""
        self.kept.emit(self.interview)


class AskStation(QuestionPages):
    """Ends with one more station of the shop."""

    interview: StationInterview
    kept = Signal(object)  #: StationInterview

    def show_end(self) -> None:
        """Show what will be written."""
        self.end_page(self.tr("Put it up   Enter"))
        name = str(self.interview.answers.get("name") or "")
        self.end_says(name, self.tr("{}, a station of this shop.").format(self.interview.kind.words.capitalize()), "")

    def write(self) -> None:
        """Give the answers away; who takes them says `refuse` or `accept`."""
        self.kept.emit(self.interview)


def ask_station(window: DeskWindow) -> None:
    """Set one more station up by the same questions as the first."""
    folder = window.folder

    def show(names: tuple[str, ...]) -> None:
        dialog = AskStation(StationInterview(typed_in=window.units.fine, taken=names), window)
        dialog.kept.connect(lambda said: _put_up(window, folder, dialog, said))
        show_over(dialog, window)

    behind(
        window,
        lambda: tuple(folder.machine(key).name for key in folder.shop().machines),
        show,
        lambda error: window.tell(error.message, "bad"),
    )


def _put_up(window: DeskWindow, folder: ShopFiles, dialog: AskStation, said: StationInterview) -> None:
    def done(key: str) -> None:
        if is_open(dialog):
            dialog.accept()
        window.show_shelf()
        window.tell(f"{said.said['name']} is put up ({key}). “Show another machine” (Ctrl+K) goes there.", "good")

    _write(window, dialog, lambda signature: add_station(folder, said.founded(), signature), done)


def _write(window: DeskWindow, dialog: QuestionPages, act: Callable[[Signature], T], done: Callable[[T], None]) -> None:
    """Write what was answered, signed; what is refused is said on the page."""
    signature = signature_here(window)
    if signature is None:
        return

    def failed(error: NonnaError) -> None:
        if is_open(dialog):
            dialog.refuse(error.message)
        else:
            window.tell(error.message, "bad")

    sign_behind(window, lambda: act(signature), done, failed)


def ask_machine(window: DeskWindow) -> None:
    """Ask what the machine shown is still asked, and keep the answers."""
    folder, key = window.folder, window.state.key if window.state is not None else ""
    if not key:
        return
    work = Work(lambda _: StillAsked.of(folder, key, window.units), window)
    work.done.connect(lambda asked: _show(window, folder, asked))
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def _show(window: DeskWindow, folder: ShopFiles, asked: StillAsked) -> None:
    if not asked.questions:
        window.tell(f"Nothing is asked of {asked.machine.get('name', asked.key)}: every figure was given.", "good")
        return
    dialog = AskMachine(asked, window)
    dialog.kept.connect(lambda said: _keep(window, folder, dialog, said))
    show_over(dialog, window)


def _keep(window: DeskWindow, folder: ShopFiles, dialog: AskMachine, said: StillAsked) -> None:
    def done(left: tuple[str, ...]) -> None:
        if is_open(dialog):
            dialog.accept()
        window.look_again()
        more = f" {len(left)} questions stay open." if len(left) > 1 else " One question stays open." if left else ""
        window.tell(f"Kept in the file of {said.machine.get('name', said.key)}.{more}", "good")

    _write(window, dialog, lambda signature: keep(folder, said, signature), done)
