// Hands on the glass: regions drawn as rectangles or lassos, and single pixels set, by pointer or by keys.
// What is drawn here are guides only; the picture comes from the server.
(() => {
  const WORDS = {
    look: "", rect: "Drag a rectangle, or Enter at two corners; arrows move.",
    lasso: "Draw around a part, or Enter at corners and C to close.",
    touch: "Drag over pixels, or arrows and Space.",
  };
  const FAR = 8;
  let tool = "look", cursor = {x: 0, y: 0}, corners = [], stroke = null, color = "0", shown = "#fff";
  const el = id => document.getElementById(id);
  const overlay = () => el("overlay");
  const size = () => ({w: +el("mat").dataset.width, h: +el("mat").dataset.height});
  const hold = (v, most) => Math.min(most, Math.max(0, v));

  function place(event) {
    const box = overlay().getBoundingClientRect(), {w, h} = size();
    return {x: (event.clientX - box.left) / box.width * w, y: (event.clientY - box.top) / box.height * h};
  }
  const pixel = p => { const {w, h} = size(); return {x: hold(Math.floor(p.x), w - 1), y: hold(Math.floor(p.y), h - 1)}; };
  const corner = p => { const {w, h} = size(); return {x: hold(Math.round(p.x), w), y: hold(Math.round(p.y), h)}; };

  function draw() {
    const laid = el("laid"), parts = [laid ? laid.innerHTML : ""];
    if (tool === "rect" && corners.length) {
      const [a, b] = [corners[0], corners[1] || cursor];
      parts.push(`<rect class="drawn" x="${Math.min(a.x, b.x)}" y="${Math.min(a.y, b.y)}" width="${Math.abs(a.x - b.x)}" height="${Math.abs(a.y - b.y)}"/>`);
    }
    if (tool === "lasso" && corners.length) parts.push(`<polyline class="drawn" points="${[...corners, cursor].map(c => `${c.x},${c.y}`).join(" ")}"/>`);
    if (stroke) for (const [x, y] of stroke) parts.push(`<rect class="set" x="${x + 0.15}" y="${y + 0.15}" width="0.7" height="0.7" fill="${shown}"/>`);
    if (tool !== "look") {
      const at = tool === "touch" ? `<rect class="cursor" x="${cursor.x}" y="${cursor.y}" width="1" height="1"/>` : `<path class="cursor" d="M${cursor.x - 2} ${cursor.y}h4M${cursor.x} ${cursor.y - 2}v4"/>`;
      parts.push(at);
    }
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
    cursor = {x: hold(cursor.x, size().w - 1), y: hold(cursor.y, size().h - 1)};
    tell(WORDS[name]);
    draw();
  }
  // A straight line of pixels from the last place of a stroke, so that a quick hand leaves no gaps.
  function along(to) {
    const from = stroke.length ? stroke[stroke.length - 1] : [to.x, to.y];
    const steps = Math.max(Math.abs(to.x - from[0]), Math.abs(to.y - from[1]), 1);
    for (let i = stroke.length ? 1 : 0; i <= steps; i++) stroke.push([Math.round(from[0] + (to.x - from[0]) * i / steps), Math.round(from[1] + (to.y - from[1]) * i / steps)]);
  }
  function keepStroke() {
    const own = stroke, chosen = el("touch-color");
    window.live.keep(el("tools").dataset.touch, {stroke: JSON.stringify(own), color: color === "off" || !chosen ? color : chosen.value})
      .finally(() => { if (stroke === own) { stroke = null; draw(); } });
  }
  function keepRegion(shape) {
    const made = corners.map(c => [c.x, c.y]);
    corners = [];
    draw();
    window.live.keep(el("tools").dataset.region, {shape, corners: JSON.stringify(made), method: "threshold"});
  }
  function down(event) {
    if (tool === "look" || event.button) return;
    overlay().setPointerCapture(event.pointerId);
    overlay().focus();
    event.preventDefault();
    if (tool === "touch") { cursor = pixel(place(event)); stroke = []; along(cursor); }
    else { cursor = corner(place(event)); corners = [cursor]; if (tool === "rect") corners.push(cursor); }
    draw();
  }
  function move(event) {
    if (!overlay().hasPointerCapture(event.pointerId)) return;
    if (tool === "touch" && stroke) { cursor = pixel(place(event)); along(cursor); }
    else if (tool === "rect" && corners.length) corners[1] = cursor = corner(place(event));
    else if (tool === "lasso" && corners.length) {
      const next = corner(place(event)), last = corners[corners.length - 1];
      cursor = next;
      if (Math.hypot(next.x - last.x, next.y - last.y) >= Math.max(1, size().w / 100) && corners.length < 399) corners.push(next);
    }
    draw();
  }
  function up(event) {
    if (!overlay().hasPointerCapture(event.pointerId)) return;
    overlay().releasePointerCapture(event.pointerId);
    if (tool === "touch" && stroke) keepStroke();
    if (tool === "rect" && corners.length === 2) { if (corners[0].x !== corners[1].x && corners[0].y !== corners[1].y) keepRegion("rect"); else corners = []; }
    if (tool === "lasso") { if (corners.length > 2) keepRegion("lasso"); else corners = []; }
    draw();
  }
  function key(event) {
    if (tool === "look") return;
    const by = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key], {w, h} = size();
    const most = tool === "touch" ? 1 : 0;
    if (by) {
      const step = event.shiftKey ? FAR : 1;
      cursor = {x: hold(cursor.x + by[0] * step, w - most), y: hold(cursor.y + by[1] * step, h - most)};
      tell(`column ${cursor.x}, row ${cursor.y}`);
    } else if (event.key === "Escape") { corners = []; stroke = null; tell(WORDS[tool]); }
    else if (tool === "touch" && (event.key === " " || event.key === "Enter")) { stroke = [[cursor.x, cursor.y]]; keepStroke(); tell(`column ${cursor.x}, row ${cursor.y} set`); }
    else if (tool === "rect" && event.key === "Enter") { corners.push(cursor); if (corners.length === 2) { if (corners[0].x !== cursor.x && corners[0].y !== cursor.y) keepRegion("rect"); else corners.pop(); } }
    else if (tool === "lasso" && event.key === "Enter") corners.push(cursor);
    else if (tool === "lasso" && event.key.toLowerCase() === "c") { if (corners.length > 2) keepRegion("lasso"); }
    else return;
    event.preventDefault();
    draw();
  }
  addEventListener("DOMContentLoaded", () => {
    const bar = el("tools");
    if (!bar) return;
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
    if (picked) { shown = picked.value; picked.addEventListener("input", () => { color = ""; shown = picked.value; const off = bar.querySelector('[data-color="off"]'); off.setAttribute("aria-pressed", "false"); }); }
    // A hand that the system takes away (a call, a gesture) has set nothing.
    overlay().addEventListener("pointercancel", () => { corners = []; stroke = null; draw(); });
    for (const [name, act] of [["pointerdown", down], ["pointermove", move], ["pointerup", up], ["keydown", key]]) overlay().addEventListener(name, act);
    document.body.addEventListener("htmx:oobAfterSwap", event => { if (event.detail.target.id === "regions") requestAnimationFrame(draw); });
    choose("look");
  });
})();
