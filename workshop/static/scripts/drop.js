// Files dropped or pasted anywhere on the page go into its one file field.
const form = document.getElementById("drop");
if (form) start();

function start() {
  const field = form.querySelector("input[type=file]");
  // What the service would refuse for its size alone is refused here, before minutes of sending.
  field.addEventListener("change", event => {
    const most = +field.dataset.mostMib;
    const large = [...field.files].find(file => most && file.size > most * 1048576);
    if (!large) return;
    event.stopPropagation();
    field.value = "";
    const words = document.createElement("p");
    words.textContent = `${large.name} is ${(large.size / 1048576).toFixed(1)} MiB; ${field.dataset.kind} up to ${most} MiB are accepted. Nothing was sent.`;
    document.getElementById("notice").replaceChildren(words);
  });
  const take = files => {
    const pictures = [...files];
    if (!pictures.length) return;
    const box = new DataTransfer();
    (field.multiple ? pictures : pictures.slice(0, 1)).forEach(file => box.items.add(file));
    field.files = box.files;
    field.dispatchEvent(new Event("change", {bubbles: true}));
  };
  addEventListener("dragover", event => { event.preventDefault(); form.classList.add("is-over"); });
  addEventListener("dragleave", event => { if (!event.relatedTarget) form.classList.remove("is-over"); });
  addEventListener("drop", event => { event.preventDefault(); form.classList.remove("is-over"); take(event.dataTransfer.files); });
  addEventListener("paste", event => { if (event.clipboardData.files.length) take(event.clipboardData.files); });
  // The same file may be chosen again after a refusal.
  document.body.addEventListener("htmx:afterRequest", event => { if (form.contains(event.target)) field.value = ""; });
}
