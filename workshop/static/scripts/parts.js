// New build: the link that the chosen panel does not offer cannot be chosen.
addEventListener("DOMContentLoaded", () => {
  const follow = () => {
    const panel = document.querySelector("input[name=panel]:checked");
    if (!panel) return;
    const offered = panel.closest("label").dataset.links.split(" ");
    for (const link of document.querySelectorAll("input[name=link_kind]")) {
      link.disabled = !offered.includes(link.value);
      if (link.disabled && link.checked) document.querySelector(`input[name=link_kind][value=${offered[0]}]`).checked = true;
    }
  };
  document.querySelectorAll("input[name=panel]").forEach(input => input.addEventListener("change", follow));
  follow();
});
