"""From a pointer move to the redrawn picture in Chromium, with 12 stand-ins."""

from __future__ import annotations

import statistics

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
        gate = StandIn.objects.get(name="Lock gate")
        box = page.locator(f'[data-testid=frame] [data-grip="{gate.pk}"]').bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.evaluate(WATCH)
        page.mouse.move(x, y)
        page.mouse.down()
        for i in range(MOVES):
            page.mouse.move(x - 40 + 80 * abs((i % 40) - 20) / 20, y)
            page.wait_for_timeout(30)
        page.mouse.up()
        page.wait_for_timeout(500)
        answers = sorted(page.evaluate("window.answers"))
    assert len(answers) > MOVES / 4, "too few redraws were seen to say anything"
    median = statistics.median(answers)
    ninety = answers[int(len(answers) * 0.9)]
    return (
        "## Dragging a stand-in\n\n"
        f"From a pointer move to the painted Frame in headless Chromium, 12 stand-ins, two plates, "
        f"{len(answers)} redraws, the demo's own web server on the same machine. "
        "Aim: under 100 ms at the median.\n\n"
        "| | ms | part of the 100 ms aim |\n| --- | ---: | ---: |\n"
        f"| median | {median:.0f} | {median / 100:.2f} |\n"
        f"| 90th percentile | {ninety:.0f} | {ninety / 100:.2f} |"
    )
