// Maps of the chosen element: points are dragged on the curve; the server draws what comes of it.
import {drag} from "./lib/drag.js";
import {reached, written} from "./lib/curve.js";

let held = null;
const numbers = text => text.split(" ").map(Number);
const placeIn = (event, svg) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());

function settle(keep) {
  const {field, first} = held;
  if (!keep) field.value = first;
  else if (field.value !== first) field.dispatchEvent(new Event("change", {bubbles: true}));
  held = null;
}

drag(document.body, {
  within: ".fm-map circle",
  begin(event) {
    const circle = event.target, svg = circle.closest("svg"), field = document.getElementById(svg.dataset.map);
    held = {circle, svg, field, first: field.value, number: [...svg.querySelectorAll("circle")].indexOf(circle)};
  },
  move(event) {
    const place = placeIn(event, held.svg), {raw, at, scale} = held.svg.dataset;
    held.circle.setAttribute("cx", Math.min(120, Math.max(0, place.x)));
    held.circle.setAttribute("cy", Math.min(40, Math.max(0, place.y)));
    held.field.value = written(held.first, held.number, reached(place, numbers(raw)), numbers(at), +scale);
  },
  end: () => settle(true),
  cancel: () => settle(false),
});
