// The page Behaviour: areas are drawn, moved and sized on the glass; each change is a form that the server keeps.
import {drag, draggedBox, heldBox} from "./lib/drag.js";
import {arrowStep, pixelOf, placeIn} from "./lib/places.js";
import {say} from "./lib/slides.js";

const FAR = 8, REST_MS = 350, NEAR_PX = 7, LEAST = 2, FIRST = 24;
const overlay = document.getElementById("overlay"), form = document.getElementById("draw-form");

const boxOf = rect => ({x: +rect.getAttribute("x"), y: +rect.getAttribute("y"), w: +rect.getAttribute("width"), h: +rect.getAttribute("height")});
const lay = (rect, box) => { for (const [name, value] of [["x", box.x], ["y", box.y], ["width", box.w], ["height", box.h]]) rect.setAttribute(name, value); };

say();
for (const heard of ["input", "change"]) document.body.addEventListener(heard, () => say());
document.querySelectorAll("[data-go]").forEach(choice => choice.addEventListener("change", () => choice.form.requestSubmit()));

if (overlay) {
  const [, , W, H] = overlay.getAttribute("viewBox").split(" ").map(Number), field = {w: W, h: H};
  let held = null, resting = 0;
  const chosen = () => overlay.querySelector(`[data-id="${overlay.dataset.chosen}"]`);

  function keep(box, id) {
    const fields = form.elements;
    fields.act.value = id ? "move-area" : "area";
    fields.of.value = id || "";
    for (const [name, value] of [["x", box.x], ["y", box.y], ["width", box.w], ["height", box.h]]) fields[name].value = value;
    form.requestSubmit();
  }
  function near(event, x, y) {
    const box = overlay.getBoundingClientRect();
    return Math.abs(event.clientX - box.left - x / W * box.width) <= NEAR_PX && Math.abs(event.clientY - box.top - y / H * box.height) <= NEAR_PX;
  }
  function drawn() {
    const rect = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    rect.setAttribute("class", "area is-chosen");
    overlay.append(rect);
    return rect;
  }

  drag(overlay, {
    begin(event) {
      const at = pixelOf(placeIn(event, overlay, field), field), over = event.target.closest("rect.area");
      const corner = chosen() && near(event, boxOf(chosen()).x + boxOf(chosen()).w, boxOf(chosen()).y + boxOf(chosen()).h);
      const rect = corner ? chosen() : over;
      held = {at, rect, corner: corner ? {x: 1, y: 1} : null, from: rect ? boxOf(rect) : null, id: rect?.dataset.id};
      return true;
    },
    move(event) {
      const to = pixelOf(placeIn(event, overlay, field), field);
      held.moved ||= Math.abs(to.x - held.at.x) > 1 || Math.abs(to.y - held.at.y) > 1;
      if (!held.moved) return;
      if (held.from) held.box = heldBox(draggedBox(held.from, to.x - held.at.x, to.y - held.at.y, held.corner, LEAST), W, H, LEAST);
      else held.box = {x: Math.min(to.x, held.at.x), y: Math.min(to.y, held.at.y), w: Math.abs(to.x - held.at.x) + 1, h: Math.abs(to.y - held.at.y) + 1};
      held.rect ||= drawn();
      lay(held.rect, held.box);
    },
    end() {
      const {box, id} = held;
      held = null;
      if (box) keep(box, id);
      else if (id) location.search = `?s=${form.elements.screen.value}&c=${id}`;
    },
    cancel() { if (held?.from) lay(held.rect, held.from); else held?.rect?.remove(); held = null; },
  });

  overlay.addEventListener("keydown", event => {
    const by = arrowStep(event, FAR), rect = chosen();
    if (event.key.toLowerCase() === "n" && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      event.stopPropagation();
      const w = Math.min(FIRST, W), h = Math.min(FIRST, H);
      keep({x: Math.floor((W - w) / 2), y: Math.floor((H - h) / 2), w, h}, "");
      return;
    }
    if (!by || !rect) return;
    event.preventDefault();
    const box = heldBox(draggedBox(boxOf(rect), by.x, by.y, event.altKey ? {x: 1, y: 1} : null, LEAST), W, H, LEAST);
    lay(rect, box);
    clearTimeout(resting);
    resting = setTimeout(() => keep(box, rect.dataset.id), REST_MS);
  });
}
