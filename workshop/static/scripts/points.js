// Points on a photo: four corners, then white paper. A click or Enter sets one; the text beside holds them and can be edited.
addEventListener("DOMContentLoaded", () => {
  const bed = document.getElementById("photo-bed"), text = document.getElementById("points");
  if (!bed || !text) return;
  const picture = bed.querySelector("img"), drawn = document.getElementById("points-drawn"), next = document.getElementById("points-next");
  const shrink = +bed.dataset.shrink, size = {w: picture.getAttribute("width") * shrink, h: picture.getAttribute("height") * shrink};
  let mark = {x: size.w / 2, y: size.h / 2};
  const read = () => { try { const p = JSON.parse(text.value); return {corners: p.corners || [], whites: p.whites || []}; } catch { return {corners: [], whites: []}; } };
  function draw() {
    const p = read(), r = Math.max(size.w, size.h) / 130;
    const cross = (x, y, kind) => `<path class="${kind}" d="M${x - 2 * r} ${y}h${4 * r}M${x} ${y - 2 * r}v${4 * r}"/>`;
    let out = p.corners.length > 1 ? `<polygon class="card" points="${p.corners.map(c => c.join(",")).join(" ")}"/>` : "";
    p.corners.forEach(([x, y], i) => { out += cross(x, y, "corner") + `<text x="${x + 2 * r}" y="${y - 2 * r}" font-size="${5 * r}">${i + 1}</text>`; });
    p.whites.forEach(([x, y]) => { out += `<circle class="white" cx="${x}" cy="${y}" r="${1.6 * r}"/>`; });
    if (document.activeElement === bed) out += cross(mark.x, mark.y, "mark");
    drawn.innerHTML = out;
    next.textContent = p.corners.length < 4 ? `next: corner ${p.corners.length + 1} of 4` : p.whites.length < 3 ? `next: white paper, ${p.whites.length + 1} of 3 or more` : "enough points; more on the paper do no harm";
  }
  function set(x, y) {
    const p = read(), point = [Math.round(x), Math.round(y)];
    if (p.corners.length < 4) p.corners.push(point); else if (p.whites.length < 12) p.whites.push(point);
    text.value = JSON.stringify(p); draw();
  }
  bed.addEventListener("click", event => { const box = picture.getBoundingClientRect(); set((event.clientX - box.left) / box.width * size.w, (event.clientY - box.top) / box.height * size.h); });
  bed.addEventListener("keydown", event => {
    const step = (event.shiftKey ? 40 : 6) * shrink, by = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
    if (by) { mark = {x: Math.min(size.w - 1, Math.max(0, mark.x + by[0] * step)), y: Math.min(size.h - 1, Math.max(0, mark.y + by[1] * step))}; draw(); event.preventDefault(); }
    else if (event.key === "Enter" || event.key === " ") { set(mark.x, mark.y); event.preventDefault(); }
  });
  bed.addEventListener("focus", draw); bed.addEventListener("blur", draw); text.addEventListener("input", draw);
  document.getElementById("points-clear").addEventListener("click", () => { text.value = JSON.stringify({corners: [], whites: []}); draw(); bed.focus(); });
  draw();
});
