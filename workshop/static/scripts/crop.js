// Cutting by hand: a rectangle over the source, moved and sized by pointer or arrow keys, written into the recipe's numbers.
(() => {
  const fields = ["crop_x", "crop_y", "crop_width", "crop_height"];
  addEventListener("DOMContentLoaded", () => {
    document.body.addEventListener("click", event => { if (event.target.id === "crop-open") open(); });
  });
  function open() {
    const form = document.getElementById("recipe"), W = +form.dataset.sourceWidth, H = +form.dataset.sourceHeight;
    const value = name => +form.elements[name].value || 0;
    const box = {x: value("crop_x"), y: value("crop_y"), w: value("crop_width") || W, h: value("crop_height") || H};
    box.w = Math.min(box.w, W - box.x); box.h = Math.min(box.h, H - box.y);
    const sheet = document.createElement("dialog");
    sheet.className = "fm-crop";
    sheet.setAttribute("aria-label", "Cut the picture by hand");
    sheet.innerHTML = `<p class="fm-small">Drag the frame or its corners. Arrow keys move it, Shift with arrows sizes it, by 1 % of the picture.</p>
      <div class="fm-crop-bed"><img alt=""><div class="fm-crop-frame" tabindex="0" role="group" aria-label="cut"><i data-x="0" data-y="0"></i><i data-x="1" data-y="0"></i><i data-x="0" data-y="1"></i><i data-x="1" data-y="1"></i></div></div>
      <p class="fm-crop-foot"><output class="fm-fig"></output><button type="button" class="fm-key fm-key--small" data-all>Take all of it</button><button type="button" class="fm-key fm-key--small fm-key--glaze" data-done>Cut here</button></p>`;
    document.body.append(sheet);
    const bed = sheet.querySelector(".fm-crop-bed"), frame = sheet.querySelector(".fm-crop-frame"), out = sheet.querySelector("output");
    sheet.querySelector("img").src = form.dataset.source || location.pathname + "source.png";
    const k = Math.min(innerWidth * 0.86 / W, innerHeight * 0.66 / H);
    bed.style.width = `${W * k}px`; bed.style.height = `${H * k}px`;
    const draw = () => {
      for (const [p, v] of [["left", box.x], ["top", box.y], ["width", box.w], ["height", box.h]]) frame.style[p] = `${v * k}px`;
      out.value = `${Math.round(box.w)} × ${Math.round(box.h)} from ${Math.round(box.x)}, ${Math.round(box.y)}`;
    };
    const hold = () => {
      box.w = Math.max(8, Math.min(box.w, W)); box.h = Math.max(8, Math.min(box.h, H));
      box.x = Math.max(0, Math.min(box.x, W - box.w)); box.y = Math.max(0, Math.min(box.y, H - box.h));
      draw();
    };
    frame.addEventListener("pointerdown", event => {
      const corner = event.target.dataset, from = {...box}, x0 = event.clientX, y0 = event.clientY;
      frame.setPointerCapture(event.pointerId);
      const move = e => {
        const dx = (e.clientX - x0) / k, dy = (e.clientY - y0) / k;
        if (corner.x === undefined) { box.x = from.x + dx; box.y = from.y + dy; }
        else {
          if (corner.x === "1") box.w = from.w + dx; else { const d = Math.min(dx, from.w - 8); box.x = from.x + d; box.w = from.w - d; }
          if (corner.y === "1") box.h = from.h + dy; else { const d = Math.min(dy, from.h - 8); box.y = from.y + d; box.h = from.h - d; }
        }
        hold();
      };
      frame.addEventListener("pointermove", move);
      frame.addEventListener("pointerup", () => frame.removeEventListener("pointermove", move), {once: true});
      event.preventDefault(); frame.focus();
    });
    frame.addEventListener("keydown", event => {
      const by = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
      if (!by) return;
      event.preventDefault();
      const dx = by[0] * W / 100, dy = by[1] * H / 100;
      if (event.shiftKey) { box.w += dx; box.h += dy; } else { box.x += dx; box.y += dy; }
      hold();
    });
    const finish = () => {
      const all = box.w >= W - 1 && box.h >= H - 1;
      const values = all ? [0, 0, 0, 0] : [box.x, box.y, box.w, box.h].map(Math.round);
      fields.forEach((name, i) => { form.elements[name].value = values[i]; });
      form.elements.crop_x.dispatchEvent(new Event("change", {bubbles: true}));
      sheet.close();
    };
    sheet.querySelector("[data-done]").addEventListener("click", finish);
    sheet.querySelector("[data-all]").addEventListener("click", () => { Object.assign(box, {x: 0, y: 0, w: W, h: H}); hold(); });
    sheet.addEventListener("close", () => { sheet.remove(); document.getElementById("crop-open").focus(); });
    draw();
    sheet.showModal();
    frame.focus();
  }
})();
