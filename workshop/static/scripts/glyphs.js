// The glyph bench: pixels set and cleared by dragging or by keys. What is drawn here are guides; the glyph is the server's.
import {drag} from "./lib/drag.js";
import {Line} from "./lib/line.js";
import {arrowStep, pixelOf, pixelsAlong, placeIn} from "./lib/places.js";

const FAR = 8;
let stroke = null, level = 0, cursor = null, sending = false;
const line = new Line();
const el = id => document.getElementById(id);
const grid = () => el("glyph-grid");
const bench = () => el("bench").dataset;
const field = () => { const [x, y, w, h] = grid().getAttribute("viewBox").split(" ").map(Number); return {x, y, w, h}; };
const place = event => pixelOf(placeIn(event, grid(), field()), field());
const levelAt = p => { const {left, top, levels} = bench(); return parseInt(levels.split(" ")[p.y + +top][p.x - +left], 16); };

function draw() {
  const parts = [];
  for (const [x, y] of stroke || []) parts.push(`<rect class="${level ? "set" : "cleared"}" x="${x + 0.1}" y="${y + 0.1}" width="0.8" height="0.8"/>`);
  if (cursor) parts.push(`<rect class="cursor" x="${cursor.x}" y="${cursor.y}" width="1" height="1"/>`);
  el("grid-hand").innerHTML = parts.join("");
}

// The first pixel decides: one that has the chosen level already is cleared, and so are those after it.
function beginAt(p) {
  const tone = el("tone"), chosen = (tone.selectedOptions?.[0] || tone).dataset.level;
  level = levelAt(p) === +chosen ? 0 : +tone.value;
  stroke = [[p.x, p.y]];
}

function keep() {
  const values = {act: "stroke", level, stroke: JSON.stringify(stroke.map(([x, y]) => [x, -y - 1]))}, focused = document.activeElement === grid();
  stroke = null;
  // One after the other, each from the revision that the one before it made.
  line.add(() => send(values)).then(() => { if (focused) grid().focus(); draw(); });
}
function send(values) {
  sending = true;
  const answered = window.htmx.ajax("POST", bench().touch, {target: "#bench", swap: "outerHTML", values: {...values, base: el("base").value}});
  sending = false;
  return answered;
}

// What is pressed while a stroke is on its way waits for it; its button has then been laid anew.
function wait(event) {
  const {elt, path, triggeringEvent} = event.detail;
  if (sending || !line.isBusy || !elt.closest("#bench")) return;
  event.preventDefault();
  const act = triggeringEvent?.submitter?.value;
  line.add(() => {
    const button = document.querySelector(act ? `#bench button[value="${act}"]` : `#bench button[hx-post="${path}"]`);
    if (!button) return;
    // Laid a moment ago, it would still send its form as a page; and it has waited already.
    window.htmx.process(button.form || button);
    sending = true;
    button.click();
    sending = false;
  });
}

function key(event) {
  if (!event.target.closest?.("#glyph-grid")) return;
  const by = arrowStep(event, FAR);
  cursor ??= pixelOf({x: 0, y: -1}, field());
  if (by) cursor = pixelOf({x: cursor.x + by.x, y: cursor.y + by.y}, field());
  else if (event.key === " " || event.key === "Enter") { beginAt(cursor); keep(); }
  else return;
  event.preventDefault();
  el("grid-words").textContent = `column ${cursor.x}, row ${-cursor.y - 1} above the baseline${levelAt(cursor) ? ", set" : ""}`;
  draw();
}

if (grid()) {
  // The bench is laid anew after each change, so its page listens for it.
  drag(document, {
    within: "#glyph-grid",
    begin: event => { cursor = place(event); beginAt(cursor); draw(); },
    move: event => { cursor = place(event); stroke.push(...pixelsAlong(stroke.at(-1), [cursor.x, cursor.y])); draw(); },
    end: keep,
    cancel: () => { stroke = null; draw(); },
  });
  document.addEventListener("keydown", key);
  document.body.addEventListener("htmx:confirm", wait);
  // Another tab was quicker: the next stroke goes on from what stands there now.
  document.body.addEventListener("click", event => { if (event.target.id === "keep-mine") location.reload(); });
  document.addEventListener("keydown", event => {
    if (event.target.closest("input, select, textarea, #glyph-grid") || event.ctrlKey || event.metaKey || event.altKey) return;
    const link = {g: "glyph-next", G: "glyph-before"}[event.key];
    if (link) el(link).click();
  });
  document.querySelector("#glyph-list [aria-current]")?.scrollIntoView({block: "nearest"});
}
