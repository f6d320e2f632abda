// Points on a photo: the card's corners, then white paper. A click or Enter sets one; the text beside holds them and can be edited.
import {arrowStep, hold, placeIn} from "./lib/places.js";

const STEP_PX = 6, FAR = 40 / 6;
// A point a line: "corner 120, 64" or "paper 20, 300". A line that is half typed is no point yet.
const LINE = /^\s*(corner|paper)\s+(-?[\d.]+)[,;\s]+(-?[\d.]+)\s*$/i;
const written = p => [...p.corners.map(([x, y]) => `corner ${x}, ${y}`), ...p.whites.map(([x, y]) => `paper ${x}, ${y}`)].join("\n");
const bed = document.getElementById("photo-bed"), text = document.getElementById("points");
if (bed && text) {
  const picture = bed.querySelector("img"), drawn = document.getElementById("points-drawn"), next = document.getElementById("points-next");
  const shrink = +bed.dataset.shrink, size = {w: picture.getAttribute("width") * shrink, h: picture.getAttribute("height") * shrink};
  // How many are wanted, and how many do no harm, is the server's to say.
  const wanted = {corners: +bed.dataset.corners, whites: +bed.dataset.whites, most: +bed.dataset.mostWhites};
  let mark = {x: size.w / 2, y: size.h / 2};
  const read = () => {
    const found = {corners: [], whites: []};
    for (const line of text.value.split("\n")) {
      const part = LINE.exec(line);
      if (part) found[part[1].toLowerCase() === "corner" ? "corners" : "whites"].push([+part[2], +part[3]]);
    }
    return found;
  };
  const words = p => p.corners.length < wanted.corners ? `next: corner ${p.corners.length + 1} of ${wanted.corners}`
    : p.whites.length < wanted.whites ? `next: white paper, ${p.whites.length + 1} of ${wanted.whites} or more`
    : "enough points; more on the paper do no harm";
  const draw = () => {
    const p = read(), r = Math.max(size.w, size.h) / 130;
    const cross = (x, y, kind) => `<path class="${kind}" d="M${x - 2 * r} ${y}h${4 * r}M${x} ${y - 2 * r}v${4 * r}"/>`;
    let out = p.corners.length > 1 ? `<polygon class="card" points="${p.corners.map(c => c.join(",")).join(" ")}"/>` : "";
    p.corners.forEach(([x, y], i) => { out += cross(x, y, "corner") + `<text x="${x + 2 * r}" y="${y - 2 * r}" font-size="${5 * r}">${i + 1}</text>`; });
    p.whites.forEach(([x, y]) => { out += `<circle class="white" cx="${x}" cy="${y}" r="${1.6 * r}"/>`; });
    if (document.activeElement === bed) out += cross(mark.x, mark.y, "mark");
    drawn.innerHTML = out;
    next.textContent = words(p);
  };
  const set = ({x, y}) => {
    const p = read(), point = [Math.round(x), Math.round(y)];
    if (p.corners.length < wanted.corners) p.corners.push(point); else if (p.whites.length < wanted.most) p.whites.push(point);
    text.value = written(p); draw();
  };
  bed.addEventListener("click", event => set(placeIn(event, picture, size)));
  bed.addEventListener("keydown", event => {
    const by = arrowStep(event, FAR);
    if (by) mark = {x: hold(mark.x + by.x * STEP_PX * shrink, 0, size.w - 1), y: hold(mark.y + by.y * STEP_PX * shrink, 0, size.h - 1)};
    else if (event.key === "Enter" || event.key === " ") set(mark);
    else return;
    draw();
    event.preventDefault();
  });
  bed.addEventListener("focus", draw); bed.addEventListener("blur", draw); text.addEventListener("input", draw);
  document.getElementById("points-clear").addEventListener("click", () => { text.value = ""; draw(); bed.focus(); });
  draw();
}
