// The lettering's page: sliders say their value, choices without use are put away, a new picture is laid once it is decoded.
(() => {
  const el = id => document.getElementById(id);
  const say = slide => {
    const out = document.querySelector(`output[for="${slide.id}"]`);
    if (out) out.value = slide.dataset.axis ? Math.round(slide.value) : (+slide.value).toFixed(2);
    slide.style.setProperty("--p", `${(slide.value - slide.min) / (slide.max - slide.min) * 100}%`);
  };
  function put() {
    document.querySelectorAll(".fm-slide").forEach(say);
    document.querySelectorAll("[data-when]").forEach(part => {
      const [name, values] = part.dataset.when.split("="), field = part.closest("form").elements[name];
      part.hidden = field ? !values.split(" ").includes(field.value) : false;
    });
  }
  // A picture that is overtaken by a newer one is never laid.
  let newest = "";
  function show() {
    const shown = el("shown"), glass = el("glass");
    if (!shown || !glass || !shown.dataset.glass || glass.getAttribute("src") === shown.dataset.glass) return;
    const url = newest = shown.dataset.glass, next = new Image();
    next.src = url;
    next.decode().then(() => { if (url === newest) glass.src = url; }).catch(() => {});
  }
  addEventListener("DOMContentLoaded", () => {
    put();
    document.body.addEventListener("input", event => {
      if (event.target.matches(".fm-slide")) say(event.target);
      // Slides and the sample are followed while they move; what is half typed elsewhere would only be refused.
      if (event.target.matches(".fm-slide, #id_sample")) event.target.form.dispatchEvent(new Event("slid"));
    });
    document.body.addEventListener("click", event => {
      if (event.target.id !== "keep-mine") return;
      el("base").value = event.target.dataset.base;
      el("recipe").dispatchEvent(new Event("slid"));
    });
    document.body.addEventListener("change", put);
    document.body.addEventListener("htmx:oobAfterSwap", () => { put(); show(); });
  });
})();
