"""The board of a set card: its number, and the sheet that is printed."""

from __future__ import annotations

import hashlib
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from jungoptic.core.board import paper
from jungoptic.core.board.number import NUMBERS, TIMES, Paper

from ..printing.child import pdf
from ..records import Refused
from .code import code_of
from .models import SetCard

#: Where the code for phones lies on the sheet: its left, top and side, millimetres.
PHONE_MM = (148.0, 243.0, 46.0)
#: So often another number is tried before there are said to be none.
TRIES = 200


def number_by(pk: Any) -> int:
    """A board's number for whatever has an id: the same on a copy of the server."""
    return int.from_bytes(hashlib.sha256(str(pk).encode()).digest()[:8], "big") % NUMBERS


def free_number(production: Any, card_id: Any) -> int:
    """A board's number for a card that no other card of its production has; hardly one of another
    production. Called while nobody else can issue a card there. Raises Refused when there are
    hardly any left."""
    first = number_by(card_id)
    wanted = [(first + 7919 * n) % NUMBERS for n in range(TRIES)]
    cards = SetCard.objects.filter(board__in=wanted, plate__shot__production=production)
    taken = set(cards.values_list("board", flat=True))
    for number in wanted:
        if number not in taken:
            return number
    raise Refused(
        "board", "This production has no more numbers of boards to give; remove old shots."
    )


def board_pdf(card: SetCard, size: Paper, address: str) -> bytes:
    """The sheet of a card's board; `address`: where a phone finds the card."""
    return pdf(board_html(card, size, address))


def board_html(card: SetCard, size: Paper, address: str) -> str:
    """The document of a card's board."""
    content = card.shown
    says = (f"Shot {content['shot']}", content["plate"])
    return sheet_html(card.board, size, address, card.slate, says)


def sheet_html(
    number: int,
    size: Paper,
    address: str,
    title: str,
    says: tuple[str, str],
    foot: str = "middle of this edge on the mark, lying or upright · ",
) -> str:
    """The document of a board with a number; `title` and what it `says` stand below the grid,
    `foot` along its lower edge."""
    times = TIMES[size]
    return render_to_string(
        "takes/board.html",
        {
            "title": title,
            "first": says[0],
            "second": says[1],
            "foot": foot,
            "wide": f"{paper.WIDE_MM * times:.3f}",
            "high": f"{paper.HIGH_MM * times:.3f}",
            "box": f"0 0 {paper.WIDE_MM:g} {paper.HIGH_MM:g}",
            "ink": mark_safe(_ink(number, size)),
            "phone": mark_safe(_phone(address)),
            # The ruler is true to the millimetre on either paper.
            "ruler": mark_safe(_ruler(100.0 / times)),
        },
    )


def _ink(number: int, size: Paper) -> str:
    """Everything black, as one path: no hairlines between the cells of a marker."""
    return "".join(
        f"M{left:.4f} {top:.4f}h{side:.4f}v{side:.4f}h{-side:.4f}z"
        for left, top, side in paper.black(number, size)
    )


def _phone(address: str) -> str:
    """The code for phones, as a group of the drawing."""
    code = code_of(address)
    left, top, side = PHONE_MM
    return (
        f'<path transform="translate({left:.3f} {top:.3f}) scale({side / code.side:.5f})"'
        f' d="{code.path}" fill="#000" shape-rendering="crispEdges"/>'
    )


def _ruler(long: float) -> str:
    """A line of 100 mm up the right margin, in millimetres of the drawing."""
    x, bottom = 203.0, 200.0
    ticks = "".join(
        f"M{x - (3 if n % 5 == 0 else 1.5):.2f} {bottom - long * n / 10:.4f}H{x:.2f}"
        for n in range(11)
    )
    return (
        f'<path d="M{x} {bottom}V{bottom - long:.4f}{ticks}" fill="none" stroke="#000" '
        'stroke-width=".25"/>'
        f'<text transform="translate({x + 3.2} {bottom}) rotate(-90)" font-size="3">'
        "this line is 100 mm: measure it</text>"
    )
