// The mat: whole-number zoom, rulers in pixels and millimetres, the split. The picture itself is the server's.
const MARGIN = 40, FAR = 36, CSS_PX_PER_MM = 96 / 25.4;
let zoom = 0;
const el = id => document.getElementById(id);
const data = () => { const d = el("mat").dataset; return {w: +d.width, h: +d.height, wmm: +d.widthMm, hmm: +d.heightMm}; };
// A row or two of the window is kept for the tray below, so that both are in sight.
const fitting = () => {
  const {w, h} = data(), hold = document.querySelector(".fm-mat-hold");
  const room = hold.clientWidth - MARGIN - FAR, tall = Math.max(300, innerHeight * 0.74 - MARGIN - FAR);
  return Math.max(1, Math.min(Math.floor(room / w), Math.floor(tall / h)));
};
const life = () => { const {w, wmm} = data(); return Math.max(1, Math.round(wmm * CSS_PX_PER_MM / w)); };

function ticks(along, length, step, pitch, at, inward) {
  let out = "";
  for (let i = 0; i * step <= length + 1e-6; i++) {
    const p = MARGIN + i * step * pitch, long = i % along.long === 0, mid = i % along.mid === 0;
    const size = long ? 8 : mid ? 6 : 4;
    out += at === "top" || at === "bottom"
      ? `<path class="tick${long ? " long" : ""}" d="M${p} ${inward}v${at === "top" ? -size : size}"/>`
      : `<path class="tick${long ? " long" : ""}" d="M${inward} ${p}h${at === "left" ? -size : size}"/>`;
    if (i && i % along.label === 0) {
      const words = Math.round(i * step), side = at === "left" || at === "right";
      const x = at === "left" ? inward - 13 : at === "right" ? inward + 19 : p, y = at === "top" ? inward - 11 : at === "bottom" ? inward + 19 : p;
      out += `<text x="${x}" y="${y}" text-anchor="middle"${side ? ` transform="rotate(-90 ${x} ${y})"` : ""}>${words}</text>`;
    }
  }
  return out;
}
const pixelSteps = z => { const step = z >= 8 ? 1 : z >= 4 ? 4 : z >= 2 ? 8 : 16; return {step, long: 4, mid: 2, label: step * z * 4 < 44 ? 8 : 4}; };
const mmSteps = perMm => perMm >= 4 ? {step: 1, long: 10, mid: 5, label: perMm >= 12 ? 5 : 10} : {step: 5, long: 2, mid: 1, label: 4};

function draw() {
  const {w, h, wmm, hmm} = data(), mat = el("mat"), split = el("split");
  const gw = w * zoom, gh = h * zoom, width = gw + MARGIN + FAR, height = gh + MARGIN + FAR;
  const hold = document.querySelector(".fm-mat-hold"), full = Math.max(width, hold.clientWidth);
  mat.style.width = `${full}px`; mat.style.height = `${height}px`;
  split.style.width = `${gw}px`; split.style.height = `${gh}px`;
  const panel = mat.querySelector(".fm-panel");
  const shift = Math.floor((full - width) / 2);
  panel.style.left = `${MARGIN - 8 + shift}px`; panel.style.top = `${MARGIN - 8}px`;
  const px = pixelSteps(zoom), perMmX = gw / wmm, perMmY = gh / hmm, mm = mmSteps(perMmX);
  let lattice = "";
  for (let x = 0; x * perMmX <= gw + full; x += 10) for (const s of x ? [1, -1] : [1]) { const p = MARGIN + s * x * perMmX; if (p + shift > 0 && p + shift < full) lattice += `<path class="lattice" d="M${p} 1V${height - 1}"/>`; }
  for (let y = 0; y * perMmY <= gh + FAR; y += 10) lattice += `<path class="lattice" d="M${-shift + 1} ${MARGIN + y * perMmY}H${full - shift - 1}"/>`;
  const svg = el("rulers");
  svg.setAttribute("viewBox", `${-shift} 0 ${full} ${height}`);
  svg.innerHTML = lattice
    + ticks(px, w, px.step, zoom, "top", MARGIN - 10) + ticks(px, h, px.step, zoom, "left", MARGIN - 10)
    + ticks(mm, wmm, mm.step, perMmX, "bottom", MARGIN + gh + 10) + ticks(mm, hmm, mm.step, perMmY, "right", MARGIN + gw + 10)
    + `<text class="u" x="${MARGIN - 14}" y="19" text-anchor="end">px</text><text class="u" x="${MARGIN + gw + 8}" y="${MARGIN + gh + 29}">mm</text>`;
  const times = zoom * w / (wmm * CSS_PX_PER_MM);
  el("zoom-words").innerHTML = `zoom <b class="fm-fig">${zoom}×</b>, <span class="fm-quiet">${times.toFixed(1)} times life size</span>`;
  el("zoom-out").disabled = zoom <= 1;
}
const setZoom = z => { zoom = Math.min(24, Math.max(1, z)); draw(); };

if (el("mat")) start();

function start() {
  let chosen = false;
  setZoom(fitting());
  el("zoom-in").addEventListener("click", () => { chosen = true; setZoom(zoom + 1); });
  el("zoom-out").addEventListener("click", () => { chosen = true; setZoom(zoom - 1); });
  el("zoom-life").addEventListener("click", () => { chosen = true; setZoom(life()); });
  addEventListener("resize", () => setZoom(chosen ? zoom : fitting()));
  const range = el("split-range"), split = el("split");
  if (!range) return;
  const move = () => split.style.setProperty("--x", `${range.value}%`);
  range.addEventListener("input", move);
  range.value = 32; move();
}
