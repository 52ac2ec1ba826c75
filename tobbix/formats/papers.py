"""Papers to print: forms, packing lists, statements and labels as PDF (ISO 32000), by reportlab."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path
from xml.sax.saxutils import escape

import reportlab
from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, A6
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

_FONTS = Path(reportlab.__file__).parent / "fonts"  # Bitstream Vera, which may be shipped and embedded
_PLAIN, _BOLD = "Vera", "VeraBd"
_INK, _RULE = HexColor("#1C2733"), HexColor("#DAD4C6")


@dataclass(frozen=True, slots=True)
class Column:
    """A column of a table on paper: its head, its share of the width, and whether it holds figures."""

    head: str
    share: float
    figures: bool = False


@dataclass(frozen=True, slots=True)
class PaperPart:
    """A part of a paper: words before a table, its columns and rows, and steps that are ticked by hand."""

    title: str = ""
    words: tuple[str, ...] = ()
    columns: tuple[Column, ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    steps: tuple[str, ...] = ()
    total: tuple[str, ...] = ()


def _styles() -> tuple[ParagraphStyle, ParagraphStyle, ParagraphStyle, ParagraphStyle]:
    for name in (_PLAIN, _BOLD):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(_FONTS / f"{name}.ttf")))
    base = ParagraphStyle("words", fontName=_PLAIN, fontSize=8.5, leading=11.5, textColor=_INK)
    return (
        ParagraphStyle("title", base, fontName=_BOLD, fontSize=15, leading=19, spaceAfter=2 * mm),
        ParagraphStyle("head", base, fontName=_BOLD, fontSize=10.5, leading=14, spaceBefore=4 * mm, spaceAfter=1 * mm),
        base,
        ParagraphStyle("figure", base, alignment=TA_RIGHT),
    )


def write_paper(title: str, parts: Sequence[PaperPart], foot: str = "") -> bytes:
    """A paper of A4 (ISO 216) with its parts one under another, as PDF."""
    large, head, words, figure = _styles()
    out = BytesIO()
    page = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=16 * mm, bottomMargin=16 * mm,
        title=title, author="", creator="Tobbix",
    )  # fmt: skip
    width = A4[0] - 36 * mm
    story: list[Flowable] = [Paragraph(escape(title), large)]
    for part in parts:
        above: list[Flowable] = [Paragraph(escape(part.title), head)] if part.title else []
        above += [Paragraph(escape(line), words) for line in part.words]
        above += [Paragraph(f"\u25a1&nbsp;&nbsp;{at}. {escape(step)}", words) for at, step in enumerate(part.steps, 1)]
        story.append(KeepTogether(above))
        if part.columns:
            story += [Spacer(1, 1.5 * mm), _table(part, width, words, figure)]

    def number(canvas: object, document: object) -> None:
        canvas.setFont(_PLAIN, 7.5)  # type: ignore[attr-defined]
        canvas.drawString(18 * mm, 9 * mm, foot)  # type: ignore[attr-defined]
        canvas.drawRightString(A4[0] - 18 * mm, 9 * mm, f"page {document.page}")  # type: ignore[attr-defined]

    page.build(story, onFirstPage=number, onLaterPages=number)
    return out.getvalue()


def _table(part: PaperPart, width: float, words: ParagraphStyle, figure: ParagraphStyle) -> Table:
    def cells(row: Sequence[str]) -> list[Paragraph]:
        styles = [figure if column.figures else words for column in part.columns]
        return [Paragraph(escape(cell), style) for cell, style in zip(row, styles, strict=True)]

    rows = [cells([column.head for column in part.columns]), *map(cells, part.rows)]
    if part.total:
        rows.append(cells(part.total))
    whole = sum(column.share for column in part.columns)
    table = Table(rows, colWidths=[width * column.share / whole for column in part.columns], repeatRows=1)
    table.setStyle(
        TableStyle([
            ("LINEBELOW", (0, 0), (-1, 0), 1, _INK), ("LINEBELOW", (0, 1), (-1, -1), 0.4, _RULE),
            ("VALIGN", (0, 0), (-1, -1), "TOP"), ("TOPPADDING", (0, 0), (-1, -1), 2),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5), ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("RIGHTPADDING", (0, 0), (-1, -1), 5),
        ])
    )  # fmt: skip
    return table


def write_label(lines: Sequence[str], sender: Sequence[str] = (), note: str = "") -> bytes:
    """An address label of A6 (ISO 216) that lies, as PDF: the sender small above, the address large."""
    _, _, words, _ = _styles()
    out = BytesIO()
    page = SimpleDocTemplate(
        out, pagesize=(A6[1], A6[0]), leftMargin=10 * mm, rightMargin=10 * mm, topMargin=9 * mm, bottomMargin=9 * mm,
        title="Label", creator="Tobbix",
    )  # fmt: skip
    large = ParagraphStyle("address", words, fontName=_BOLD, fontSize=14, leading=19)
    story: list[Flowable] = [Paragraph(escape(", ".join(sender)), words), Spacer(1, 14 * mm)]
    story += [Paragraph(escape(line), large) for line in lines]
    if note:
        story += [Spacer(1, 6 * mm), Paragraph(escape(note), words)]
    page.build(story)
    return out.getvalue()


def today_in_words(now: datetime | None = None) -> str:
    """The day as papers have it."""
    return f"{now or datetime.now(UTC):%-d %B %Y}"


_LABEL_COLUMNS, _LABEL_ROWS = 2, 4


def write_label_sheet(labels: Sequence[tuple[Sequence[str], Sequence[str], str]]) -> bytes:
    """Address labels on sheets of A4 (ISO 216), two by four of 105 x 74 mm, as PDF: each its address, the sender small
    above it, and a note small below."""
    _styles()
    out = BytesIO()
    page = Canvas(out, pagesize=A4)
    page.setTitle("Labels")
    page.setCreator("Tobbix")
    width, height = A4[0] / _LABEL_COLUMNS, A4[1] / _LABEL_ROWS
    for at, (lines, sender, note) in enumerate(labels):
        place = at % (_LABEL_COLUMNS * _LABEL_ROWS)
        if at and place == 0:
            page.showPage()
        left = (place % _LABEL_COLUMNS) * width + 9 * mm
        top = A4[1] - (place // _LABEL_COLUMNS) * height - 10 * mm
        page.setFillColor(_INK)
        page.setFont(_PLAIN, 7)
        page.drawString(left, top, ", ".join(sender)[:80])
        page.setFont(_BOLD, 11.5)
        for row, line in enumerate(lines[:6]):
            page.drawString(left, top - 12 * mm - row * 5.6 * mm, line[:42])
        page.setFont(_PLAIN, 7)
        page.drawString(left, top - height + 18 * mm, note[:60])
    page.save()
    return out.getvalue()
