"""Paint a figure on a PDF page."""

from __future__ import annotations

from reportlab.pdfgen.canvas import Canvas

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Point, Polygon, Span

INKS: dict[Ink, str] = {
    "ink": "#22303a", "muted": "#6c7a82", "faint": "#d9d4c8", "accent": "#0f5b6e", "due": "#a8690b", "bad": "#b23a1e",
    "steel": "#dfe5e8", "steel-dark": "#97a4aa", "pad": "#43535c", "master": "#ecd9b0", "paper": "#ffffff",
    "wash": "#e3eef1", "ghost": "#eeebe3",
}  # fmt: skip
_SMALLER = 0.62  # screen pixels to points on paper


class PdfPainter:
    """Fits a figure into a box of the page and paints it stroke by stroke."""

    def __init__(self, canvas: Canvas, regular: str, bold: str) -> None:
        self._canvas, self._regular, self._bold = canvas, regular, bold
        self._scale, self._dx, self._dy = 1.0, 0.0, 0.0

    def paint(self, figure: Figure, x: float, y: float, width: float, height: float) -> None:
        """Paint a figure into the box whose lower left corner is (x, y), in points."""
        x0, y0, x1, y1 = figure.window
        self._scale = min(width / (x1 - x0), height / (y1 - y0))
        self._dx = x + (width - self._scale * (x1 - x0)) / 2 - self._scale * x0
        self._dy = y + (height - self._scale * (y1 - y0)) / 2 - self._scale * y0
        for stroke in figure.strokes:
            if isinstance(stroke, Line):
                self._line(stroke)
            elif isinstance(stroke, Polygon):
                self._polygon(stroke)
            elif isinstance(stroke, Circle):
                self._circle(stroke)
            elif isinstance(stroke, Label):
                self._label(stroke)
            else:
                self._span(stroke)

    def _at(self, point: Point) -> Point:
        return self._dx + self._scale * point[0], self._dy + self._scale * point[1]

    def _pen(self, ink: Ink | None, width: float) -> None:
        if ink:
            self._canvas.setStrokeColor(INKS[ink])
            self._canvas.setLineWidth(width * _SMALLER)

    def _line(self, line: Line) -> None:
        self._pen(line.ink, line.width)
        self._canvas.setDash([3, 2] if line.dashed else [])
        self._canvas.line(*self._at(line.start), *self._at(line.end))
        self._canvas.setDash([])

    def _polygon(self, polygon: Polygon) -> None:
        self._pen(polygon.ink, polygon.width)
        if polygon.fill:
            self._canvas.setFillColor(INKS[polygon.fill])
        path = self._canvas.beginPath()
        first, *rest = [self._at(p) for p in polygon.points]
        path.moveTo(*first)
        for point in rest:
            path.lineTo(*point)
        path.close()
        self._canvas.drawPath(path, stroke=int(polygon.ink is not None), fill=int(polygon.fill is not None))

    def _circle(self, circle: Circle) -> None:
        self._pen(circle.ink, circle.width)
        if circle.fill:
            self._canvas.setFillColor(INKS[circle.fill])
        radius = circle.radius * (_SMALLER if circle.dot else self._scale)
        self._canvas.circle(
            *self._at(circle.centre), radius, stroke=int(circle.ink is not None), fill=int(circle.fill is not None)
        )

    def _label(self, label: Label) -> None:
        x, y = self._at(label.at)
        x, y = x + label.dx * _SMALLER, y - label.dy * _SMALLER
        self._canvas.setFillColor(INKS[label.ink])
        self._canvas.setFont(self._bold if label.bold else self._regular, max(6.5, label.size * _SMALLER))
        draw = {
            "left": self._canvas.drawString,
            "centre": self._canvas.drawCentredString,
            "right": self._canvas.drawRightString,
        }
        draw[label.anchor](x, y, label.words)

    def _span(self, span: Span) -> None:
        (ax, ay), (bx, by) = self._at(span.start), self._at(span.end)
        self._pen(span.ink, 1.2)
        self._canvas.line(ax, ay, bx, by)
        for px, py in ((ax, ay), (bx, by)):
            across = (3, 0) if abs(bx - ax) < abs(by - ay) else (0, 3)
            self._canvas.line(px - across[0], py - across[1], px + across[0], py + across[1])
        self._canvas.setFillColor(INKS[span.ink])
        self._canvas.setFont(self._bold, 13 * _SMALLER)
        self._canvas.drawString((ax + bx) / 2 + 5, (ay + by) / 2, span.words)
