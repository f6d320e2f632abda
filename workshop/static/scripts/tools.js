// Hands on the glass: regions drawn as rectangles or lassos, and single pixels set, by pointer or by keys.
// What is drawn here are guides only; the picture comes from the server.
import {drag} from "./lib/drag.js";
import {arrowStep, cornerOf, hold, pixelOf, pixelsAlong, placeIn} from "./lib/places.js";

const WORDS = {
  look: "", rect: "Drag a rectangle, or Enter at two corners; arrows move.",
  lasso: "Draw around a part, or Enter at corners and C to close.",
  touch: "Drag over pixels, or arrows and Space.",
};
const FAR = 8, MOST_CORNERS = 399;
let tool = "look", cursor = {x: 0, y: 0}, corners = [], stroke = null, color = "0", shown = "#fff", keep = null;
const el = id => document.getElementById(id);
const overlay = () => el("overlay");
const field = () => ({w: +el("mat").dataset.width, h: +el("mat").dataset.height});
const pixel = event => pixelOf(placeIn(event, overlay(), field()), field());
const corner = event => cornerOf(placeIn(event, overlay(), field()), field());

function draw() {
  const laid = el("laid"), parts = [laid ? laid.innerHTML : ""];
  if (tool === "rect" && corners.length) {
    const [a, b] = [corners[0], corners[1] || cursor];
    parts.push(`<rect class="drawn" x="${Math.min(a.x, b.x)}" y="${Math.min(a.y, b.y)}" width="${Math.abs(a.x - b.x)}" height="${Math.abs(a.y - b.y)}"/>`);
  }
  if (tool === "lasso" && corners.length) parts.push(`<polyline class="drawn" points="${[...corners, cursor].map(c => `${c.x},${c.y}`).join(" ")}"/>`);
  if (stroke) for (const [x, y] of stroke) parts.push(`<rect class="set" x="${x + 0.15}" y="${y + 0.15}" width="0.7" height="0.7" fill="${shown}"/>`);
  if (tool === "touch") parts.push(`<rect class="cursor" x="${cursor.x}" y="${cursor.y}" width="1" height="1"/>`);
  else if (tool !== "look") parts.push(`<path class="cursor" d="M${cursor.x - 2} ${cursor.y}h4M${cursor.x} ${cursor.y - 2}v4"/>`);
  overlay().innerHTML = parts.join("");
}
const tell = words => { el("tool-words").textContent = words; };

function choose(name) {
  tool = name; corners = []; stroke = null;
  for (const key of el("tools").querySelectorAll("[data-tool]")) key.setAttribute("aria-pressed", key.dataset.tool === name);
  el("tool-colors").hidden = name !== "touch";
  overlay().classList.toggle("is-on", name !== "look");
  // What is worked on has to be seen: the original steps aside for a while.
  el("split").style.setProperty("--x", name === "look" ? `${el("split-range").value}%` : "0%");
  el("split").classList.toggle("is-worked", name !== "look");
  if (name === "look") overlay().removeAttribute("tabindex"); else overlay().setAttribute("tabindex", "0");
  cursor = {x: hold(cursor.x, 0, field().w - 1), y: hold(cursor.y, 0, field().h - 1)};
  tell(WORDS[name]);
  draw();
}

function keepStroke() {
  const own = stroke, chosen = el("touch-color");
  keep(el("tools").dataset.touch, {stroke: JSON.stringify(own), color: color === "off" || !chosen ? color : chosen.value})
    .finally(() => { if (stroke === own) { stroke = null; draw(); } });
}
function keepRegion(shape) {
  const made = corners.map(c => [c.x, c.y]);
  corners = [];
  draw();
  keep(el("tools").dataset.region, {shape, corners: JSON.stringify(made), method: "threshold"});
}
const isArea = (a, b) => a.x !== b.x && a.y !== b.y;

function begin(event) {
  if (tool === "look") return false;
  if (tool === "touch") { cursor = pixel(event); stroke = [[cursor.x, cursor.y]]; }
  else { cursor = corner(event); corners = tool === "rect" ? [cursor, cursor] : [cursor]; }
  draw();
  return true;
}
function move(event) {
  if (tool === "touch" && stroke) { cursor = pixel(event); stroke.push(...pixelsAlong(stroke.at(-1), [cursor.x, cursor.y])); }
  else if (tool === "rect" && corners.length) corners[1] = cursor = corner(event);
  else if (tool === "lasso" && corners.length) {
    const last = corners.at(-1);
    cursor = corner(event);
    if (Math.hypot(cursor.x - last.x, cursor.y - last.y) >= Math.max(1, field().w / 100) && corners.length < MOST_CORNERS) corners.push(cursor);
  }
  draw();
}
function end() {
  if (tool === "touch" && stroke) keepStroke();
  else if (tool === "rect" && corners.length === 2 && isArea(...corners)) keepRegion("rect");
  else if (tool === "lasso" && corners.length > 2) keepRegion("lasso");
  else corners = [];
  draw();
}
function letGo() { corners = []; stroke = null; draw(); }

function key(event) {
  if (tool === "look") return;
  const by = arrowStep(event, FAR), most = tool === "touch" ? 1 : 0, isEnter = event.key === "Enter";
  if (by) {
    cursor = {x: hold(cursor.x + by.x, 0, field().w - most), y: hold(cursor.y + by.y, 0, field().h - most)};
    tell(`column ${cursor.x}, row ${cursor.y}`);
  } else if (event.key === "Escape") { letGo(); tell(WORDS[tool]); }
  else if (tool === "touch" && (event.key === " " || isEnter)) { stroke = [[cursor.x, cursor.y]]; keepStroke(); tell(`column ${cursor.x}, row ${cursor.y} set`); }
  else if (tool === "rect" && isEnter) {
    corners.push(cursor);
    if (corners.length === 2) { if (isArea(...corners)) keepRegion("rect"); else corners.pop(); }
  } else if (tool === "lasso" && isEnter) corners.push(cursor);
  else if (tool === "lasso" && event.key.toLowerCase() === "c") { if (corners.length > 2) keepRegion("lasso"); }
  else return;
  event.preventDefault();
  draw();
}

/** Makes the toolbar work; `keeper(address, fields)` keeps what was done. */
export function startTools(keeper) {
  const bar = el("tools");
  if (!bar) return;
  keep = keeper;
  const first = bar.querySelector('[data-color][aria-pressed="true"]');
  if (first) { color = first.dataset.color; shown = first.dataset.shown; }
  bar.addEventListener("click", event => {
    const chosen = event.target.closest("[data-tool]"), dipped = event.target.closest("[data-color]");
    if (chosen) { choose(chosen.dataset.tool); if (chosen.dataset.tool !== "look" && event.detail === 0) overlay().focus(); }
    if (dipped) {
      color = dipped.dataset.color; shown = dipped.dataset.shown;
      for (const other of bar.querySelectorAll("[data-color]")) other.setAttribute("aria-pressed", other === dipped);
    }
  });
  const picked = el("touch-color");
  if (picked) {
    shown = picked.value;
    picked.addEventListener("input", () => { color = ""; shown = picked.value; bar.querySelector('[data-color="off"]').setAttribute("aria-pressed", "false"); });
  }
  drag(overlay(), {begin, move, end, cancel: letGo});
  overlay().addEventListener("keydown", key);
  document.body.addEventListener("htmx:oobAfterSwap", event => { if (event.detail.target.id === "regions") requestAnimationFrame(draw); });
  choose("look");
}
