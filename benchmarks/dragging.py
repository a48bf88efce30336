"""From a pointer move to the redrawn picture in Chromium, with 12 stand-ins."""

from __future__ import annotations

import statistics
from typing import Any

MOVES = 120

# Watches the Frame: the time from each pointer move until the outlines have changed and a frame
# has been painted after that.
WATCH = """
() => {
  window.answers = [];
  let moved = null;
  addEventListener('pointermove', () => { if (moved === null) moved = performance.now(); }, true);
  const seen = new MutationObserver(() => {
    if (moved === null) return;
    const began = moved;
    moved = null;
    requestAnimationFrame(() => {
      const channel = new MessageChannel();
      channel.port1.onmessage = () => window.answers.push(performance.now() - began);
      channel.port2.postMessage(0);
    });
  });
  seen.observe(document.querySelector('[data-testid=frame]'),
    { subtree: true, attributes: true, attributeFilter: ['d'] });
}
"""


def measure() -> str:
    """The table as Markdown."""
    from throwaway import chromium, demo_server, open_demo

    from jungoptic.web.plans.models import Plate, Shot, StandIn

    shot = Shot.objects.get(number="2")
    plate = Plate.objects.get(name="Mill miniature")
    for i in range(12 - shot.stand_ins.count()):
        StandIn.objects.create(
            shot=shot,
            plate=plate,
            name=f"Bollard {i}",
            kind="box",
            x_m=i - 3,
            y_m=12 + i,
            width_m=0.3,
            height_m=0.8,
            depth_m=0.3,
        )
    assert shot.stand_ins.count() == 12
    with demo_server() as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        open_demo(page, address)
        page.get_by_role("link", name="The tide mill, wide").click()
        page.get_by_test_id("drawing-elevation").wait_for()
        gate = str(StandIn.objects.get(name="Lock gate").pk)
        page.evaluate(WATCH)
        lines = _drag(page, gate)
        page.get_by_role("checkbox", name="Tone").check()
        page.wait_for_timeout(500)
        tone = _drag(page, gate)
    rows = []
    for name, answers in (("in outline", lines), ("in tone", tone)):
        assert len(answers) > MOVES / 4, "too few redraws were seen to say anything"
        median, ninety = statistics.median(answers), answers[int(len(answers) * 0.9)]
        rows.append(f"| {name} | {len(answers)} | {median:.0f} | {ninety:.0f} |")
    return (
        "## Dragging a stand-in\n\n"
        "From a pointer move to the painted Frame in headless Chromium, 12 stand-ins, two plates, "
        "the demo's own web server on the same machine. Aims: 60 ms at the median, 90 at the 90th "
        "percentile.\n\n"
        "| the Frame | redraws | median ms | 90th percentile |\n| --- | ---: | ---: | ---: |\n"
        + "\n".join(rows)
    )


def _drag(page: Any, thing: str) -> list[float]:
    """Milliseconds from pointer moves to painted answers, while a thing is dragged to and fro."""
    box = page.locator(f'[data-testid=frame] [data-grip="{thing}"]').bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.evaluate("() => { window.answers = []; }")
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(x - 40 + 80 * abs((i % 40) - 20) / 20, y)
        page.wait_for_timeout(30)
    # Back to where it was: what is measured next finds it there.
    page.mouse.move(x, y)
    page.mouse.up()
    page.wait_for_timeout(500)
    found: list[float] = sorted(page.evaluate("window.answers"))
    return found
