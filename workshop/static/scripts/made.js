// Pages of strips, figures and animations: slides say their value, a moving preview can be made to stand still.
addEventListener("DOMContentLoaded", () => {
  const say = slide => {
    const out = document.querySelector(`output[for="${slide.id}"]`);
    if (out) out.value = (+slide.value).toFixed(2);
    slide.style.setProperty("--p", `${(slide.value - slide.min) / (slide.max - slide.min) * 100}%`);
  };
  for (const slide of document.querySelectorAll(".fm-slide")) { say(slide); slide.addEventListener("input", () => say(slide)); }
  // What a choice has no use for is put away.
  const put = () => document.querySelectorAll("[data-when]").forEach(part => {
    const [name, values] = part.dataset.when.split("=");
    part.hidden = !values.split(" ").includes(part.closest("form").elements[name].value);
  });
  put();
  document.body.addEventListener("change", put);
  // A line of cells is drawn by the server for the names typed here.
  const line = document.querySelector("[data-line]"), sample = document.getElementById("sample"), shot = document.getElementById("line-shot"), opaque = document.getElementById("opaque");
  if (line) {
    let timer = 0;
    const ask = () => { shot.src = `${line.dataset.line}?names=${encodeURIComponent(sample.value)}&how=${opaque?.checked ? "opaque" : ""}&r=${Date.now()}`; };
    line.addEventListener("input", () => { clearTimeout(timer); timer = setTimeout(ask, 150); });
    line.addEventListener("submit", event => { event.preventDefault(); ask(); });
  }
  const pause = document.getElementById("pause"), moving = document.getElementById("moving");
  if (pause) {
    const stand = on => { pause.setAttribute("aria-pressed", on); moving.src = on ? moving.dataset.still : moving.dataset.moving; };
    pause.addEventListener("click", () => stand(pause.getAttribute("aria-pressed") !== "true"));
    if (matchMedia("(prefers-reduced-motion: reduce)").matches) stand(true);
  }
});
