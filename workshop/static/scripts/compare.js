// Two variants over one another: the split follows its slider; blinking exchanges them until it is stopped.
const pair = document.getElementById("pair"), range = document.getElementById("pair-range"), blink = document.getElementById("blink");
if (pair) start();

function start() {
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
