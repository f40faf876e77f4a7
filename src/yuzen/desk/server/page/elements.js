// Elements of the page. Texts are always set as texts, never read as markup.

/** A new element with attributes and children; what is null among them is left out. */
export function make(tag, attributes = {}, ...children) {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value === null || value === undefined || value === false) continue;
    if (name.startsWith("on")) made.addEventListener(name.slice(2), value);
    else if (name === "value") made.value = value;
    else if (name === "checked" || name === "disabled" || name === "selected") made[name] = value;
    else made.setAttribute(name, value === true ? "" : value);
  }
  made.append(...children.flat().filter((child) => child || child === 0));
  return made;
}

/** The element of an id. */
export const at = (id) => document.getElementById(id);

/** Say something to those who listen to the page. */
export function speak(text) {
  at("spoken").textContent = "";
  // A text that is set anew in the same step is not always read.
  setTimeout(() => { at("spoken").textContent = text; }, 50);
}

/** A list to choose from. Options are texts, or pairs of a value and its name. */
export function choice(options, chosen, attributes, onchange) {
  const list = make("select", { ...attributes, onchange: (event) => onchange(event.target.value) });
  for (const option of options) {
    const [value, name] = Array.isArray(option) ? option : [option, option];
    list.append(make("option", { value, selected: value === chosen }, name));
  }
  return list;
}

/** A small square of a color. */
export function swatch(color) {
  const made = make("span", { class: "swatch", "aria-hidden": "true" });
  if (color) made.style.background = color;
  else made.classList.add("none");
  return made;
}

/** How many of something there are, in words. */
export function counted(count, one, many) {
  return `${count.toLocaleString("en")} ${count === 1 ? one : many}`;
}

/** A line of a fault or a finding: a button where its place in the text is known. */
export function placed(entry, text, go) {
  if (!entry.line) return make("li", {}, text);
  const button = make("button", { type: "button", class: "plain", onclick: () => go(entry.line) },
    make("b", {}, `Line ${entry.line}`), `  ${text}`);
  return make("li", {}, button);
}
