// Two variants over one another: the split follows its slider; blinking exchanges them until it is stopped.
const pair = document.getElementById("pair"), range = document.getElementById("pair-range"), blink = document.getElementById("blink");
if (pair) start();

function start() {
  const {width, height} = pair.dataset, mat = pair.parentElement, edge = 36;
  // By a whole number of times where it fits once.
  const size = () => {
    const zoom = Math.floor(Math.min((mat.clientWidth - edge) / width, innerHeight * 0.62 / height));
    if (zoom) pair.style.maxWidth = `${width * zoom}px`;
  };
  size();
  addEventListener("resize", size);
  const move = () => pair.style.setProperty("--x", `${range.value}%`);
  if (range) { range.addEventListener("input", move); move(); }
  let timer = 0;
  if (blink) blink.addEventListener("click", () => {
    const on = blink.getAttribute("aria-pressed") !== "true";
    blink.setAttribute("aria-pressed", on);
    clearInterval(timer);
    if (on) timer = setInterval(() => pair.classList.toggle("is-b"), 700); else pair.classList.remove("is-b");
  });
  for (const select of document.querySelectorAll("#side-a, #side-b, #way")) select.addEventListener("change", () => select.form.requestSubmit());
}
