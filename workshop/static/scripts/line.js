// The live serial panel: the next picture is decoded first and then laid; a click on the glass is a touch of its pixel.
const glass = document.getElementById("glass"), form = document.getElementById("touch-form");
document.addEventListener("htmx:afterSwap", () => {
  const state = document.getElementById("line-state");
  if (!state || !glass || glass.getAttribute("src") === state.dataset.glass) return;
  const next = new Image();
  next.addEventListener("load", () => { glass.src = next.src; });
  next.src = state.dataset.glass;
});
glass.addEventListener("click", event => {
  const box = glass.getBoundingClientRect(), {width, height} = document.getElementById("mat").dataset;
  form.elements.x.value = Math.floor((event.clientX - box.left) * width / box.width);
  form.elements.y.value = Math.floor((event.clientY - box.top) * height / box.height);
  form.requestSubmit();
});
