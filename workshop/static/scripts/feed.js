// The live feed: when the state that htmx lays names another picture, it is decoded first and then laid on the mat.
document.addEventListener("htmx:afterSwap", () => {
  const state = document.getElementById("feed-state"), glass = document.getElementById("glass");
  if (!state || !glass || glass.getAttribute("src") === state.dataset.glass) return;
  const next = new Image();
  next.addEventListener("load", () => { glass.src = next.src; });
  next.src = state.dataset.glass;
});
