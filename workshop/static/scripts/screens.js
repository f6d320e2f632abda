// The page of one screen: its form is live; on the glass things are chosen, dragged, moved by keys and measured. Guides are drawn
// here, pixels are the server's.
import {form, keep, start} from "./live.js";
import {drag} from "./lib/drag.js";
import {arrowStep, pixelOf, placeIn} from "./lib/places.js";
import {say} from "./lib/slides.js";

const FAR = 8, REST_MS = 350, NEAR_PX = 7;
const overlay = document.getElementById("overlay"), told = () => document.getElementById("shown").dataset;
const field = overlay ? {w: +overlay.getAttribute("viewBox").split(" ")[2], h: +overlay.getAttribute("viewBox").split(" ")[3]} : null;
let boxes = [], guides = [], chosen = [], held = null, from = null, measuring = null, resting = 0, asked = 0, sizing = null, guiding = null;

const boxOf = id => boxes.find(box => box[0] === id);
const mark = (name, numbers, more = "") => `<${name} ${Object.entries(numbers).map(([key, value]) => `${key}="${value}"`).join(" ")} ${more}/>`;

function draw(dx = 0, dy = 0) {
  if (!overlay) return;
  const parts = guides.map(([, upright, at]) => mark("line", upright ? {x1: at, x2: at, y1: 0, y2: field.h} : {x1: 0, x2: field.w, y1: at, y2: at}, 'class="guide"'));
  const [sx, sy, sw, sh] = overlay.dataset.safe.split(" ").map(Number);
  if (sw < field.w || sh < field.h) parts.push(mark("rect", {x: sx, y: sy, width: sw, height: sh}, 'class="safe"'));
  for (const id of chosen) {
    const box = boxOf(id);
    if (!box) continue;
    const [, x, y, w, h, base, , byX, byY] = box;
    parts.push(mark("rect", {x: x + dx, y: y + dy, width: Math.max(w, 1), height: Math.max(h, 1)}, 'class="box"'));
    if (chosen.length === 1 && !dx && !dy) parts.push(mark("rect", {x: x + w - handle(), y: y + h - handle(), width: 2 * handle(), height: 2 * handle()}, 'class="handle"'));
    if (base < y + h) parts.push(mark("line", {x1: x + dx, x2: x + w + dx, y1: base + dy, y2: base + dy}, 'class="base"'));
    for (const by of new Set([byX, byY])) {
      const other = boxOf(by);
      if (other) parts.push(mark("line", {x1: other[1] + other[3] / 2, y1: other[2] + other[4] / 2, x2: x + dx + w / 2, y2: y + dy + h / 2}, 'class="anchor"'));
    }
  }
  if (measuring?.a) parts.push(mark("line", {x1: measuring.a.x + .5, y1: measuring.a.y + .5, x2: (measuring.b || measuring.a).x + .5, y2: (measuring.b || measuring.a).y + .5}, 'class="box"'));
  overlay.innerHTML = parts.join("");
}

// Half a handle's side, in the panel's pixels: as large on the page whatever the zoom.
const handle = () => NEAR_PX / 2 * field.w / (overlay.getBoundingClientRect().width || field.w);
const near = (event, x, y) => {
  const box = overlay.getBoundingClientRect();
  return Math.abs(event.clientX - box.left - x / field.w * box.width) <= NEAR_PX && Math.abs(event.clientY - box.top - y / field.h * box.height) <= NEAR_PX;
};

/** The chosen element by its lower right corner: its size becomes one in pixels. */
function resize(w, h, name) {
  const fields = form().elements;
  if (!fields.width_by) return;
  fields.width_by.value = fields.height_by.value = "pixels";
  fields.width_pixels.value = Math.max(0, w);
  fields.height_pixels.value = Math.max(0, h);
  fields.width_pixels.dispatchEvent(new Event(name, {bubbles: true}));
}

function take({boxes: b, guides: g, chosen: c}) {
  if (b) boxes = b;
  if (g) guides = g;
  if (c && !held) chosen = c;
  draw();
}
const takeTold = () => take({boxes: JSON.parse(told().boxes || "[]"), guides: JSON.parse(told().guides || "[]"), chosen: (told().chosen || "").split(",").filter(Boolean)});

// What stands at a pixel: what is chosen already, else the smallest, so that what lies inside something large is reached.
function at({x, y}, kept = true) {
  const there = boxes.filter(([, bx, by, w, h, , , , , shown]) => shown && x >= bx && y >= by && x < bx + w && y < by + h);
  return ((kept && there.find(([id]) => chosen.includes(id))) || there.toReversed().toSorted((a, b) => a[3] * a[4] - b[3] * b[4])[0])?.[0] || "";
}

const stateField = () => document.getElementById("state");

/** Unfolds what is chosen in the order, and shows its figures; what came in between is dropped. */
async function choose(ids, state = "") {
  chosen = ids;
  draw();
  const number = ++asked, at = state || stateField()?.value || "";
  const query = [ids.length ? `e=${ids.join(",")}` : "", at && at !== "typical" && at !== "hand" || state ? `state=${at}` : ""].filter(Boolean).join("&");
  const url = `${form().dataset.page}?${query}`;
  history.replaceState(null, "", query ? url : form().dataset.page);
  document.body.toggleAttribute("data-choosing", true);
  const answer = await fetch(`${url}&part=1`, {headers: {"HX-Request": "true"}});
  const html = await answer.text();
  if (number !== asked) return;
  document.body.toggleAttribute("data-choosing", false);
  if (answer.ok && !held) window.htmx.swap(document.body, html, {swapStyle: "none"});
}

function setDrag(dx, dy) {
  const fields = form().elements;
  fields.drag.value = dx || dy ? chosen.join(",") : "";
  fields.dx.value = dx;
  fields.dy.value = dy;
}

const previewed = () => form().elements.dx.dispatchEvent(new Event("input", {bubbles: true}));
const settled = () => form().elements.dx.dispatchEvent(new Event("change", {bubbles: true}));

function nudge(dx, dy) {
  if (!chosen.length) return;
  const fields = form().elements;
  const sum = {x: +fields.dx.value + dx, y: +fields.dy.value + dy};
  setDrag(sum.x, sum.y);
  draw(sum.x, sum.y);
  previewed();
  clearTimeout(resting);
  resting = setTimeout(settled, REST_MS);
}

function measured() {
  const {a, b} = measuring, mat = document.getElementById("mat").dataset, dx = Math.abs(b.x - a.x), dy = Math.abs(b.y - a.y);
  const mmx = dx * mat.widthMm / mat.width, mmy = dy * mat.heightMm / mat.height;
  document.getElementById("measured").textContent = `${dx} × ${dy} px, ${mmx.toFixed(1)} × ${mmy.toFixed(1)} mm, ${Math.hypot(mmx, mmy).toFixed(1)} mm straight`;
}

if (overlay) {
  drag(overlay, {
    begin(event) {
      const pixel = pixelOf(placeIn(event, overlay, field), field);
      if (measuring) { measuring = {a: pixel, b: pixel}; draw(); return true; }
      const only = chosen.length === 1 && boxOf(chosen[0]);
      if (only && near(event, only[1] + only[3], only[2] + only[4])) { sizing = {box: only, x: event.clientX, y: event.clientY}; from = overlay.getBoundingClientRect(); return true; }
      const line = guides.find(([, upright, at]) => upright ? near(event, at, pixel.y + .5) : near(event, pixel.x + .5, at));
      if (line && !at(pixel)) { guiding = {line, now: line[2]}; return true; }
      const id = at(pixel);
      if (event.shiftKey) {
        if (id) choose(chosen.includes(id) ? chosen.filter(one => one !== id) : [...chosen, id]);
        return false;
      }
      if (!id) { if (chosen.length) choose([]); return false; }
      if (!chosen.includes(id)) choose([id]);
      held = {x: event.clientX, y: event.clientY, dx: 0, dy: 0};
      from = overlay.getBoundingClientRect();
      return true;
    },
    move(event) {
      if (measuring) { measuring.b = pixelOf(placeIn(event, overlay, field), field); draw(); measured(); return; }
      if (sizing) {
        const w = sizing.box[3] + Math.round((event.clientX - sizing.x) / from.width * field.w), h = sizing.box[4] + Math.round((event.clientY - sizing.y) / from.height * field.h);
        if (w === sizing.w && h === sizing.h) return;
        Object.assign(sizing, {w, h});
        resize(w, h, "input");
        return;
      }
      if (guiding) {
        const place = placeIn(event, overlay, field), line = guiding.line;
        guides = guides.map(one => one[0] === line[0] ? [one[0], one[1], Math.round(line[1] ? place.x : place.y), one[3], one[4]] : one);
        guiding.now = guides.find(one => one[0] === line[0])[2];
        draw();
        return;
      }
      const dx = Math.round((event.clientX - held.x) / from.width * field.w), dy = Math.round((event.clientY - held.y) / from.height * field.h);
      if (dx === held.dx && dy === held.dy) return;
      Object.assign(held, {dx, dy});
      setDrag(dx, dy);
      draw(dx, dy);
      previewed();
    },
    end(event) {
      if (measuring) return;
      if (sizing) { const {w, h} = sizing; sizing = null; if (w !== undefined) resize(w, h, "change"); return; }
      if (guiding) {
        const {line, now} = guiding;
        guiding = null;
        if (now !== line[2]) keep(form().dataset.act, {act: "move-guide", guide: line[0], plus: line[4] + now - line[2], of: chosen.join(",")});
        return;
      }
      const moved = held && (held.dx || held.dy);
      held = null;
      if (moved) { settled(); return; }
      const id = at(pixelOf(placeIn(event, overlay, field), field), false);
      if (id && chosen.join() !== id) choose([id]);
    },
    cancel() { held = sizing = guiding = null; setDrag(0, 0); takeTold(); },
  });
  overlay.addEventListener("keydown", event => {
    const by = arrowStep(event, FAR), only = chosen.length === 1 && boxOf(chosen[0]);
    if (by && event.altKey) {
      event.preventDefault();
      if (!only) return;
      only[3] = Math.max(0, only[3] + by.x);
      only[4] = Math.max(0, only[4] + by.y);
      resize(only[3], only[4], "input");
      clearTimeout(resting);
      resting = setTimeout(() => resize(only[3], only[4], "change"), REST_MS);
    } else if (by) { event.preventDefault(); nudge(by.x, by.y); }
    if (event.key === "Delete" && chosen.length) { event.preventDefault(); keep(form().dataset.act, {act: "remove", of: chosen.join(","), }); }
    if (event.key === "Escape" && chosen.length) choose([]);
  });
  document.getElementById("measure").addEventListener("click", event => {
    measuring = measuring ? null : {};
    event.target.setAttribute("aria-pressed", String(!!measuring));
    document.getElementById("measured").textContent = measuring ? "drag from one point to another" : "";
    draw();
  });
}

document.body.addEventListener("click", event => {
  const state = event.target.closest(".fm-state");
  if (state && !event.ctrlKey && !event.metaKey) { event.preventDefault(); choose(chosen, state.dataset.state); return; }
  if (event.target.id === "by-hand") { byHand(true); return; }
  const link = event.target.closest(".fm-choose");
  if (!link || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  choose([link.dataset.id]);
});
// Readings set by hand are shown, they change nothing of the screen: the form is previewed with them, in the state "hand".
function byHand(settledToo) {
  stateField().value = "hand";
  if (settledToo) form().elements.dx.dispatchEvent(new Event("input", {bubbles: true}));
}
for (const heard of ["input", "change"]) {
  document.body.addEventListener(heard, event => {
    const {target} = event;
    if (target.matches(".fm-hand-slide")) {
      event.stopImmediatePropagation();
      const scale = +target.dataset.scale, field = document.getElementById(target.dataset.for);
      field.value = (target.value / 10 ** scale).toFixed(scale);
      byHand(heard === "input");
    } else if (target.matches(".fm-by-hand")) {
      event.stopImmediatePropagation();
      if (heard === "change") byHand(true);
    } else if (target.matches("[name=moment_name], [name=what], [name=value_id]")) event.stopImmediatePropagation();
  }, true);
}

// Ticks choose, they change nothing: the form is not kept for them.
document.body.addEventListener("change", event => {
  if (!event.target.matches(".fm-pick")) return;
  event.stopImmediatePropagation();
  const picks = [...document.querySelectorAll(".fm-pick:checked")].map(box => box.value);
  const first = form().elements.of.value;
  choose(picks.includes(first) ? [first, ...picks.filter(one => one !== first)] : picks);
}, true);
document.body.addEventListener("input", event => { if (event.target.matches(".fm-pick, #begin-kind, .fm-guides *, [name=part_name], [name=part_into], #copy-to, #to-grid")) event.stopImmediatePropagation(); }, true);
document.body.addEventListener("change", event => { if (event.target.matches("#begin-kind, .fm-guides *, [name=part_name], [name=part_into], #copy-to, #to-grid")) event.stopImmediatePropagation(); }, true);
document.body.addEventListener("htmx:oobAfterSwap", event => { if (event.detail.target.id === "shown") setTimeout(takeTold); });

// Rows of the order, dragged before another one.
let row = "";
const rowOf = event => event.target.closest?.("[data-row]");
document.body.addEventListener("dragstart", event => { row = rowOf(event)?.dataset.row || ""; });
document.body.addEventListener("dragover", event => {
  const over = row && rowOf(event);
  document.querySelectorAll(".is-over").forEach(one => one.classList.toggle("is-over", one === over));
  if (over) { event.preventDefault(); over.classList.add("is-over"); }
});
document.body.addEventListener("drop", event => {
  const over = row && rowOf(event);
  if (!over || over.dataset.row === row) return;
  event.preventDefault();
  const rows = [...document.querySelectorAll("[data-row]")].map(one => one.dataset.row).filter(one => one !== row);
  keep(form().dataset.act, {act: "order", of: row, to: rows.indexOf(over.dataset.row)});
});
document.body.addEventListener("dragend", () => { row = ""; document.querySelectorAll(".is-over").forEach(one => one.classList.remove("is-over")); });

start({say, told: take, plain: button => button?.matches("[data-plain]")});
takeTold();
