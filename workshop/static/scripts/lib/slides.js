// Slides say their value; parts that a choice has no use for are put away.
const FORMS = {
  signed: v => (v < 0 ? "−" : "+") + Math.abs(v).toFixed(2), two: v => (+v).toFixed(2),
  percent: v => `${Math.round(v * 100)} %`, share: v => `${Math.round(v)} %`, whole: v => `${Math.round(v)}`,
};

/** A value in words, by the form that its output names. */
export const words = (value, form = "two") => FORMS[form](value);

export function saySlide(slide) {
  slide.style.setProperty("--p", `${(slide.value - slide.min) / (slide.max - slide.min) * 100}%`);
  const out = document.querySelector(`output[for="${slide.id}"]`);
  if (out) out.value = words(slide.value, out.dataset.form);
}

/** Whether a condition such as `cut=grid size` holds for a choice's value; a space in a value is written as _. */
export const holds = (condition, valueOf) => { const [name, values] = condition.split("="); return values.split(" ").includes(valueOf(name).replaceAll(" ", "_")); };

/** Says every slide, and puts away what has no use now. */
export function say(root = document) {
  root.querySelectorAll(".fm-slide").forEach(saySlide);
  root.querySelectorAll("[data-when]").forEach(part => {
    const fields = part.closest("form").elements;
    part.hidden = !holds(part.dataset.when, name => fields[name]?.value ?? part.dataset.when.split("=")[1].split(" ")[0]);
  });
}
