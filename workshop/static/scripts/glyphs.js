// The glyph bench: pixels set and cleared by dragging or by keys. What is drawn here are guides; the glyph is the server's.
(() => {
  let stroke = null, level = 0, cursor = null, waiting = Promise.resolve(), pending = 0, sending = false;
  const el = id => document.getElementById(id);
  const grid = () => el("glyph-grid");
  const bench = () => el("bench").dataset;
  const size = () => { const [x, y, w, h] = grid().getAttribute("viewBox").split(" ").map(Number); return {x, y, w, h}; };
  const hold = p => { const {x, y, w, h} = size(); return {x: Math.min(x + w - 1, Math.max(x, p.x)), y: Math.min(y + h - 1, Math.max(y, p.y))}; };
  function place(event) {
    const box = grid().getBoundingClientRect(), {x, y, w, h} = size();
    return hold({x: Math.floor(x + (event.clientX - box.left) / box.width * w), y: Math.floor(y + (event.clientY - box.top) / box.height * h)});
  }
  const levelAt = p => { const {left, top, levels} = bench(); return parseInt(levels.split(" ")[p.y + +top][p.x - +left], 16); };
  function draw() {
    const parts = [];
    for (const [x, y] of stroke || []) parts.push(`<rect class="${level ? "set" : "cleared"}" x="${x + 0.1}" y="${y + 0.1}" width="0.8" height="0.8"/>`);
    if (cursor) parts.push(`<rect class="cursor" x="${cursor.x}" y="${cursor.y}" width="1" height="1"/>`);
    el("grid-hand").innerHTML = parts.join("");
  }
  function begin(p) {
    const chosen = +el("tone").value, full = +bench().full;
    // The first pixel decides: one that has the chosen level already is cleared, and so are those after it.
    level = levelAt(p) === Math.round(chosen * full / 15) ? 0 : chosen;
    stroke = [[p.x, p.y]];
  }
  function along(p) {
    const [fx, fy] = stroke[stroke.length - 1], steps = Math.max(Math.abs(p.x - fx), Math.abs(p.y - fy));
    for (let i = 1; i <= steps; i++) stroke.push([Math.round(fx + (p.x - fx) * i / steps), Math.round(fy + (p.y - fy) * i / steps)]);
  }
  function keep() {
    const values = {act: "stroke", level, stroke: JSON.stringify(stroke.map(([x, y]) => [x, -y - 1]))}, focused = document.activeElement === grid();
    stroke = null;
    // One after the other, each from the revision that the one before it made.
    pending++;
    waiting = waiting.then(() => send(values)).then(() => { if (focused) grid().focus(); draw(); }).catch(() => {}).finally(() => pending--);
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
    if (sending || !pending || !elt.closest("#bench")) return;
    event.preventDefault();
    const act = triggeringEvent && triggeringEvent.submitter && triggeringEvent.submitter.value;
    waiting = waiting.then(() => { const again = document.querySelector(act ? `#bench button[value="${act}"]` : `#bench button[hx-post="${path}"]`); if (again) again.click(); });
  }
  function down(event) {
    if (event.button) return;
    cursor = place(event);
    grid().setPointerCapture(event.pointerId);
    grid().focus();
    event.preventDefault();
    begin(cursor); draw();
  }
  function move(event) { if (stroke) { cursor = place(event); along(cursor); draw(); } }
  function up() { if (stroke) keep(); }
  function key(event) {
    const by = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
    if (!cursor) cursor = hold({x: 0, y: -1});
    if (by) cursor = hold({x: cursor.x + by[0] * (event.shiftKey ? 8 : 1), y: cursor.y + by[1] * (event.shiftKey ? 8 : 1)});
    else if (event.key === " " || event.key === "Enter") { begin(cursor); keep(); }
    else return;
    event.preventDefault();
    el("grid-words").textContent = `column ${cursor.x}, row ${-cursor.y - 1} above the baseline${levelAt(cursor) ? ", set" : ""}`;
    draw();
  }
  addEventListener("DOMContentLoaded", () => {
    if (!grid()) return;
    // The bench is laid anew after each change, so its page listens for it.
    const on = act => event => { if (event.target.closest && event.target.closest("#glyph-grid")) act(event); };
    for (const [name, act] of [["pointerdown", down], ["pointermove", move], ["pointerup", up], ["keydown", key]]) document.addEventListener(name, on(act));
    document.body.addEventListener("htmx:confirm", wait);
    // Another tab was quicker: the next stroke goes on from what stands there now.
    document.body.addEventListener("click", event => { if (event.target.id === "keep-mine") location.reload(); });
    document.addEventListener("pointercancel", () => { stroke = null; draw(); });
    document.addEventListener("keydown", event => {
      if (event.target.closest("input, select, textarea, #glyph-grid") || event.ctrlKey || event.metaKey || event.altKey) return;
      const link = {g: "glyph-next", G: "glyph-before"}[event.key];
      if (link) el(link).click();
    });
    const here = document.querySelector("#glyph-list [aria-current]");
    if (here) here.scrollIntoView({block: "nearest"});
  });
})();
