// Cutting by hand: a rectangle over the source, moved and sized by pointer or arrow keys, written into the recipe's numbers.
import {drag, draggedBox, heldBox} from "./lib/drag.js";
import {arrowStep} from "./lib/places.js";

const FIELDS = ["crop_x", "crop_y", "crop_width", "crop_height"];
const SHEET = `<p class="fm-small">Drag the frame or its corners. Arrow keys move it, Shift with arrows sizes it, by 1 % of the picture.</p>
  <div class="fm-crop-bed"><img alt=""><div class="fm-crop-frame" tabindex="0" role="group" aria-label="cut"><i data-x="0" data-y="0"></i><i data-x="1" data-y="0"></i><i data-x="0" data-y="1"></i><i data-x="1" data-y="1"></i></div></div>
  <p class="fm-crop-foot"><output class="fm-fig"></output><button type="button" class="fm-key fm-key--small" data-all>Take all of it</button><button type="button" class="fm-key fm-key--small fm-key--glaze" data-done>Cut here</button></p>`;

/** Opens the sheet over a recipe's form, which tells the source's size, its picture and the least cut. */
export function openCrop(form) {
  const {sourceWidth, sourceHeight, leastCrop, source} = form.dataset;
  const W = +sourceWidth, H = +sourceHeight, least = +leastCrop, value = name => +form.elements[name].value || 0;
  const [x, y] = [value("crop_x"), value("crop_y")];
  let box = {x, y, w: Math.min(value("crop_width") || W, W - x), h: Math.min(value("crop_height") || H, H - y)};
  const sheet = document.createElement("dialog");
  sheet.className = "fm-crop";
  sheet.setAttribute("aria-label", "Cut the picture by hand");
  sheet.innerHTML = SHEET;
  document.body.append(sheet);
  const bed = sheet.querySelector(".fm-crop-bed"), frame = sheet.querySelector(".fm-crop-frame"), out = sheet.querySelector("output");
  sheet.querySelector("img").src = source || location.pathname + "source.png";
  const k = Math.min(innerWidth * 0.86 / W, innerHeight * 0.66 / H);
  bed.style.width = `${W * k}px`; bed.style.height = `${H * k}px`;
  const draw = () => {
    for (const [p, v] of [["left", box.x], ["top", box.y], ["width", box.w], ["height", box.h]]) frame.style[p] = `${v * k}px`;
    out.value = `${Math.round(box.w)} × ${Math.round(box.h)} from ${Math.round(box.x)}, ${Math.round(box.y)}`;
  };
  const lay = next => { box = heldBox(next, W, H, least); draw(); };
  let from = null;
  drag(frame, {
    begin: event => {
      const {x, y} = event.target.dataset;
      from = {box: {...box}, x: event.clientX, y: event.clientY, corner: x === undefined ? null : {x: +x, y: +y}};
    },
    move: event => lay(draggedBox(from.box, (event.clientX - from.x) / k, (event.clientY - from.y) / k, from.corner, least)),
    cancel: () => lay(from.box),
  });
  frame.addEventListener("keydown", event => {
    const by = arrowStep(event);
    if (!by) return;
    event.preventDefault();
    const dx = by.x * W / 100, dy = by.y * H / 100;
    lay(event.shiftKey ? {...box, w: box.w + dx, h: box.h + dy} : {...box, x: box.x + dx, y: box.y + dy});
  });
  sheet.querySelector("[data-done]").addEventListener("click", () => {
    const all = box.w >= W - 1 && box.h >= H - 1;
    const values = all ? [0, 0, 0, 0] : [box.x, box.y, box.w, box.h].map(Math.round);
    FIELDS.forEach((name, i) => { form.elements[name].value = values[i]; });
    form.elements.crop_x.dispatchEvent(new Event("change", {bubbles: true}));
    sheet.close();
  });
  sheet.querySelector("[data-all]").addEventListener("click", () => lay({x: 0, y: 0, w: W, h: H}));
  sheet.addEventListener("close", () => { sheet.remove(); document.getElementById("crop-open").focus(); });
  draw();
  sheet.showModal();
  frame.focus();
}
