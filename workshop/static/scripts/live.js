// A form whose result is looked at: a moved control shows its result at once (preview), a settled one is kept (save).
// Answers may come out of order; each request has a number, and an older answer is dropped.
import {ask} from "./lib/answers.js";
import {Line} from "./lib/line.js";
import {drawn, isComing, onThere, show} from "./lib/shown.js";

const REST_MS = 600, WAIT_MS = 10, LONGEST_MS = 20000;
const NO_ANSWER = "The server did not answer. What you set is still on this page; move a control to try again.";
let sent = 0, applied = 0, moves = 0, timer = 0, previewing = false, previewAgain = false, queued = false, resting = 0;
// What a page does besides: `say` writes the values beside their controls, `moved` hears of a control before it is shown, `told`
// hears what an answer's first line tells, `plain` says which buttons of the form leave the page.
const hooks = {say: () => {}, moved: () => {}, told: () => {}, plain: () => false};

export const form = () => document.getElementById("recipe");
const filled = () => new URLSearchParams(new FormData(form()));
// Whether anything is on its way is told on the page itself: styles may show it, and tests wait for it.
const tellBusy = waiting => document.body.toggleAttribute("data-busy", waiting || timer > 0 || previewing || line.isBusy || resting > 0 || isComing());
const bases = () => document.querySelectorAll("main input[name=base]");
function setBase(base) { for (const field of bases()) field.value = base; }

function trouble() {
  const words = document.createElement("p");
  words.textContent = NO_ANSWER;
  document.getElementById("notice").replaceChildren(words);
}

// What the server makes of values that depend on each other. The control that is held keeps its own, and so do all of them
// where a hand has moved on since they were sent.
function setFields(fields) {
  for (const [name, value] of Object.entries(fields || {})) {
    const field = form().elements[name] || document.getElementById(name);
    if (field && field !== document.activeElement) field.value = value;
  }
  hooks.say();
}

async function post(url, body, signal) {
  const number = ++sent, sentAt = moves;
  const onTold = told => {
    if (number > applied) { show(told); hooks.told(told); }
    if (sentAt === moves) setFields(told.fields);
  };
  return {number, ...await ask(url, body, {signal, token: form().elements.csrfmiddlewaretoken.value, onTold})};
}

async function lay(answer) {
  if (answer.told?.base) setBase(answer.told.base);
  if (answer.number < applied) return;
  applied = answer.number;
  if (answer.ok) {
    // The picture has been shown; the rest is laid once the browser has drawn it.
    await drawn();
    if (answer.number === applied) window.htmx.swap(document.body, answer.html, {swapStyle: "none"});
  } else if ([401, 403, 404, 409, 422, 500, 503, 507].includes(answer.status)) window.htmx.swap(document.getElementById("notice"), answer.html, {swapStyle: "outerHTML"});
  else trouble();
}

// Saves of the form, and what other hands do on the glass (touch-up, regions), each from the revision the one before has made.
const line = new Line({whenFree: () => { if (previewAgain) { previewAgain = false; preview(); } else tellBusy(); }, onTrouble: trouble});

async function keptNow(url, fields) {
  const answer = await post(url, new URLSearchParams({...fields, base: document.getElementById("base").value}));
  await lay(answer);
  return answer.ok;
}

/** Keeps something that was done on the glass; a promise of whether it was taken. */
export function keep(url, fields) { tellBusy(true); return line.add(() => keptNow(url, fields)); }

function stopWaiting() { clearTimeout(timer); timer = 0; }

function save() {
  stopWaiting();
  if (queued) return;
  queued = true;
  tellBusy(true);
  // Its answer shows the form as it is when its turn comes, so no preview of the same is wanted.
  line.add(async () => { queued = previewAgain = false; await lay(await post(form().dataset.save, filled())); return true; });
}

// What htmx sends from this page (undo, fixes) stands in the same line: it waits for what is being kept, and what is
// kept next waits for it. What was laid anew meanwhile is sent as it was when it was pressed.
function stand(event) {
  const {elt, path, verb, issueRequest} = event.detail;
  if (verb === "get" || elt.id === "drop" || !elt.closest("main")) return;
  event.preventDefault();
  const values = elt.matches("form") ? Object.fromEntries(new FormData(elt)) : JSON.parse(elt.getAttribute("hx-vals") || "{}");
  tellBusy(true);
  line.add(() => elt.isConnected ? sentBy(issueRequest) : keptNow(path, values));
}
const sentBy = issueRequest => new Promise(done => {
  document.body.addEventListener("htmx:afterRequest", () => setTimeout(done), {once: true});
  setTimeout(done, LONGEST_MS);
  issueRequest(true);
});

// One preview at a time, and none while something is being kept: its answer would be taken for the newer one, and
// what was kept would be dropped. Only the newest wish is remembered.
async function preview() {
  if (previewing || line.isBusy) { previewAgain = true; return; }
  previewing = true;
  try { await lay(await post(form().dataset.preview, filled(), AbortSignal.timeout(LONGEST_MS))); } catch { trouble(); }
  previewing = false;
  if (previewAgain && !line.isBusy) { previewAgain = false; preview(); } else tellBusy();
}

// A form may say which of its controls are followed while they move; what is half typed in others would only be refused.
const followed = field => !form().dataset.follow || field.matches(form().dataset.follow);

function rested() {
  if (!resting) return;
  clearTimeout(resting);
  resting = 0;
  save();
}

/** Makes the page's form live. */
export function start(own = {}) {
  Object.assign(hooks, own);
  hooks.say();
  onThere(() => tellBusy());
  document.body.addEventListener("input", event => {
    if (!form().contains(event.target)) return;
    moves++;
    hooks.moved(event.target);
    hooks.say();
    stopWaiting();
    if (!followed(event.target)) return;
    timer = setTimeout(() => { timer = 0; preview(); }, WAIT_MS);
    tellBusy();
  });
  document.body.addEventListener("click", event => {
    if (event.target.id !== "keep-mine") return;
    setBase(event.target.dataset.base);
    save();
  });
  // Arrow keys tell of a change at every press: a slider is kept when the hand rests, as one step.
  document.body.addEventListener("keydown", event => { if (event.target.type === "range") event.target.dataset.byKey = "1"; });
  document.body.addEventListener("pointerdown", event => { delete event.target.dataset.byKey; });
  document.body.addEventListener("change", event => {
    if (!form().contains(event.target)) return;
    hooks.say();
    clearTimeout(resting);
    if (event.target.type === "range" && event.target.dataset.byKey) { resting = setTimeout(rested, REST_MS); tellBusy(true); return; }
    resting = 0;
    save();
  });
  document.body.addEventListener("focusout", rested);
  addEventListener("pagehide", rested);
  document.body.addEventListener("submit", event => { if (event.target === form() && !hooks.plain(event.submitter)) event.preventDefault(); });
  document.body.addEventListener("htmx:confirm", stand);
  // What a maker has unfolded stays so.
  document.body.addEventListener("htmx:oobBeforeSwap", event => {
    if (event.detail.target.querySelector("details")?.open) event.detail.fragment.querySelector("details")?.setAttribute("open", "");
  });
  document.body.addEventListener("htmx:oobAfterSwap", event => {
    const laid = event.detail.target.id;
    if (laid === "recipe") hooks.say();
    if (laid === "recipe" || laid === "history") setBase(document.getElementById("base").value);
    if (laid === "shown") setTimeout(() => show(document.getElementById("shown").dataset));
  });
}
