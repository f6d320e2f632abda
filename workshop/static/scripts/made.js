// Pages of strips, figures and animations: slides say their value, a line of cells is asked for, a moving preview can stand still.
import {say} from "./lib/slides.js";

const WAIT_MS = 150;
say();
for (const heard of ["input", "change"]) document.body.addEventListener(heard, () => say());

// A line of cells is drawn by the server for the names typed here.
const line = document.querySelector("[data-line]");
if (line) {
  const sample = document.getElementById("sample"), shot = document.getElementById("line-shot"), drawn = document.getElementById("drawn");
  let timer = 0;
  const ask = () => { shot.src = `${line.dataset.line}?names=${encodeURIComponent(sample.value)}&how=${drawn?.value ?? "opaque"}&r=${Date.now()}`; };
  line.addEventListener("input", () => { clearTimeout(timer); timer = setTimeout(ask, WAIT_MS); });
  line.addEventListener("change", ask);
  line.addEventListener("submit", event => { event.preventDefault(); ask(); });
}

const pause = document.getElementById("pause");
if (pause) {
  const moving = document.getElementById("moving");
  const stand = on => { pause.setAttribute("aria-pressed", on); moving.src = on ? moving.dataset.still : moving.dataset.moving; };
  pause.addEventListener("click", () => stand(pause.getAttribute("aria-pressed") !== "true"));
  if (matchMedia("(prefers-reduced-motion: reduce)").matches) stand(true);
}
