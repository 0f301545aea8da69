"""Sees what goes wrong in the desk: exceptions, the toolkit's complaints, a run that ended unexpectedly."""

from __future__ import annotations

import logging
import sys
import threading
import traceback
from collections.abc import Callable
from types import TracebackType
from typing import TYPE_CHECKING

from PySide6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.threads.work import Work

if TYPE_CHECKING:
    from nonna.bench.ports import Crash
    from nonna.desk.frame.window import DeskWindow

LOG = logging.getLogger("nonna")
_LEVELS = {
    QtMsgType.QtDebugMsg: logging.DEBUG, QtMsgType.QtInfoMsg: logging.INFO, QtMsgType.QtWarningMsg: logging.WARNING,
    QtMsgType.QtCriticalMsg: logging.ERROR, QtMsgType.QtFatalMsg: logging.CRITICAL,
}  # fmt: skip


def watch(window: DeskWindow) -> Callable[[], None]:
    """Write down what goes wrong, and say it in the window; what was typed is safe in the drafts.

    Returns what ends the watch.
    """
    before = sys.excepthook, threading.excepthook

    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        LOG.error("%s", "".join(traceback.format_exception(kind, error, trace)))
        sys.__excepthook__(kind, error, trace)
        if issubclass(kind, Exception) and threading.current_thread() is threading.main_thread():
            words = (
                f"Something went wrong inside Nonna ({kind.__name__}). What is on the tape is kept. It stands "
                "in the log."
            )
            window.tell(words, "bad")

    sys.excepthook = caught
    threading.excepthook = lambda args: LOG.error(
        "%s", "".join(traceback.format_exception(args.exc_type, args.exc_value, args.exc_traceback))
    )
    qInstallMessageHandler(_on_message)

    def end() -> None:
        sys.excepthook, threading.excepthook = before
        qInstallMessageHandler(None)

    return end


def _on_message(kind: QtMsgType, context: QMessageLogContext, words: str) -> None:
    del context
    LOG.log(_LEVELS.get(kind, logging.WARNING), "Qt: %s", words)
    if kind == QtMsgType.QtFatalMsg:
        print(words, file=sys.stderr)


def say_offscreen(kind: QtMsgType, context: QMessageLogContext, words: str) -> None:
    """Pass on the toolkit's complaints, but for what no screen at all cannot do."""
    del kind, context
    if "propagateSizeHints" not in words:
        print(words, file=sys.stderr)


def tell_of_crash(window: DeskWindow, crash: Crash) -> None:
    """Say that a run ended unexpectedly; where it was another shop, offer to open that one."""
    when = f"{crash.begun:%d %b %H:%M}"
    other = crash.shop != window.folder.root

    def tell(there: bool) -> None:
        if not there:
            window.tell(f"The run begun {when} ended unexpectedly. Its report: {crash.report}", "due")
            return
        words = (
            f"The run begun {when} on {crash.shop.name} ended unexpectedly. Open that shop again? Report: "
            f"{crash.report}"
        )

        def open_it() -> None:
            from nonna.desk.actions.by_command import open_shop

            open_shop(window, crash.shop)

        show_over(QuestionDialog(words, "Open it", open_it, window), window)

    work = Work(lambda _: other and (crash.shop / "shop.json").is_file(), window)  # nobody asked: closing does not wait
    work.done.connect(tell)
    work.start()
