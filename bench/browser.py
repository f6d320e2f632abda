"""Slider moved to new pixels on the page, in Chromium against a running service: `python -m bench.browser ADDRESS`.

Start the application with bin/start first. Each move is timed in the page itself, from the
input event until the new picture is decoded and laid on the glass.
"""

import statistics
import sys

from playwright.sync_api import Page, sync_playwright

MOVES = 60
PAUSE_MS = 200  # a hand looks before it moves on
QUIET = ("background-networking", "component-update", "sync", "quic")

MOVE = """value => new Promise(done => {
  const slide = document.getElementById('id_exposure'), glass = document.getElementById('glass');
  const begun = performance.now();
  new MutationObserver((_, watch) => { watch.disconnect(); requestAnimationFrame(() => done(performance.now() - begun)); })
    .observe(glass, {attributes: true, attributeFilter: ['src']});
  slide.value = value;
  slide.dispatchEvent(new Event('input', {bubbles: true}));
})"""


def moves(page: Page) -> list[float]:
    """Milliseconds of each move; every value is new, so no cache has its picture."""
    page.wait_for_function("() => document.getElementById('glass').complete")
    times = []
    for number in range(MOVES):
        times.append(page.evaluate(MOVE, f"{-1.5 + 0.05 * number:.2f}"))
        page.wait_for_timeout(PAUSE_MS)
    return times


def report(name: str, times: list[float], wanted: str) -> None:
    at95 = statistics.quantiles(times, n=20)[-1]
    print(f"{name:44} median {statistics.median(times):6.1f} ms   95th percentile {at95:6.1f} ms   {wanted}")


def main(address: str) -> None:
    with sync_playwright() as play:
        arguments = ["--no-sandbox", "--no-first-run", *(f"--disable-{q}" for q in QUIET)]
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=arguments)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        weight: dict[str, int] = {}
        session = page.context.new_cdp_session(page)
        session.send("Network.enable")
        session.on("Network.loadingFinished", lambda e: weight.update({e["requestId"]: e["encodedDataLength"]}))
        page.goto(address)
        page.click("text=Walk into the demo workshop")
        page.click("h2 >> text=Tide & wind board")
        page.wait_for_load_state("networkidle")
        kib = sum(weight.values()) / 1024
        print(f"{'first visit: door, workshop and a station':44} {kib:.0f} KiB over the wire   to stay under 400 KiB a page")
        report("296 x 128, four colours", moves(page), "")
        page.goto(address)
        page.click("h2 >> text=Stroke-rate counter")
        page.click("text=Slip, small")
        page.wait_for_load_state("networkidle")
        report("128 x 64, one tone", moves(page), "to stay under 100 ms")
        page.goto(address)
        page.click("h2 >> text=Sign-out panel")
        page.goto(page.url.split("/builds/")[0] + "/builds/" + page.url.split("/builds/")[1].split("/")[0] + "/screens/")
        page.wait_for_load_state("networkidle")
        report("dragged on a screen, 320 x 240, 16 bits", drags(page), "to stay under 100 ms")
        begin_large_build(page, address)
        report("800 x 480, seven colours", moves(page), "to stay under 200 ms")
        lay_a_screen(page)
        report("dragged on a screen, 800 x 480, seven colours", drags(page), "to stay under 150 ms")
        page.click("text=Build sheet")
        page.fill("#remove-name", "Bench, large")
        page.get_by_role("button", name="Remove it").click()
        page.wait_for_url(address)
        browser.close()


DRAG = """([x, y]) => new Promise(done => {
  setTimeout(() => done(3000), 3000);
  const overlay = document.getElementById('overlay'), glass = document.getElementById('glass');
  const begun = performance.now();
  new MutationObserver((_, watch) => { watch.disconnect(); requestAnimationFrame(() => done(performance.now() - begun)); })
    .observe(glass, {attributes: true, attributeFilter: ['src']});
  overlay.dispatchEvent(new PointerEvent('pointermove', {pointerId: 1, clientX: x, clientY: y, bubbles: true}));
})"""


def drags(page: Page) -> list[float]:
    """Milliseconds from each move of an element that is dragged to its true pixels."""
    page.wait_for_function("() => document.getElementById('glass').complete")
    at = page.locator("#overlay").bounding_box()
    box = page.evaluate("() => JSON.parse(document.getElementById('shown').dataset.boxes).at(-1)")
    step = at["width"] / int(page.locator("#overlay").get_attribute("viewBox").split()[2])
    x, y = at["x"] + (box[1] + 4) * step, at["y"] + (box[2] + 4) * step
    page.mouse.move(x, y)
    page.mouse.down()
    page.wait_for_timeout(PAUSE_MS * 3)
    times = []
    for number in range(1, MOVES + 1):
        times.append(page.evaluate(DRAG, [x + number * step, y]))
        page.wait_for_timeout(PAUSE_MS)
    page.keyboard.press("Escape")
    page.mouse.up()
    return times


def begin_large_build(page: Page, address: str) -> None:
    """A build with the largest panel and the dusk scene, removed again afterwards."""
    page.goto(address)
    page.click("h2 >> text=Tide & wind board")
    picture = page.request.get(page.url + "source.png").body()
    page.goto(address)
    page.set_input_files("#drop-file", {"name": "scene.png", "mimeType": "image/png", "buffer": picture})
    page.wait_for_url("**/builds/new/**")
    page.fill("#id_name", "Bench, large")
    page.fill("#shelf-search", "800x480 seven")
    page.wait_for_selector("input[name=panel][value=epaper-800x480-seven-colour]", state="attached")
    for name, value in (("panel", "epaper-800x480-seven-colour"), ("board", "wireless"), ("link_kind", "spi")):
        page.check(f"input[name={name}][value={value}]", force=True)
    page.get_by_role("button", name="Create build").click(force=True)
    page.wait_for_load_state("networkidle")


def lay_a_screen(page: Page) -> None:
    """A screen of some elements in the build at hand."""
    page.goto("/".join(page.url.split("/")[:5]) + "/screens/")
    page.fill("#screen-name", "Bench")
    page.get_by_role("button", name="Begin").click()
    for kind in ("rectangle", "needle", "gauge", "ellipse", "bar", "pattern"):
        page.wait_for_selector("#begin-kind")
        page.select_option("#begin-kind", kind)
        page.locator(".fm-begin button").click()
        page.wait_for_timeout(1000)


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8412/")
