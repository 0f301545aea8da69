"""The look: shapes that differ without colour, letters that exist, inks that have a colour in every theme."""

import json
import re
import subprocess
import sys
from pathlib import Path
from typing import get_args

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QFontDatabase, QFontMetrics, QImage, QPainter
from PySide6.QtWidgets import QVBoxLayout, QWidget

import nonna
from nonna.adapters.papers.figure_pdf import INKS
from nonna.desk.commands.listed import commands
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.frame.banner import MOST_LINES, Banner
from nonna.desk.look import style
from nonna.desk.look.link_shape import paint_link
from nonna.desk.look.palette import DARK, LIGHT, Palette
from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Span, box
from nonna.figures.plots import history_chart, run_chart
from nonna.figures.setter import over_setter, tool_outline
from nonna.procedures.catalogue import evaluate
from nonna.shop.cards.machine import ToolKind
from nonna.shop.links.judge import State
from nonna.stations.branch import branch_figure
from nonna.stations.mill import KIND
from tests.support.hands import turns

ROOT = Path(nonna.__file__).parent
PROJECT = ROOT.parent.parent


def shape(state, palette):
    """Where ink stands when a link is painted, whatever its colour."""
    image = QImage(90, 50, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    paint_link(painter, QPointF(45, 25), state, palette)
    painter.end()
    return {(x, y) for x in range(90) for y in range(50) if QColor.fromRgba(image.pixel(x, y)).alpha() > 128}


def test_each_state_has_a_shape_of_its_own(qapp):
    shapes = {state: shape(state, LIGHT) for state in State}
    for one in State:
        assert shapes[one] == shape(one, DARK)
        for other in State:
            if one is not other:
                assert len(shapes[one] ^ shapes[other]) > 60, (one, other)


def luminance(colour):
    def channel(v):
        return v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4

    c = QColor(colour)
    return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) + 0.0722 * channel(c.blueF())


def contrast(a, b):
    light, dark = sorted((luminance(a), luminance(b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=lambda p: p.name)
def test_words_can_be_read_in_both_themes(palette: Palette):
    for ground in (palette.ground, palette.card, palette.wash, palette.due_wash, palette.bad_wash):
        assert contrast(palette.ink, ground) >= 7, ground
    for ground in (palette.ground, palette.card):
        for ink in (palette.muted, palette.accent, palette.due, palette.bad):
            assert contrast(ink, ground) >= 4.5, (ink, ground)
    assert contrast(palette.on_accent, palette.accent) >= 4.5
    assert contrast(palette.on_bar_quiet, palette.bar) >= 4.5
    assert contrast(palette.bad, palette.bad_wash) >= 4.5
    assert contrast(palette.due, palette.due_wash) >= 4.5


def test_every_ink_has_a_colour_everywhere():
    for ink in get_args(Ink):
        assert LIGHT.ink_colour(ink).isValid()
        assert DARK.ink_colour(ink).isValid()
        assert ink in INKS
    sheet = (ROOT / "desk" / "look" / "kinds.qss").read_text()
    names = set(re.findall(r"@(\w+);", sheet))
    assert names <= set(Palette._fields)


def test_the_typeface_is_shipped_and_has_every_letter_used(qapp):
    style.load_fonts()
    assert style.FAMILY in QFontDatabase.families()
    text = (
        "".join(path.read_text("utf-8") for path in ROOT.rglob("*.py")) + (ROOT / "demo" / "masters.json").read_text()
    )
    used = {c for c in text if ord(c) > 126 and c.isprintable()}
    metrics = QFontMetrics(style.font(15))
    missing = {c for c in used if not metrics.inFontUcs4(ord(c))}
    assert missing <= {"≥", "ν"}, missing  # in comments and docstrings only
    widths = {metrics.horizontalAdvance(d) for d in "0123456789"}
    assert len(widths) == 1  # figures line up


def test_only_the_look_sets_colours_and_style_sheets():
    for path in (ROOT / "desk").rglob("*.py"):
        if path.parent.name == "look":
            continue
        text = path.read_text()
        assert "setStyleSheet" not in text, path.name
        assert not re.search(r"#[0-9a-fA-F]{6}", text), path.name


FIGURES = [
    branch_figure(
        KIND, "Larch", [link.key for link in KIND.loop.links], [("drill", 8.0, 100.0), ("face-mill", 63.0, 60.0)]
    ),
    run_chart("Touches", [0.0, 0.001, -0.001, 0.0005], (1,)),
    run_chart("Touches", []),
    run_chart("Touches", [1.0]),
    history_chart("History", [(0.0, 1.0, 0.001), (86400.0, 1.002, 0.001)], [40000.0], 86400.0),
    history_chart("History", [(0.0, 1.0, 0.0)], [], 0.0),
    Figure(
        "All strokes",
        (0, 0, 10, 10),
        (
            box(0, 0, 5, 5),
            Line((0, 0), (9, 9)),
            Circle((5, 5), 2, "bad"),
            Label((5, 5), "x"),
            Span((1, 1), (1, 8), "7"),
        ),
        "to scale",
    ),
]


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=lambda p: p.name)
def test_every_drawing_leaves_ink_inside_its_widget(qapp, palette):
    style.apply(qapp, palette)
    view = FigureView()
    view.resize(420, 380)
    kinds = [
        Figure(kind, (-40, -5, 40, 130), tuple(tool_outline(kind, 20.0, 100.0, (0, 0))), "to scale")
        for kind in get_args(ToolKind)
    ]
    for figure in (*FIGURES, *kinds):
        view.show_figure(figure)
        image = view.grab().toImage()
        colours = {image.pixel(x, y) for x in range(0, 420, 3) for y in range(30, 350, 3)}
        assert len(colours) > 2, figure.title
        assert view.accessibleName() == figure.title
    view.show_figure(None)
    style.apply(qapp, LIGHT)


def test_the_readme_is_true():
    readme = (PROJECT / "README.md").read_text()
    for picture in re.findall(r"\((docs/[^)]+)\)", readme):
        assert (PROJECT / picture).is_file(), picture
    makefile = (PROJECT / "Makefile").read_text()
    for target in set(re.findall(r"make (\w+)", readme)):
        assert re.search(rf"^{target}:", makefile, re.MULTILINE), target
    assert {path.name for path in (PROJECT / "docs" / "screenshots").glob("*.png")} == set(
        re.findall(r"screenshots/([\w-]+\.png)", readme)
    )
    told = (PROJECT / "docs" / "command-line.md").read_text()
    document = json.loads(re.search(r"```json\n(.*?)```", told, re.DOTALL).group(1))
    assert evaluate(document).verdict.value == "pass"
    for key in re.findall(r"\*\*(F\d|Ctrl\+\w)\*\*", readme):
        assert key in {c.keys for c in commands()}, key
    assert len(list((PROJECT / "docs" / "screenshots").glob("*.png"))) < 20


def test_nothing_that_a_run_wrote_lies_beside_the_project():
    strays = [path.name for path in PROJECT.iterdir() if path.suffix in (".pdf", ".csv", ".xml", ".ngc", ".png")]
    assert strays == []


def test_no_file_is_too_long_and_none_names_a_home():
    for path in [*ROOT.rglob("*.py"), *(PROJECT / "tests").rglob("*.py")]:
        lines = path.read_text().splitlines()
        if "tests" not in path.parts:
            assert len(lines) <= 400, path.name
        assert not any("/home/" in line and "test_look" not in path.name for line in lines), path.name


def test_the_first_picture_waits_for_nothing_slow():
    code = (
        "import sys, nonna.desk.start.app; print(sorted({'numpy', 'scipy', 'GTC', 'pydantic', 'jinja2'} & "
        "set(sys.modules)))"
    )
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=120)
    assert told.stdout.strip() == "[]"


@pytest.mark.parametrize(
    "words, lines", [("One line.", 1), ("Two lines of words. " * 9, 2), ("Far too many words. " * 60, 3)]
)
def test_the_banner_is_as_high_as_its_words_and_shows_them(qtbot, words, lines):
    """Longer words scroll; whatever is said, something of it is painted, and all of it where there is room."""
    window = QWidget()
    column = QVBoxLayout(window)
    banner = Banner()
    column.addWidget(banner)
    column.addStretch(1)
    qtbot.addWidget(window)
    window.resize(1200, 400)
    window.show()
    for said in ("Something else, said before. " * 30, "", words):
        banner.say(said, "due")
        turns()
    line = banner.words.fontMetrics().lineSpacing()
    assert lines * line <= banner.height() <= lines * line + 26
    scrolls = banner.area.verticalScrollBar().maximum() > 0
    assert scrolls is (lines == MOST_LINES)
    picture = banner.grab().toImage()
    ground = picture.pixelColor(2, 2)
    inked = {y // line for y in range(picture.height()) for x in range(20, 160) if picture.pixelColor(x, y) != ground}
    assert len(inked) >= lines
    window.resize(640, 400)  # the words wrap anew
    turns()
    assert banner.height() > lines * line or lines == 1


def test_the_planes_name_has_room_in_the_trays_drawing(qapp):
    style.load_fonts()
    drawn = over_setter(
        "T4",
        "face-mill",
        63.0,
        61.2,
        pad=16.0,
        gap=0.0,
        plane="trigger plane",
        length_words="",
        offset=30.5,
        turning="x",
    )
    name = next(s for s in drawn.strokes if getattr(s, "words", "") == "trigger plane")
    width, (x0, y0, x1, y1) = 290.0, drawn.window
    scale = min((width - 28) / (x1 - x0), 190.0 / (y1 - y0))
    words = QFontMetrics(style.font(14, bold=True)).horizontalAdvance(name.words)
    assert width / 2 + scale * (name.at[0] - (x0 + x1) / 2) - words >= 0
