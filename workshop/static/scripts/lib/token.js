/** Puts a page's new token against forgery in the place of the old one: its maker has signed in again since it was loaded. */
export function freshen(token) {
  if (!token) return;
  document.body.setAttribute("hx-headers", JSON.stringify({"X-CSRFToken": token}));
  for (const field of document.querySelectorAll("input[name=csrfmiddlewaretoken]")) field.value = token;
}
