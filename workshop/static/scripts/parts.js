// In the search of panels Enter searches (htmx asks for the cards), and does not create the build.
document.addEventListener("keydown", event => {
  if (event.key !== "Enter" || event.target.id !== "shelf-search") return;
  event.preventDefault();
  event.target.dispatchEvent(new Event("find"));
});
// New build: a choice of where to begin is taken at once; own parts show when nothing comes along in their place.
document.querySelectorAll("select[data-submit]").forEach(select => select.addEventListener("change", () => select.form.requestSubmit()));
const along = document.querySelector("input[name=along_parts]"), parts = document.getElementById("own-parts");
if (along) along.addEventListener("change", () => { parts.hidden = along.checked; });
