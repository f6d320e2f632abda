// A form whose result is looked at: a moved control shows its result at once (preview), a settled one is kept (save).
// Answers may come out of order; each carries the number of its request, and an older one is dropped.
(() => {
  const WAIT_MS = 10, LONGEST_MS = 20000;
  let sent = 0, applied = 0, timer = 0, previewing = false, previewAgain = false;
  const form = () => document.getElementById("recipe");
  // What a page does besides: `say` writes the values beside their controls, `moved` hears of a control before it is shown.
  const hooks = {say: () => {}, moved: () => {}};

  async function post(url, body, signal) {
    const number = ++sent;
    const answer = await fetch(url, {method: "POST", body, signal, headers: {"HX-Request": "true", "X-Seq": number, "X-CSRFToken": form().elements.csrfmiddlewaretoken.value}});
    const html = await answer.text();
    return {number, html, ok: answer.ok, status: answer.status, base: answer.headers.get("X-Base"), url: answer.url};
  }
  const filled = () => new URLSearchParams(new FormData(form()));
  function lay(answer) {
    if (answer.base) document.getElementById("base").value = answer.base;
    if (answer.number < applied) return;
    applied = answer.number;
    if (answer.url.includes("/sign-in/")) { location.reload(); return; }
    if (answer.ok) {
      // The picture first: it is what the maker looks at while the hand moves.
      const told = answer.html.match(/<template id="shown"([^>]*)>/);
      if (told) show(told_of(told[1], "glass"), told_of(told[1], "original"));
      return drawn().then(() => { if (answer.number === applied) htmx.swap(document.body, answer.html, {swapStyle: "none"}); });
    }
    if ([409, 422].includes(answer.status)) htmx.swap(document.getElementById("notice"), answer.html, {swapStyle: "outerHTML"});
    else trouble();
  }
  // The next frame; a page that nobody sees has none, and does not wait for it.
  const drawn = () => new Promise(done => { requestAnimationFrame(done); setTimeout(done, 100); });
  const told_of = (text, name) => (text.match(new RegExp(`data-${name}="([^"]*)"`)) || ["", ""])[1].replaceAll("&amp;", "&");
  const trouble = () => {
    const place = document.getElementById("notice");
    place.innerHTML = "<p>The server did not answer. What you set is still on this page; move a control to try again.</p>";
  };
  // What is kept goes in one line, each beginning from the revision that the one before has made: saves of the
  // form, and what other hands do on the glass (touch-up, regions).
  let line = Promise.resolve(), holding = 0, queued = false;
  function inLine(act) {
    holding++;
    line = line.then(act).catch(() => { trouble(); return false; }).finally(() => {
      holding--;
      if (!holding && previewAgain) { previewAgain = false; preview(); }
    });
    return line;
  }
  async function keptNow(url, fields) {
    const answer = await post(url, new URLSearchParams({...fields, base: document.getElementById("base").value}));
    await lay(answer);
    return answer.ok;
  }
  const keep = (url, fields) => inLine(() => keptNow(url, fields));
  function save() {
    clearTimeout(timer);
    if (queued) return;
    queued = true;
    // Its answer shows the form as it is when its turn comes, so no preview of the same is wanted.
    inLine(async () => { queued = previewAgain = false; await lay(await post(form().dataset.save, filled())); return true; });
  }
  // What htmx sends from this page (taking back, fixes) stands in the same line: it waits for what is being kept, and what is
  // kept next waits for it. What was laid anew meanwhile is sent as it was when it was pressed.
  function stand(event) {
    const {elt, path, verb, issueRequest} = event.detail;
    if (verb === "get" || elt.id === "drop" || !elt.closest("main")) return;
    event.preventDefault();
    const values = elt.matches("form") ? Object.fromEntries(new FormData(elt)) : JSON.parse(elt.getAttribute("hx-vals") || "{}");
    inLine(() => elt.isConnected ? sent_by(issueRequest) : keptNow(path, values));
  }
  const sent_by = issueRequest => new Promise(done => {
    document.body.addEventListener("htmx:afterRequest", () => setTimeout(done), {once: true});
    setTimeout(done, LONGEST_MS);
    issueRequest(true);
  });
  // One preview at a time, and none while something is being kept: its answer would be taken for the newer one, and
  // what was kept would be dropped. Only the newest wish is remembered.
  async function preview() {
    if (previewing || holding) { previewAgain = true; return; }
    previewing = true;
    try { await lay(await post(form().dataset.preview, filled(), AbortSignal.timeout(LONGEST_MS))); } catch { trouble(); }
    previewing = false;
    if (previewAgain) { previewAgain = false; preview(); }
  }
  // What comes by its address is decoded before it is laid down, so that the glass never blinks.
  let wanted = {};
  function show(glass, original) {
    lift("glass", glass);
    lift("original", original);
    if (!glass.startsWith("data:")) lift("thumb-here", glass);
  }
  function lift(id, url) {
    const place = document.getElementById(id);
    if (!url) return;
    wanted[id] = url;
    if (!place || place.getAttribute("src") === url) return;
    if (url.startsWith("data:")) { place.src = url; return; }
    const next = new Image();
    next.src = url;
    next.decode().then(() => { if (wanted[id] === url) place.src = url; }).catch(() => {});
  }
  // A form may say which of its controls are followed while they move; what is half typed in others would only be refused.
  const followed = field => !form().dataset.follow || field.matches(form().dataset.follow);
  window.live = {hooks, keep, form};
  addEventListener("DOMContentLoaded", () => {
    hooks.say();
    document.body.addEventListener("input", event => {
      if (!form().contains(event.target)) return;
      hooks.moved(event.target);
      hooks.say();
      clearTimeout(timer);
      if (followed(event.target)) timer = setTimeout(preview, WAIT_MS);
    });
    document.body.addEventListener("click", event => {
      if (event.target.id !== "keep-mine") return;
      document.getElementById("base").value = event.target.dataset.base;
      save();
    });
    document.body.addEventListener("change", event => { if (form().contains(event.target)) { hooks.say(); save(); } });
    form().addEventListener("submit", event => event.preventDefault());
    document.body.addEventListener("htmx:confirm", stand);
    // What a maker has unfolded stays so.
    document.body.addEventListener("htmx:oobBeforeSwap", event => {
      if (event.detail.target.querySelector("details")?.open) event.detail.fragment.querySelector("details")?.setAttribute("open", "");
    });
    document.body.addEventListener("htmx:oobAfterSwap", event => {
      if (event.detail.target.id === "recipe") { hooks.say(); form().addEventListener("submit", e => e.preventDefault()); }
      if (event.detail.target.id === "shown") setTimeout(() => { const {glass, original} = document.getElementById("shown").dataset; show(glass || "", original || ""); });
    });
  });
})();
