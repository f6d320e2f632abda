// The page of one picture: the recipe's controls, hands on the glass, cutting.
import {openCrop} from "./crop.js";
import {form, keep, start} from "./live.js";
import {startTools} from "./tools.js";
import {say} from "./lib/slides.js";

function sayRecipe() {
  say(form());
  const {method, auto_threshold: auto, threshold} = form().elements;
  if (auto && threshold) threshold.disabled = auto.checked;
  for (const part of form().querySelectorAll("[data-methods]")) part.hidden = !part.dataset.methods.split(" ").includes(method.value);
}

// The three points of the tone depend on each other. Which of them is held goes along, and the server tells the others.
const POINTS = new Set(["black_point", "white_point", "mid_place"]);
const moved = field => { if (POINTS.has(field.name)) form().elements.held.value = field.name; };

start({say: sayRecipe, moved});
startTools(keep);
document.body.addEventListener("click", event => { if (event.target.id === "crop-open") openCrop(form()); });
