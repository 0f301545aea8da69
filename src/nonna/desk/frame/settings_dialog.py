"""Settings: this desk, the shop's limits and rules, how long its links hold. Each part is taken over by itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QLineEdit,
    QListWidget,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.form_fields import Asked, Sort, asked_in
from nonna.bench.settings.house_rules import LimitRow, limits_of
from nonna.bench.station.site import Site
from nonna.bench.station.state import ShopState
from nonna.desk.forms.fields import field, text_of
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import button, label, scrolled
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.look.style import worn
from nonna.errors import NonnaError
from nonna.procedures.listing import PROCEDURES
from nonna.shop.cards.rules import LinkRule
from nonna.shop.links.loop import Link, LinkSort
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import Units, length

PARTS = ("This desk", "Limits and rules", "How long links hold", "Who may sign")
UNITS = tuple((units.value, units.value) for units in (Units.MM, Units.INCH))
DIGITS = (("fine", "0.0001 mm, 0.00001 inch"), ("coarse", "0.001 mm, 0.0001 inch"))
THEMES = (("light", "light"), ("dark", "dark"), ("desktop", "as the desktop"))
SIZES = tuple((str(size), f"{size} %") for size in (90, 100, 115, 130, 145, 160))
RULES = (("guarded", "the limit must hold with the doubt"), ("simple", "the value alone counts"))
NO_LIMIT = "none"
_LIST_PX, _WIDE, _HIGH = 210, 980, 640
_STACKS, _PARTS_HIGH, _PAGE_HIGH = 660, 150, 330  #: width below which the parts stand over their page; heights then
_ASKED = {asked.name: asked for asked in asked_in(LinkRule)}


class SettingsDialog(QDialog):
    """Up and down choose a part, Tab goes into it, its button takes it over; Esc leaves."""

    desk_asked = Signal(object)  #: dict of texts by name
    limits_asked = Signal(object, object)  #: limits by procedure and field, rule by procedure
    links_asked = Signal(object)  #: changes by link
    signers_asked = Signal(object)  #: names of those who may sign

    def __init__(self, settings: DeskSettings, state: ShopState, site: Site, units: Units, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._units = units
        self.rules = site.rules  #: as they are shown
        self.edits: dict[tuple[str, ...], QWidget] = {}
        self._rows: dict[tuple[str, str], LimitRow] = {}
        self._said = label("", wrap=True)
        self.parts, self._pages = worn(QListWidget()), QStackedWidget()
        self.parts.addItems([self.tr(words) for words in PARTS])
        self.parts.setAccessibleName(self.tr("Parts of the settings"))
        self.parts.setFixedWidth(_LIST_PX)
        self.parts.currentRowChanged.connect(self._pages.setCurrentIndex)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 20)
        column.addWidget(label(self.tr("Settings"), "headline"))
        frames = (Frame(self.parts, 0, _PARTS_HIGH), Frame(self._pages, 1, _PAGE_HIGH))
        column.addWidget(FoldingRow(frames, stacks_below=_STACKS, gap=18), 1)
        column.addWidget(self._said)
        self._desk(settings, state)
        self._limits(site, state)
        self._links(state, site)
        self._signers(site)
        self.parts.setCurrentRow(0)
        self.resize(_WIDE, _HIGH)

    def say(self, words: str, tone: str) -> None:
        """Say how it went."""
        self._said.setText(words)
        self._said.show_tone(tone)

    def refuse(self, error: NonnaError) -> None:
        """Say what is wrong and put the keyboard into its field; what was typed stays."""
        self.say(error.message, "bad")
        place = tuple(error.where.split("."))
        edit = self.edits.get(place[-2:]) or self.edits.get(place[-1:])
        if edit is not None:
            edit.setFocus()
            if isinstance(edit, QLineEdit):
                edit.selectAll()

    def _desk(self, settings: DeskSettings, state: ShopState) -> None:
        grid = self._page(
            self.tr("Take over   Enter"),
            self._take_desk,
            self.tr("What this computer remembers; nothing of it changes a record."),
        )
        names = tuple((name, name) for name in state.operators)
        for asked in (
            Asked("units", "Lengths in", settings.units.value, UNITS, help="Changes what is shown, never what is "
                "stored."),
            Asked("digits", "Last digit", "coarse" if settings.units.coarse else "fine", DIGITS, help="Of lengths "
                "and positions. A doubt and a deviation always show two digits that mean something."),
            Asked("theme", "Colours", settings.theme, THEMES, help="Dark for a dim hall, light for a bright one."),
            Asked("text", "Text size", str(settings.text_percent), SIZES, help="All of it, drawings too, from the "
                "next start on. A page larger than the window scrolls."),
            Asked("operator", "Who signs", settings.operator, names, help="The name under the next record."),
            Asked("indicator", "Live indicator at", settings.indicator, hint="the stand-in's", help="A serial port, "
                "or socket://name:number; add “press” if its own button sends."),
            Asked("programs", "Programs go to", settings.programs, hint="asked each time", help="A folder, a share "
                "or a memory stick. Where it is not there, nothing is written."),
            Asked("printed", "Printed lines come in", settings.printed, hint="asked each time", help="A file that "
                "grows, or a folder of such files. With both, programs go and results come without a question."),
        ):  # fmt: skip
            self._add(grid, (asked.name,), asked)

    def _limits(self, site: Site, state: ShopState) -> None:
        words = self.tr(
            "Empty is what the sheet offers, “none” is no limit. What decides verdicts is signed into the book, with "
            "your name."
        )
        grid = self._page(self.tr("Take over and sign   Enter"), self._take_limits, words)
        before = ""
        for row in limits_of(site.rules, state.kind.key):
            title = PROCEDURES[row.procedure].title
            if row.procedure != before:
                before = row.procedure
                at = grid.rowCount()
                grid.addWidget(_heading(title), at, 0, 1, 3)
                kind = Asked(
                    "rule",
                    "Decided by",
                    site.rules.rule.get(row.procedure, RULES[0][0]),
                    RULES,
                    help="Guarded: a pass is a pass even with the doubt. Simple: the value alone.",
                )
                self._add(grid, (row.procedure, "rule"), kind)
            usual = (
                self.tr("offered: no limit")
                if row.usual is None
                else self.tr("offered: {}").format(self._shown(row, row.usual))
            )
            told = (
                NO_LIMIT
                if row.decided and row.own is None
                else ""
                if not row.decided or row.own is None
                else self._shown(row, row.own)
            )
            asked = Asked(
                row.field,
                row.title,
                told,
                sort=_sort(row),
                hint=usual,
                help="The doubt is taken into account by the rule. The offered one is that of the methods; yours may "
                "be tighter.",
            )
            self._rows[row.procedure, row.field] = row
            self._add(
                grid,
                (row.procedure, row.field),
                asked,
                "" if row.unit == "1" else self._units.symbol if row.unit == "mm" else row.unit,
            )

    def _links(self, state: ShopState, site: Site) -> None:
        words = self.tr("Empty is as it comes with a {}. Learned minutes go before these.").format(state.kind.words)
        grid = self._page(self.tr("Take over   Enter"), self._take_links, words)
        own = site.rules.links.get(state.machine, {})
        for link in state.kind.loop.links:
            if link.sort is LinkSort.CERTIFICATE:
                continue
            changed = own.get(link.key)
            grid.addWidget(_heading(link.title), grid.rowCount(), 0, 1, 3)
            for name, asked in _ASKED.items():
                value = getattr(changed, name) if changed is not None else None
                text = "; ".join(value) if isinstance(value, list) else "" if value is None else str(value)
                plain = replace(asked, value=text, sort=_link_sort(name), hint=_hint(link, name), help=asked.help)
                self._add(grid, (link.key, name), plain, asked.unit)

    def _signers(self, site: Site) -> None:
        about = self.tr(
            "The names that are offered, the first one first. A change is signed with the name that signs now."
        )
        grid = self._page(self.tr("Take over and sign   Enter"), self._take_signers, about)
        help_ = "Separated by semicolons. A name that goes stays under what it signed."
        self._add(grid, ("operators",), Asked("operators", "Who may sign", "; ".join(site.shop.operators), help=help_))

    def _take_signers(self) -> None:
        self.signers_asked.emit(_parts(text_of(self.edits["operators",])))

    def _page(self, words: str, take: Callable[[], None], about: str) -> QGridLayout:
        page, inside, grid = QWidget(), QWidget(), QGridLayout()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label(about, "quiet", wrap=True))
        grid.setColumnStretch(1, 1)
        grid.setVerticalSpacing(6)
        held = QVBoxLayout(inside)
        held.addLayout(grid)
        held.addStretch(1)
        column.addWidget(scrolled(inside), 1)
        column.addWidget(button(words, take, main=True))
        self._pages.addWidget(page)
        return grid

    def _add(self, grid: QGridLayout, key: tuple[str, ...], asked: Asked, unit: str = "") -> None:
        at = grid.rowCount()
        made = self.edits[key] = field(asked, self._take)
        grid.addWidget(label(asked.title), at, 0)
        grid.addWidget(made, at, 1)
        if unit:
            grid.addWidget(label(unit, "quiet"), at, 2)

    def _take(self) -> None:
        takes = (self._take_desk, self._take_limits, self._take_links, self._take_signers)
        takes[self.parts.currentRow()]()

    def _take_desk(self) -> None:
        own = {key[0]: text_of(edit) for key, edit in self.edits.items() if len(key) == 1 and key != ("operators",)}
        self.desk_asked.emit(own)

    def _take_limits(self) -> None:
        limits: dict[str, dict[str, float | None]] = {}
        try:
            for (name, where), row in self._rows.items():
                text = text_of(self.edits[name, where])
                rows = limits.setdefault(name, {})
                if text.lower() == NO_LIMIT:
                    rows[where] = None
                elif text:
                    rows[where] = self._read(row, text)
        except NonnaError as error:
            self.refuse(error)
            return
        rules = {key[0]: text_of(edit) for key, edit in self.edits.items() if key[1:] == ("rule",)}
        self.limits_asked.emit(limits, rules)

    def _take_links(self) -> None:
        found: dict[str, dict[str, Plain]] = {}
        try:
            for key, edit in self.edits.items():
                if len(key) == 2 and key[1] in _ASKED:
                    text = text_of(edit)
                    value = (
                        _parts(text)
                        if key[1] == "fetch"
                        else replace(_ASKED[key[1]], name=".".join(("links", *key)), sort=_link_sort(key[1])).read(
                            text, self._units
                        )
                    )
                    found.setdefault(key[0], {})[key[1]] = value
        except NonnaError as error:
            self.refuse(error)
            return
        self.links_asked.emit(found)

    def _read(self, row: LimitRow, text: str) -> float:
        asked = Asked(
            f"limits.{row.procedure}.{row.field}", f"{PROCEDURES[row.procedure].title}, {row.title}", sort=_sort(row)
        )
        value = asked.read(text, self._units)
        if value is None or value <= 0.0:
            raise NonnaError("out-of-range", "{title}: above zero, or “none”.", asked.name, title=asked.title)
        return float(value)

    def _shown(self, row: LimitRow, value: float) -> str:
        return length(value, self._units.fine, unit=False) if _sort(row) is Sort.LENGTH else f"{value:g}"


def _heading(words: str) -> QWidget:
    made = label(words, "strong")
    made.setContentsMargins(0, 10, 0, 0)
    return made


def _sort(row: LimitRow) -> Sort:
    return Sort.LENGTH if row.field.endswith("_mm") else Sort.NUMBER


def _link_sort(name: str) -> Sort:
    return {"holds_days": Sort.WHOLE, "minutes": Sort.NUMBER}.get(name, Sort.TEXT)


def _hint(link: Link, name: str) -> str:
    found = getattr(link, name)
    return (
        "; ".join(found)
        if isinstance(found, tuple)
        else f"{found:g}"
        if isinstance(found, int | float)
        else str(found) or "nobody"
    )


def _parts(text: str) -> list[str]:
    return [part.strip() for part in text.split(";") if part.strip()]
