// Playing the device: what is touched, pressed and turned is sent with its time; the server works out what the device does.
import {arrowStep, hold, pixelOf, placeIn} from "./lib/places.js";
import {saySlide} from "./lib/slides.js";

const form = document.getElementById("device-form"), canvas = document.getElementById("glass"), glass = canvas.getContext("2d");
const overlay = document.getElementById("overlay"), told = document.getElementById("told"), clock = document.getElementById("clock");
const field = {w: canvas.width, h: canvas.height}, SAMPLE_MS = 10, ASK_MS = 120, STEP_MS = 100, LIFT_MS = 60, MOST_LINES = 200, FAR = 8, OUTLINE_MS = 250;
const GRAY = [[1, 1], [1, 0], [0, 0], [0, 1]];
let life = {inputs: [], until: 0, seen: 0, count: 0, now: 0}, running = false, began = 0, from = 0, asking = null, again = false, touch = null;
let finger = {x: Math.floor(field.w / 2), y: Math.floor(field.h / 2)};
const turns = {};

const speed = () => +document.getElementById("speed").value;
const now = () => Math.round(running ? from + (performance.now() - began) * speed() : life.until);
const add = (what, of = 0, a = 0, b = 0, at = now()) => { life.inputs.push([Math.max(at, life.inputs.at(-1)?.[0] ?? 0, life.now), what, of, a, b]); };

async function ask() {
  if (asking) { again = true; return asking; }
  life.until = Math.max(life.until, now(), life.inputs.at(-1)?.[0] ?? 0);
  const sent = {...life}, count = life.inputs.length, body = new FormData(form);
  body.set("life", JSON.stringify(sent));
  document.body.toggleAttribute("data-busy", true);
  asking = fetch(form.dataset.run, {method: "POST", body, headers: {"HX-Request": "true"}}).then(async answer => {
    if (!answer.ok) { document.getElementById("notice").innerHTML = await answer.text(); stop(); return; }
    document.getElementById("notice").replaceChildren();
    const found = await answer.json();
    Object.assign(life, {seen: found.seen, count, now: found.now});
    await show(found, sent.seen === 0);
  });
  try { await asking; } finally {
    asking = null;
    document.body.toggleAttribute("data-busy", false);
  }
  if (again) { again = false; return ask(); }
}

const text = (name, words) => { const one = document.createElement(name); one.textContent = words; return one; };

async function show(found, fresh) {
  if (found.png) {
    const picture = new Image();
    picture.src = found.png;
    await picture.decode();
    glass.globalAlpha = 1;
    glass.drawImage(picture, 0, 0);
    canvas.style.opacity = found.asleep ? .35 : .4 + .6 * found.light / 100;
  }
  clock.textContent = `${(found.now / 1000).toFixed(2)} s${found.asleep ? ", asleep" : ""}${found.lost ? `, ${found.lost} lost` : ""}`;
  document.getElementById("on-screen").textContent = found.screen;
  if (fresh) told.replaceChildren();
  for (const [at, what, words, code] of found.told) {
    const line = text("li", `${(at / 1000).toFixed(2)} s  ${words}`);
    line.append(text("code", code));
    line.className = `is-${what}`;
    told.prepend(line);
  }
  while (told.children.length > MOST_LINES) told.lastElementChild.remove();
  const lamps = document.getElementById("lamps");
  if (found.outputs.length) lamps.replaceChildren(...found.outputs.map(one => {
    const lamp = text("p", `${one.name}: ${one.on ? "on" : "off"}, pin ${one.level ? "high" : "low"}`);
    lamp.className = `fm-lamp fm-lamp--${one.load}${one.on ? " is-on" : ""}`;
    return lamp;
  }));
  document.getElementById("values-now").replaceChildren(...found.values.map(one => {
    const row = document.createElement("div");
    row.append(text("dt", one.name), text("dd", `${one.now}${one.is === "stale" ? ", old" : ""}`));
    row.lastElementChild.className = "fm-fig";
    return row;
  }));
  for (const slide of form.querySelectorAll("[data-hand]")) {
    if (!held.has(slide) && slide !== document.activeElement) slide.value = found.values[+slide.dataset.hand].raw;
    saySlide(slide);
  }
  areas = found.areas;
  if (found.sent) {
    const {windows, bytes, ms, words} = found.sent;
    document.getElementById("sent").textContent = windows.length ? `sent: ${bytes.toLocaleString("en")} B, ${ms.toFixed(1)} ms${words}, computed` : "nothing sent";
    sent = windows;
    clearTimeout(fading);
    fading = setTimeout(() => { sent = []; draw(); }, OUTLINE_MS);
  }
  draw();
}

const held = new Set();
let areas = [], sent = [], fading = 0;
function draw() {
  const shown = document.getElementById("areas").checked ? areas : [];
  overlay.innerHTML = sent.map(([x, y, w, h]) => `<rect class="sent" x="${x}" y="${y}" width="${w}" height="${h}"/>`).join("")
    + shown.map(([x, y, w, h]) => `<rect class="area" x="${x}" y="${y}" width="${w}" height="${h}"/>`).join("")
    + (document.activeElement === overlay ? `<circle class="finger" cx="${finger.x + .5}" cy="${finger.y + .5}" r="${Math.max(2, field.w / 60)}"/>` : "");
}

function stop() {
  life.until = Math.max(life.until, now());
  running = false;
  document.getElementById("run").textContent = "Run";
}
function go() {
  running = true;
  began = performance.now();
  from = life.until;
  document.getElementById("run").textContent = "Stop";
}
setInterval(() => { if (running && !asking) ask(); }, ASK_MS);
document.getElementById("run").addEventListener("click", () => { if (running) { stop(); ask(); } else { go(); ask(); } });
document.getElementById("speed").addEventListener("change", () => { if (running) { const until = now(); life.until = until; go(); } });
document.getElementById("step").addEventListener("click", () => { stop(); life.until += STEP_MS; ask(); });
document.getElementById("again").addEventListener("click", () => { stop(); life = {inputs: [], until: 0, seen: 0, count: 0, now: 0}; ask(); });
document.getElementById("areas").addEventListener("change", draw);
overlay.addEventListener("focus", draw);
overlay.addEventListener("blur", draw);

// Time that is not running goes on by what is done: a finger is felt every few milliseconds.
const forward = ms => { if (!running) life.until += ms; };
function touchAt(place) {
  for (let i = 0; i < 3; i++) { add("touch", 0, place.x, place.y); forward(SAMPLE_MS); }
}
function lift() {
  forward(LIFT_MS);
  add("lift", 0, 0, 0, now() + (running ? LIFT_MS * speed() : 0));
  ask();
}

overlay.addEventListener("pointerdown", event => {
  if (event.button) return;
  event.preventDefault();
  overlay.focus();
  overlay.setPointerCapture(event.pointerId);
  finger = pixelOf(placeIn(event, overlay, field), field);
  touchAt(finger);
  const began_at = performance.now();
  touch = {id: event.pointerId, last: began_at, timer: setInterval(() => {
    const passed = performance.now() - touch.last;
    touch.last += passed;
    forward(Math.round(passed));
    add("touch", 0, finger.x, finger.y);
    if (!running) ask();
  }, 20)};
  ask();
});
overlay.addEventListener("pointermove", event => { if (touch && event.pointerId === touch.id) finger = pixelOf(placeIn(event, overlay, field), field); });
for (const end of ["pointerup", "pointercancel"]) overlay.addEventListener(end, event => {
  if (!touch || event.pointerId !== touch.id) return;
  clearInterval(touch.timer);
  touch = null;
  for (let i = 0; i < 3; i++) { add("touch", 0, finger.x, finger.y); forward(SAMPLE_MS); }
  lift();
});
overlay.addEventListener("keydown", event => {
  const by = arrowStep(event, 1);
  if (by && event.shiftKey) {
    event.preventDefault();
    const way = Math.round(Math.min(field.w, field.h) / 2), to = {x: hold(finger.x + by.x * way, 0, field.w - 1), y: hold(finger.y + by.y * way, 0, field.h - 1)};
    const start = {x: hold(to.x - by.x * way, 0, field.w - 1), y: hold(to.y - by.y * way, 0, field.h - 1)};
    for (let i = 0; i <= 12; i++) { add("touch", 0, Math.round(start.x + (to.x - start.x) * i / 12), Math.round(start.y + (to.y - start.y) * i / 12), now() + (running ? i * SAMPLE_MS : 0)); forward(SAMPLE_MS); }
    for (let i = 0; i < 3; i++) { add("touch", 0, to.x, to.y, now() + (running ? (13 + i) * SAMPLE_MS : 0)); forward(SAMPLE_MS); }
    lift();
  } else if (by) {
    event.preventDefault();
    finger = {x: hold(finger.x + by.x * FAR, 0, field.w - 1), y: hold(finger.y + by.y * FAR, 0, field.h - 1)};
    draw();
  } else if (event.key === " " || event.key === "Enter") {
    event.preventDefault();
    if (event.repeat) { forward(30); add("touch", 0, finger.x, finger.y); ask(); return; }
    touchAt(finger);
    overlay.dataset.down = "1";
    ask();
  }
});
overlay.addEventListener("keyup", event => {
  if ((event.key !== " " && event.key !== "Enter") || !overlay.dataset.down) return;
  delete overlay.dataset.down;
  add("touch", 0, finger.x, finger.y);
  lift();
});

// A button is held as long as the pointer or the key holds it; time that is not running goes on meanwhile.
for (const push of form.querySelectorAll("[data-button]")) {
  const of = +push.dataset.button, low = push.dataset.low === "1";
  let down = 0, timer = 0;
  const press = () => {
    if (down) return;
    down = performance.now();
    add("pin", of, low ? 0 : 1);
    forward(30);
    timer = setInterval(() => { forward(STEP_MS); if (!running) ask(); }, STEP_MS);
    push.classList.add("is-down");
    ask();
  };
  const release = () => {
    if (!down) return;
    clearInterval(timer);
    down = 0;
    add("pin", of, low ? 1 : 0);
    forward(40);
    push.classList.remove("is-down");
    ask();
  };
  push.addEventListener("pointerdown", event => { push.setPointerCapture(event.pointerId); press(); });
  push.addEventListener("pointerup", release);
  push.addEventListener("pointercancel", release);
  push.addEventListener("keydown", event => { if ((event.key === " " || event.key === "Enter") && !event.repeat) { event.preventDefault(); press(); } });
  push.addEventListener("keyup", event => { if (event.key === " " || event.key === "Enter") release(); });
  push.addEventListener("blur", release);
}
for (const turn of form.querySelectorAll("[data-encoder]")) turn.addEventListener("click", () => {
  const of = +turn.dataset.encoder, steps = +turn.dataset.steps;
  if (!(of in turns)) { turns[of] = 0; add("lines", of, 1, 1); }
  for (let i = 0; i < steps; i++) {
    turns[of] = (turns[of] + +turn.dataset.turn + 4) % 4;
    forward(3);
    add("lines", of, ...GRAY[turns[of]]);
  }
  ask();
});
for (const slide of form.querySelectorAll("[data-hand]")) slide.addEventListener("input", () => { held.add(slide); forward(1); add("hand", +slide.dataset.hand, +slide.value); ask(); });
document.getElementById("clock-set")?.addEventListener("click", () => {
  const parts = document.getElementById("clock-at").value.trim().split(":").map(Number), [h, m, s = 0] = parts;
  if (parts.length < 2 || parts.some(Number.isNaN) || h > 23 || m > 59 || s > 59) { document.getElementById("clock-at").setAttribute("aria-invalid", "true"); return; }
  document.getElementById("clock-at").removeAttribute("aria-invalid");
  forward(1);
  add("clock", 0, h * 3600 + m * 60 + s);
  ask();
});
form.addEventListener("submit", () => { stop(); form.elements.life.value = JSON.stringify({...life, until: Math.max(life.until, life.inputs.at(-1)?.[0] ?? 0)}); });
ask();
