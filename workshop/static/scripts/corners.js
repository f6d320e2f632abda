// Four corners on a photo: each click sets the next one, clockwise from the upper left; the fields can be typed into as well.
import {placeIn} from "./lib/places.js";

const photo = document.getElementById("corners"), form = document.getElementById("corners-form");
const names = ["0", "1", "2", "3"];

function marks() {
  for (const old of photo.querySelectorAll("b")) old.remove();
  for (const n of names) {
    const x = Number(form.elements["x" + n].value), y = Number(form.elements["y" + n].value);
    if (!form.elements["x" + n].value) continue;
    const mark = document.createElement("b");
    mark.textContent = Number(n) + 1;
    mark.style.left = `${x / photo.dataset.width * 100}%`;
    mark.style.top = `${y / photo.dataset.height * 100}%`;
    photo.append(mark);
  }
}
if (photo) {
  photo.addEventListener("click", event => {
    const place = placeIn(event, photo.querySelector("img"), {w: Number(photo.dataset.width), h: Number(photo.dataset.height)});
    const free = names.find(n => !form.elements["x" + n].value) || "0";
    if (free === "0") for (const n of names) form.elements["x" + n].value = form.elements["y" + n].value = "";
    form.elements["x" + free].value = place.x.toFixed(1);
    form.elements["y" + free].value = place.y.toFixed(1);
    marks();
  });
  form.addEventListener("input", marks);
  marks();
}
