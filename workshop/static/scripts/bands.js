// The page Bands: limits are dragged along the number line, or moved by arrow keys; the server keeps where they come to lie.
import {drag} from "./lib/drag.js";
import {say} from "./lib/slides.js";

const REST_MS = 400, WIDE = 720, FAR = 10;
const line = document.getElementById("line"), form = document.getElementById("drag-form");
say();

if (line) {
  const low = +line.dataset.low, high = +line.dataset.high, span = high - low + 1;
  let held = null, resting = 0;
  const rawAt = event => {
    const box = line.getBoundingClientRect(), [x0, , w] = line.getAttribute("viewBox").split(" ").map(Number);
    return low + Math.round((x0 + (event.clientX - box.left) / box.width * w) / WIDE * span);
  };
  const lay = (limit, raw) => {
    limit.dataset.raw = Math.max(low, Math.min(high + 1, raw));
    limit.setAttribute("transform", `translate(${(limit.dataset.raw - low) / span * WIDE} 0)`);
    limit.setAttribute("aria-valuenow", limit.dataset.raw);
  };
  function keep(limit) {
    form.elements.number.value = limit.dataset.number;
    form.elements.raw.value = limit.dataset.raw;
    form.requestSubmit();
  }
  drag(line, {
    within: ".limit",
    begin(event) { held = {limit: event.target.closest(".limit")}; held.from = +held.limit.dataset.raw; },
    move(event) { lay(held.limit, rawAt(event)); },
    end() { const {limit, from} = held; held = null; if (+limit.dataset.raw !== from) keep(limit); },
    cancel() { lay(held.limit, held.from); held = null; },
  });
  line.addEventListener("keydown", event => {
    const by = {ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1}[event.key], limit = event.target.closest(".limit");
    if (!by || !limit) return;
    event.preventDefault();
    lay(limit, +limit.dataset.raw + by * (event.shiftKey ? FAR : 1));
    clearTimeout(resting);
    resting = setTimeout(() => keep(limit), REST_MS);
  });
}
