// A finger on the glass of a live program: put down, moved and lifted, each told as the pixel it is on, in order.
import {pixelOf, placeIn} from "./lib/places.js";

const EVERY_MS = 30;
const glass = document.getElementById("glass"), form = document.getElementById("touch-form");
let down = false, told = 0, last = Promise.resolve();

function tell(what, event) {
  const {width, height} = document.getElementById("mat").dataset, field = {w: Number(width), h: Number(height)};
  const place = pixelOf(placeIn(event, glass, field), field), body = new FormData(form);
  body.set("what", what);
  body.set("x", place.x);
  body.set("y", place.y);
  told = performance.now();
  last = last.then(() => fetch(form.getAttribute("hx-post"), {method: "POST", body, headers: {"HX-Request": "true"}})).catch(() => {});
}

glass.style.touchAction = "none";
glass.addEventListener("dragstart", event => event.preventDefault());
glass.addEventListener("pointerdown", event => {
  down = true;
  glass.setPointerCapture(event.pointerId);
  tell("touch", event);
});
glass.addEventListener("pointermove", event => {
  if (down && performance.now() - told >= EVERY_MS) tell("touch", event);
});
for (const end of ["pointerup", "pointercancel"]) glass.addEventListener(end, event => {
  if (down) tell("lift", event);
  down = false;
});
