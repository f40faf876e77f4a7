// What can be moved: the theme, filters of rows, parameters, and how the chart is drawn.

import { at, choice, make, swatch } from "./elements.js";

const NAMES = {
  theme: "Theme",
  "chart.kind": "Kind",
  "chart.panels": "Panels",
  each: "A picture for each",
  "each value": "Shown",
};
const FOR_THE_MOMENT = "For the moment, not in the brief";

/** Show all movers; one that is held at the moment stays as it is. */
export function showMovers(desk) {
  const { state } = desk;
  const moment = momentOf(state);
  const groups = [
    group("Chart", [beside(choices(desk, state, moment, ["theme", "chart.kind", "chart.panels"]))]),
    group("Parameters", state.parameters.map((parameter) => mover(desk, state, parameter))),
    group(FOR_THE_MOMENT, [
      ...state.filters.map((row) => filter(desk, row, moment)),
      beside(choices(desk, state, moment, ["each", "each value"])),
    ]),
  ].filter((one) => one !== null);
  const held = document.activeElement;
  if (held?.closest("#movers") && held.type === "range" && keepHeld(groups, held)) return;
  const id = held?.closest("#movers") ? held.id : null;
  at("movers").replaceChildren(...groups);
  if (id) at(id)?.focus();
}

/** Show the new movers but for a slider under somebody's hand; whether it is still there. */
function keepHeld(groups, held) {
  const fresh = make("div", {}, groups);
  const twin = fresh.querySelector(`#${CSS.escape(held.id)}`);
  if (!twin) return false;
  const [row, other] = [held.closest(".mover"), twin.closest(".mover")];
  const field = row.querySelector("input[type=number]");
  field.value = other.querySelector("input[type=number]").value;
  const home = row.closest("fieldset");
  replaceOthers(home, [...other.closest("fieldset").children], row);
  replaceOthers(at("movers"), groups, home);
  return true;
}

/** Put new children in the place of the old ones, but for one that is kept. */
function replaceOthers(parent, fresh, kept) {
  for (const [index, before] of [...parent.children].entries()) {
    if (before !== kept && fresh[index]) before.replaceWith(fresh[index]);
  }
}

function group(name, movers) {
  if (!movers.some((one) => one)) return null;
  return make("fieldset", {}, make("legend", {}, name), movers);
}

const beside = (movers) => movers.length && make("div", { class: "side-by-side" }, movers);

function momentOf(state) {
  const chosen = (key) => state.choices.find((one) => one.key === key)?.value ?? "";
  const filters = Object.fromEntries(state.filters.map((row) => [row.column, row.chosen]));
  return { filters, each: chosen("each") ? [chosen("each"), chosen("each value")] : null };
}

function choices(desk, state, moment, keys) {
  const offered = state.choices.filter((one) => keys.includes(one.key) && one.options.length > 1);
  return offered.map((one) => {
    const id = `choice-${one.key.replace(/\W/g, "-")}`;
    const options = one.options.map((option) => [option, option || "none"]);
    const list = choice(options, one.value, { id }, (value) => {
      if (one.key === "each") setMoment(desk, { ...moment, each: value ? [value, ""] : null });
      else if (one.key === "each value") setMoment(desk, { ...moment, each: [moment.each[0], value] });
      else desk.set(one.key.split("."), value || null);
    });
    return make("div", { class: "mover" }, make("label", { for: id }, NAMES[one.key]), list);
  });
}

function setMoment(desk, moment) {
  return desk.changes.put("moment", moment, "moment");
}

function filter(desk, row, moment) {
  const boxes = row.values.map((value, index) => {
    const id = `filter-${row.column.replace(/\W/g, "-")}-${index}`;
    const box = make("input", { type: "checkbox", id, checked: row.chosen.includes(value),
      onchange: (event) => {
        const others = row.chosen.filter((one) => one !== value);
        const chosen = event.target.checked ? [...others, value] : others;
        setMoment(desk, { ...moment, filters: { ...moment.filters, [row.column]: chosen } });
      } });
    return make("span", { class: "box" }, box, make("label", { for: id }, String(value)));
  });
  const name = `Only ${row.column.replaceAll("_", " ")}`;
  return make("div", { class: "mover", role: "group", "aria-label": name },
    make("span", { class: "name" }, name), make("span", { class: "boxes" }, boxes));
}

let drags = 0;

function mover(desk, state, parameter) {
  const { name, kind } = parameter;
  const id = `parameter-${name.replace(/\W/g, "-")}`;
  const key = ["parameters", name];
  const label = make("label", { for: id }, name);
  const set = (value, gesture) => desk.set(key, value, gesture);
  if (kind === "number") return make("div", { class: "mover" }, label, numbers(parameter, id, set));
  if (kind === "date") {
    return make("div", { class: "mover" }, label, make("input", { type: "date", id,
      value: parameter.value, onchange: (event) => event.target.value && set(event.target.value) }));
  }
  if (kind === "list") {
    const value = parameter.value.join(", ");
    return make("div", { class: "mover" }, label, make("input", { id, value,
      onchange: (event) => set(event.target.value.split(",").map((one) => one.trim())
        .filter((one) => one)) }));
  }
  if (kind === "color") return make("div", { class: "mover" }, label, colors(state, parameter, id, set));
  if (parameter.options.length) {
    const known = parameter.options.includes(parameter.value);
    const options = known ? parameter.options : [parameter.value, ...parameter.options];
    return make("div", { class: "mover" }, label, choice(options, parameter.value, { id },
      (value) => set(value)));
  }
  return make("div", { class: "mover" }, label, make("input", { id, value: parameter.value,
    onchange: (event) => event.target.value && set(event.target.value) }));
}

function numbers(parameter, id, set) {
  const { low, high, step, value, name } = parameter;
  const field = make("input", { type: "number", id: `${id}-number`, step: "any", value,
    "aria-label": `${name}, as a number`, onchange: (event) => {
      if (event.target.value !== "") set(Number(event.target.value));
    } });
  const slider = make("input", { type: "range", id, min: low, max: high, step });
  slider.value = value;
  slider.addEventListener("pointerdown", () => { drags += 1; });
  slider.addEventListener("focus", () => { drags += 1; });
  slider.addEventListener("input", () => {
    field.value = slider.value;
    set(Number(slider.value), `drag ${name} ${drags}`);
  });
  return make("span", { class: "numbers" }, slider, field);
}

function colors(state, parameter, id, set) {
  const field = make("input", { id, value: parameter.value, size: "10",
    onchange: (event) => event.target.value && set(event.target.value) });
  const roles = Object.entries(state.roles).map(([role, color]) => make("button", {
    type: "button", class: "role", title: role, "aria-label": `${parameter.name}: ${role}`,
    "aria-pressed": String(role === parameter.value), onclick: () => set(role),
  }, swatch(color)));
  return make("span", { class: "colors" }, field, make("span", { class: "roles" }, roles));
}
