"""What a machine is asked when it is first needed, one question a page, over the window."""

from __future__ import annotations

from PySide6.QtCore import Signal

from nonna.bench.ports import ShopFiles
from nonna.bench.still_asked import StillAsked, keep
from nonna.desk.event_signing import sign_behind, signature_here
from nonna.desk.overlay import is_open, show_over
from nonna.desk.question_pages import QuestionPages
from nonna.desk.window import DeskWindow
from nonna.desk.work import Work
from nonna.errors import NonnaError


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
    signature = signature_here(window)
    if signature is None:
        return

    def done(left: tuple[str, ...]) -> None:
        if is_open(dialog):
            dialog.accept()
        window.look_again()
        more = f" {len(left)} questions stay open." if len(left) > 1 else " One question stays open." if left else ""
        window.tell(f"Kept in the file of {said.machine.get('name', said.key)}.{more}", "good")

    def failed(error: NonnaError) -> None:
        if is_open(dialog):
            dialog.refuse(error.message)
        else:
            window.tell(error.message, "bad")

    sign_behind(window, lambda: keep(folder, said, signature), done, failed)
