// The recipe: a moved control shows its result at once (preview), a settled one is kept (save).
// Answers may come out of order; each carries the number of its request, and an older one is dropped.
(() => {
  const WAIT_MS = 10;
  let sent = 0, applied = 0, timer = 0, previewing = false, previewAgain = false;
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
    for (const part of form().querySelectorAll("[data-when]")) {
      const [name, value] = part.dataset.when.split("=");
      part.hidden = form().elements[name].value !== value;
    }
    placeMid();
  }
  // The middle handle stands where the middle of the scale comes from; the mid tone is a power between the two points.
  function placeMid() {
    const {black_point: black, white_point: white, mid_tone: mid} = form().elements, place = document.getElementById("mid-place");
    if (!place || document.activeElement === place) return;
    place.value = Math.round(+black.value + (white.value - black.value) * 0.5 ** +mid.value);
  }
  function takeMid(place) {
    const {black_point: black, white_point: white, mid_tone: mid} = form().elements;
    const share = Math.min(0.87, Math.max(0.032, (place.value - black.value) / (white.value - black.value)));
    mid.value = (Math.log(share) / Math.log(0.5)).toFixed(2);
  }
  // The two points keep at least five steps between them; the one that is not held gives way.
  function partPoints(held) {
    const {black_point: black, white_point: white} = form().elements;
    if (+white.value >= +black.value + 5) return;
    if (held === black) white.value = +black.value + 5; else black.value = white.value - 5;
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
    if (answer.ok) {
      // The picture first: it is what the maker looks at while the hand moves.
      const shown = answer.html.match(/<template id="shown" data-glass="([^"]*)" data-original="([^"]*)"/);
      if (shown) show(decoded(shown[1]), decoded(shown[2]));
      requestAnimationFrame(() => { if (answer.number === applied) htmx.swap(document.body, answer.html, {swapStyle: "none"}); });
    } else if ([409, 422].includes(answer.status)) htmx.swap(document.getElementById("notice"), answer.html, {swapStyle: "outerHTML"});
    else trouble();
  }
  const decoded = text => text.replaceAll("&amp;", "&");
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
  window.glass = {keep: (url, fields) => inLine(async () => {
    const number = ++sent, body = new URLSearchParams({...fields, base: document.getElementById("base").value});
    const answer = await fetch(url, {method: "POST", body, headers: {"HX-Request": "true", "X-Seq": number, "X-CSRFToken": form().elements.csrfmiddlewaretoken.value}});
    lay({number, html: await answer.text(), ok: answer.ok, status: answer.status, base: answer.headers.get("X-Base"), url: answer.url});
    return answer.ok;
  })};
  function save() {
    clearTimeout(timer);
    if (queued) return;
    queued = true;
    // Its answer shows the form as it is when its turn comes, so no preview of the same is wanted.
    inLine(async () => { queued = previewAgain = false; lay(await post(form().dataset.save)); return true; });
  }
  // One preview at a time, and none while something is being kept: its answer would be taken for the newer one, and
  // what was kept would be dropped. Only the newest wish is remembered.
  async function preview() {
    if (previewing || holding) { previewAgain = true; return; }
    previewing = true;
    try { lay(await post(form().dataset.preview, AbortSignal.timeout(20000))); } catch { trouble(); }
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
    wanted[id] = url;
    if (!place || place.getAttribute("src") === url) return;
    if (url.startsWith("data:")) { place.src = url; return; }
    const next = new Image();
    next.src = url;
    next.decode().then(() => { if (wanted[id] === url) place.src = url; }).catch(() => {});
  }
  addEventListener("DOMContentLoaded", () => {
    say();
    document.body.addEventListener("input", event => {
      if (!form().contains(event.target)) return;
      if (event.target.id === "mid-place") takeMid(event.target);
      if (["black_point", "white_point"].includes(event.target.name)) partPoints(event.target);
      say();
      clearTimeout(timer);
      timer = setTimeout(preview, WAIT_MS);
    });
    document.body.addEventListener("click", event => {
      if (event.target.id !== "keep-mine") return;
      document.getElementById("base").value = event.target.dataset.base;
      save();
    });
    document.body.addEventListener("change", event => { if (form().contains(event.target)) save(); });
    form().addEventListener("submit", event => event.preventDefault());
    // What a maker has unfolded stays so.
    document.body.addEventListener("htmx:oobBeforeSwap", event => {
      if (event.detail.target.querySelector("details")?.open) event.detail.fragment.querySelector("details")?.setAttribute("open", "");
    });
    document.body.addEventListener("htmx:oobAfterSwap", event => {
      if (event.detail.target.id === "recipe") { say(); form().addEventListener("submit", e => e.preventDefault()); }
      if (event.detail.target.id === "shown") setTimeout(() => { const shown = document.getElementById("shown"); show(shown.dataset.glass, shown.dataset.original); });
    });
  });
})();
