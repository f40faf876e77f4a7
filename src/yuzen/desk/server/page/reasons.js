// The reasons of a mark or of a rule, and the table of all marks with their flags.

import { at, choice, counted, make, speak, swatch } from "./elements.js";
import { ask, whenQuiet } from "./server.js";

const ASK_AFTER_MS = 40;
const OUTCOMES = { won: "decides", "also held": "also holds", unknown: "is not known",
  "did not hold": "does not hold" };

export class ReasonsView {
  constructor(desk) {
    this.desk = desk;
    this.which = "all";
    this.first = 0;
    this.known = new Map();
    this.askLater = whenQuiet((mark) => this.answer(mark), ASK_AFTER_MS);
    at("more").addEventListener("click", () => this.more());
    at("rows").addEventListener("keydown", (event) => this.key(event));
    at("rows").addEventListener("pointerover", (event) => {
      const row = event.target.closest("tr");
      if (row) this.desk.picture.look(Number(row.dataset.mark));
    });
    at("rows").addEventListener("pointerleave", () => {
      this.desk.picture.look(this.desk.picture.held);
    });
  }

  show(state) {
    this.known.clear();
    const options = [["all", `all ${state.marks.toLocaleString("en")}`],
      ["flagged", `flagged ${state.table.flagged.toLocaleString("en")}`],
      ...state.rules.map((rule, index) => [String(index), `of “${rule.name}”`])];
    if (!options.some(([value]) => value === this.which)) this.which = "all";
    const list = choice(options, this.which, { id: "which" }, (value) => this.filter(value));
    if (document.activeElement !== at("which")) at("which").replaceWith(list);
    at("rows-head").replaceChildren(
      make("th", { scope: "col" }, state.category), make("th", { scope: "col", class: "number" },
        state.value), make("th", { scope: "col" }, "rules that hold"));
    if (this.which === "all") this.fill(state.table, false);
    else this.load(0);
    const mark = this.desk.picture.mark;
    if (mark !== null && mark < state.marks) this.answer(mark);
    else if (this.desk.rules.chosen !== null) this.showRule(this.desk.rules.chosen);
    else this.showMark(null);
  }

  filter(value) {
    this.which = value;
    return this.load(0);
  }

  more() {
    return this.load(this.first);
  }

  async load(first) {
    try {
      const table = await ask(`rows?which=${encodeURIComponent(this.which)}&first=${first}`);
      this.fill(table, first > 0);
    } catch (error) {
      this.desk.refuse(error);
    }
  }

  fill(table, further) {
    const rows = table.rows.map((row) => this.row(row));
    const held = document.activeElement?.closest("#rows") ? document.activeElement.dataset.mark : null;
    if (further) at("rows").append(...rows);
    else at("rows").replaceChildren(...rows);
    this.first = table.first + table.rows.length;
    at("more").hidden = this.first >= table.count;
    at("counted").textContent = this.first < table.count
      ? `${this.first.toLocaleString("en")} of ${table.count.toLocaleString("en")}` : "";
    const buttons = [...at("rows").querySelectorAll("button")];
    const present = buttons.find((button) => button.dataset.mark === held) ?? buttons[0];
    for (const button of buttons) button.tabIndex = button === present ? 0 : -1;
    if (held !== null) present?.focus();
  }

  row(row) {
    const name = make("button", { type: "button", class: "plain", "data-mark": row.mark,
      onfocus: () => this.desk.picture.look(row.mark),
      onclick: () => { this.desk.picture.held = row.mark; this.desk.picture.look(row.mark); },
    }, swatch(row.color), row.name);
    return make("tr", { "data-mark": row.mark }, make("th", { scope: "row" }, name),
      make("td", { class: "number" }, row.value), make("td", {}, row.rules.join(", ")));
  }

  key(event) {
    const steps = { ArrowDown: 1, ArrowUp: -1 };
    const buttons = [...at("rows").querySelectorAll("button")];
    const place = buttons.indexOf(document.activeElement);
    if (!(event.key in steps) || place < 0) return;
    event.preventDefault();
    const next = buttons[Math.max(0, Math.min(buttons.length - 1, place + steps[event.key]))];
    for (const button of buttons) button.tabIndex = button === next ? 0 : -1;
    next.focus();
  }

  // One mark, or one rule.

  showMark(mark) {
    for (const row of at("rows").children) {
      row.classList.toggle("pointed", mark !== null && row.dataset.mark === String(mark));
    }
    if (mark !== null) this.askLater(mark);
    else if (this.desk.rules.chosen !== null) this.showRule(this.desk.rules.chosen);
    else if (!at("reasons").children.length) {
      at("reasons").replaceChildren(make("p", { class: "help" },
        "Point at a mark of the picture or at a row: its reasons are shown here, rule by rule."));
    }
  }

  async answer(mark) {
    const { version } = this.desk.state;
    if (!this.known.has(mark)) {
      try {
        this.known.set(mark, await ask(`why?mark=${mark}`));
      } catch (error) {
        this.desk.refuse(error);
        return;
      }
    }
    if (this.desk.picture.mark !== mark || version !== this.desk.state.version) return;
    const why = this.known.get(mark);
    const looks = why.colors.map(([target, role, color]) => make("span", { class: "look" },
      swatch(color), `${target}: ${role ? `${role} (${color})` : color}`));
    const lines = why.reasons.map(([rule, target, outcome, sentence]) => make("li",
      { class: outcome === "won" ? "won" : "other" }, make("b", {}, rule),
      ` ${OUTCOMES[outcome]}${target === this.desk.state.noun ? "" : ` on ${target}`}: ${sentence}`));
    at("reasons").replaceChildren(
      make("h3", {}, why.name), make("p", {}, why.numbers,
        why.made_of ? make("span", { class: "help" }, `  ${why.made_of}`) : null),
      make("p", { class: "looks" }, looks),
      lines.length ? make("ol", {}, lines) : make("p", {}, "No rule is about this mark."));
  }

  showRule(index) {
    const rule = this.desk.state.rules[index];
    if (!rule) return;
    const taken = rule.taken.map(([name, count]) => `${count.toLocaleString("en")} by “${name}”`);
    const marks = counted(rule.marks.length, this.desk.state.noun, `${this.desk.state.noun}s`);
    at("reasons").replaceChildren(
      make("h3", {}, swatch(rule.color), rule.name),
      make("p", {}, make("code", {}, rule.when)),
      make("ul", {},
        make("li", {}, `It holds for ${marks} of ${this.desk.state.marks.toLocaleString("en")}.`),
        taken.length ? make("li", {}, `An earlier rule decides ${taken.join(", ")}.`) : null,
        rule.cut ? make("li", {}, `At its limit: ${rule.cut}.`) : null,
        rule.on === "mark" ? null : make("li", {}, `It acts on ${rule.on}.`)));
    speak(`${rule.name}: ${marks}`);
  }
}
