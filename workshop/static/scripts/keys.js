import {freshen} from "./lib/token.js";

document.addEventListener("htmx:beforeOnLoad", event => freshen(event.detail.xhr.getResponseHeader("X-Fresh-Token")));

// A line for the log: what htmx brought is shown as a dialog, with what the page is called.
document.addEventListener("htmx:afterSwap", event => {
  const quick = document.getElementById("quick-entry");
  if (event.detail.target !== quick) return;
  const subject = quick.querySelector("[name=subject]"), heading = document.querySelector("h1");
  if (subject) subject.value = heading ? heading.textContent.trim() : document.title;
  if (!quick.open) quick.showModal();
});

// Single keys outside of fields. Each presses something that is on the page and can be pressed with a pointer too.
const sheet = () => document.getElementById("keys");
const off = () => localStorage.getItem("keys-off") === "1";
const press = id => { const it = document.getElementById(id); if (it && !it.disabled) it.click(); };
const inField = target => target.closest("input:not([type=range]):not([type=checkbox]):not([type=radio]), select, textarea, [contenteditable]");

function nextFinding(step) {
  const all = [...document.querySelectorAll(".fm-finding, .fm-chit")];
  const elsewhere = document.querySelector(".fm-elsewhere a");
  if (!all.length && elsewhere) elsewhere.focus();
  if (!all.length) return;
  const at = all.indexOf(document.activeElement.closest(".fm-finding, .fm-chit"));
  const to = all[(at + step + all.length) % all.length] || all[0];
  to.tabIndex = -1; to.focus(); to.scrollIntoView({block: "nearest"});
}
function carryOut() {
  const here = document.activeElement.closest(".fm-finding, .fm-chit") || document.querySelector(".fm-finding, .fm-chit");
  const fix = here && here.querySelector(".fm-key--fix");
  if (fix) fix.click();
}
function nextPicture(step) {
  const all = [...document.querySelectorAll("a.fm-thumb")];
  const at = all.findIndex(a => a.hasAttribute("aria-current"));
  if (all.length > 1) location.href = all[(at + step + all.length) % all.length].href;
}
function moveSplit(step) {
  const range = document.getElementById("split-range") || document.getElementById("film-range");
  if (!range) return;
  range.value = +range.value + step;
  range.dispatchEvent(new Event("input", {bubbles: true}));
}
const acts = {
  "0": () => { location.href = "/"; },
  ",": () => moveSplit(-1), ".": () => moveSplit(1), "<": () => moveSplit(-10), ">": () => moveSplit(10),
  "-": () => press("zoom-out"), "=": () => press("zoom-in"), "+": () => press("zoom-in"), l: () => press("zoom-life"),
  v: () => nextPicture(1), V: () => nextPicture(-1), f: () => nextFinding(1), F: () => nextFinding(-1), x: carryOut,
  t: () => press("turn-2"), T: () => press("turn-1"), m: () => press("turn-3"), M: () => press("turn-4"),
  p: () => press("film-play"), z: () => press("undo"), Z: () => press("redo"), o: () => press("drop-file"), n: () => press("quick-log"), d: () => press("dim"),
};
// What everybody's hands know: Ctrl or Command with Z, and with Shift or as Y again. In a field it is the field's own.
function steps(event) {
  if (!(event.ctrlKey || event.metaKey) || event.altKey || inField(event.target)) return false;
  const key = event.key.toLowerCase();
  if (key !== "z" && key !== "y") return false;
  event.preventDefault();
  press(key === "y" || event.shiftKey ? "redo" : "undo");
  return true;
}
document.addEventListener("keydown", event => {
  if (steps(event)) return;
  if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target)) return;
  if (event.key === "?") { sheet().showModal(); return; }
  if (off() || sheet().open) return;
  const stone = /^[1-8]$/.test(event.key) && document.querySelector(`.fm-stone[data-key="${event.key}"]`);
  if (stone) { location.href = stone.href; return; }
  if (acts[event.key]) { event.preventDefault(); acts[event.key](); }
});
const box = document.getElementById("keys-off");
box.checked = off();
box.addEventListener("change", () => localStorage.setItem("keys-off", box.checked ? "1" : "0"));

// Dim or bright; dim.js in the head has done it already by what was chosen before.
const dim = document.getElementById("dim");
if (dim) {
  dim.checked = "dim" in document.documentElement.dataset;
  dim.addEventListener("change", () => {
    document.documentElement.toggleAttribute("data-dim", dim.checked);
    localStorage.setItem("dim", dim.checked ? "1" : "0");
  });
}
