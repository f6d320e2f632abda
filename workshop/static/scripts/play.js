// The page Play: a piece of the device's life is worked out by the server, and shown here at its own speed, or another.
const form = document.getElementById("play-form"), canvas = document.getElementById("glass"), glass = canvas.getContext("2d");
const overlay = document.getElementById("overlay"), line = document.getElementById("timeline"), clock = document.getElementById("clock");
const keys = Object.fromEntries(["play", "stop", "step", "follow"].map(id => [id, document.getElementById(id)]));
const POLL_MS = 500, OUTLINE_MS = 250, ROW = 10, WIDE = 1000;
let life = null, shown = 0, began = 0, at = 0, ticking = 0, polling = 0, run = 0;

const image = async src => { const one = new Image(); one.src = src; await one.decode(); return one; };
const box = ({x, y, w, h}) => `<rect x="${x}" y="${y}" width="${w}" height="${h}" class="sent"/>`;
image(canvas.dataset.first).then(first => glass.drawImage(first, 0, 0));

function say(ms) {
  at = ms;
  clock.textContent = ms < 600000 ? `${(ms / 1000).toFixed(1)} s` : `${(ms / 3600000).toFixed(2)} h`;
  const head = line.querySelector(".now");
  if (head && life) { head.setAttribute("x1", ms / life.length * WIDE); head.setAttribute("x2", ms / life.length * WIDE); }
}

function show(frame) {
  for (const patch of frame.patches) glass.drawImage(patch.image, patch.x, patch.y);
  overlay.innerHTML = document.getElementById("windows").checked ? frame.patches.map(box).join("") : "";
  setTimeout(() => { overlay.innerHTML = ""; }, OUTLINE_MS);
}

// What takes longer than a piece of the line can show is drawn as wide as that, so that nothing is left out.
function drawLine() {
  const rows = [...form.querySelectorAll("[name=unplugged]")].map(field => field.value), scale = WIDE / Math.max(1, life.length), parts = [];
  const bar = (from, to, row, name) => parts.push(`<rect x="${from * scale}" y="${row * ROW + 2}" width="${Math.max(1.5, (to - from) * scale)}" height="${ROW - 4}" class="${name}"/>`);
  for (const [value, from, to, missed] of life.reads) { if (missed) bar(from - 1, from, rows.indexOf(value), "missed"); bar(from, to, rows.indexOf(value), "read"); }
  for (const frame of life.frames) { bar(frame.end, frame.end + frame.refresh, rows.length, "refresh"); bar(frame.at, frame.end, rows.length, "frame"); }
  parts.push(`<line class="now" x1="0" x2="0" y1="0" y2="${(rows.length + 1) * ROW}"/>`);
  line.innerHTML = parts.join("");
}

function stop() {
  cancelAnimationFrame(ticking);
  ticking = 0;
  keys.stop.disabled = true;
}

function upTo(ms) {
  while (shown < life.frames.length && life.frames[shown].end <= ms) show(life.frames[shown++]);
  say(Math.min(ms, life.length));
}

function tick(now) {
  began ||= now - at / +document.getElementById("speed").value;
  upTo((now - began) * +document.getElementById("speed").value);
  if (at < life.length) ticking = requestAnimationFrame(tick); else stop();
}

async function load() {
  const number = ++run, answer = await fetch(`${form.dataset.run}?${new URLSearchParams(new FormData(form))}`, {headers: {"HX-Request": "true"}});
  if (!answer.ok) { document.getElementById("notice").innerHTML = await answer.text(); return false; }
  document.getElementById("notice").replaceChildren();
  const told = await answer.json();
  for (const frame of told.frames) for (const patch of frame.patches) patch.image = await image(patch.png);
  if (number !== run) return false;
  life = told;
  shown = began = at = 0;
  document.getElementById("played").innerHTML = told.words;
  drawLine();
  keys.step.disabled = !life.frames.length;
  return true;
}

form.addEventListener("submit", async event => {
  event.preventDefault();
  stop();
  document.body.toggleAttribute("data-busy", true);
  const loaded = await load();
  document.body.toggleAttribute("data-busy", false);
  if (!loaded) return;
  keys.stop.disabled = false;
  began = 0;
  ticking = requestAnimationFrame(tick);
});
document.getElementById("speed").addEventListener("change", () => { began = 0; });
keys.stop.addEventListener("click", stop);
keys.step.addEventListener("click", () => {
  stop();
  if (!life) return;
  if (shown === life.frames.length) shown = 0;
  const frame = life.frames[shown++];
  show(frame);
  say(frame.end);
});
async function poll() {
  const answer = await fetch(form.dataset.live);
  if (!answer.ok) return;
  const told = await answer.json();
  glass.drawImage(await image(told.png), 0, 0);
  clock.textContent = told.readings.length ? told.readings.join(", ") : "nothing has been sent yet";
}
keys.follow.addEventListener("click", () => {
  const on = keys.follow.getAttribute("aria-pressed") !== "true";
  keys.follow.setAttribute("aria-pressed", String(on));
  clearInterval(polling);
  if (!on) return;
  stop();
  poll();
  polling = setInterval(poll, POLL_MS);
});
