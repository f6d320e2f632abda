// The recipe: a moved control shows its result at once (preview), a settled one is kept (save).
// Answers may come out of order; each carries the number of its request, and an older one is dropped.
(() => {
  const WAIT_MS = 30;
  let sent = 0, applied = 0, timer = 0, saving = false, saveAgain = false, aborter = null;
  const form = () => document.getElementById("recipe");
  const forms = {
    signed: v => (v < 0 ? "−" : "+") + Math.abs(v).toFixed(2), two: v => (+v).toFixed(2),
    percent: v => `${Math.round(v * 100)} %`, share: v => `${Math.round(v)} %`, whole: v => `${Math.round(v)}`,
  };

  function say() {
    for (const slide of form().querySelectorAll(".fm-slide")) {
      const share = (slide.value - slide.min) / (slide.max - slide.min) * 100;
      slide.style.setProperty("--p", `${share}%`);
      const out = form().querySelector(`output[for="${slide.id}"]`);
      if (out) out.value = forms[out.dataset.form](slide.value);
    }
    const method = form().elements.method.value;
    const auto = form().elements.auto_threshold, slide = form().elements.threshold;
    if (auto && slide) slide.disabled = auto.checked;
    for (const part of form().querySelectorAll("[data-methods]")) part.hidden = !part.dataset.methods.split(" ").includes(method);
  }

  async function post(url, signal) {
    const number = ++sent;
    const body = new URLSearchParams(new FormData(form()));
    const answer = await fetch(url, {method: "POST", body, signal, headers: {"HX-Request": "true", "X-Seq": number, "X-CSRFToken": form().elements.csrfmiddlewaretoken.value}});
    const html = await answer.text();
    return {number, html, ok: answer.ok, status: answer.status, base: answer.headers.get("X-Base"), url: answer.url};
  }
  function lay(answer) {
    if (answer.base) document.getElementById("base").value = answer.base;
    if (answer.number < applied) return;
    applied = answer.number;
    if (answer.url.includes("/sign-in/")) { location.reload(); return; }
    if (answer.ok) htmx.swap(document.body, answer.html, {swapStyle: "none"});
    else if ([409, 422].includes(answer.status)) htmx.swap(document.getElementById("notice"), answer.html, {swapStyle: "outerHTML"});
    else trouble();
  }
  const trouble = () => {
    const place = document.getElementById("notice");
    place.innerHTML = "<p>The server did not answer. What you set is still on this page; move a control to try again.</p>";
  };
  async function preview() {
    if (aborter) aborter.abort();
    aborter = new AbortController();
    try { lay(await post(form().dataset.preview, aborter.signal)); }
    catch (error) { if (error.name !== "AbortError") trouble(); }
  }
  // Saves go one after the other, since each begins from the revision the one before has made.
  async function save() {
    if (saving) { saveAgain = true; return; }
    saving = true;
    clearTimeout(timer);
    try { lay(await post(form().dataset.save)); } catch { trouble(); }
    saving = false;
    if (saveAgain) { saveAgain = false; save(); }
  }
  // New images are decoded before they are laid down, so that the glass never blinks.
  function show() {
    const shown = document.getElementById("shown");
    for (const [id, url] of [["glass", shown.dataset.glass], ["original", shown.dataset.original], ["thumb-here", shown.dataset.glass]]) {
      const place = document.getElementById(id);
      if (!place || place.getAttribute("src") === url) continue;
      const next = new Image();
      next.src = url;
      next.decode().then(() => { if (document.getElementById("shown").dataset[id === "original" ? "original" : "glass"] === url) place.src = url; }).catch(() => {});
    }
  }
  addEventListener("DOMContentLoaded", () => {
    const place = document.createElement("template");
    place.id = "shown"; document.body.append(place);
    say();
    document.body.addEventListener("input", event => {
      if (!form().contains(event.target)) return;
      say();
      clearTimeout(timer);
      timer = setTimeout(preview, WAIT_MS);
    });
    document.body.addEventListener("change", event => { if (form().contains(event.target)) save(); });
    form().addEventListener("submit", event => event.preventDefault());
    document.body.addEventListener("htmx:afterSettle", show);
    document.body.addEventListener("htmx:oobAfterSwap", event => {
      if (event.detail.target.id === "recipe") { say(); form().addEventListener("submit", e => e.preventDefault()); }
      if (event.detail.target.id === "shown" || event.detail.target.id === "readings") setTimeout(show);
    });
  });
})();
