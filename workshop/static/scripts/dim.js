// Dim for the bench at night, before anything is drawn: as was chosen here, else as the system says.
(() => {
  const chosen = localStorage.getItem("dim");
  const isDim = chosen === null ? matchMedia("(prefers-color-scheme: dark)").matches : chosen === "1";
  if (isDim) document.documentElement.dataset.dim = "";
})();
