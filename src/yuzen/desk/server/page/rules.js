// The rules in their order, and a sentence of lists by which one is built or changed.

import { at, choice, counted, make, speak, swatch } from "./elements.js";
import { send, whenQuiet } from "./server.js";

const SLOT = /\{(\w+)\}/g;
const BEGIN = "top 3";
const AGAIN_AFTER_MS = 300;

const places = (form) => [...form.matchAll(SLOT)].map(([, name]) => name).join();

/** What is kept of a test where another form has the same places; nothing else fits. */
const kept = (test, form) => (places(test.form) === places(form) ? test.slots : []);

export class RulesView {
  constructor(desk) {
    this.desk = desk;
    this.chosen = null;
    this.edited = null; // the rule of the text whose condition the sentence changes
    this.said = null; // the sentence as the server knows it
    this.asked = 0;
    this.waiting = null; // what was chosen in lists and is not answered yet
    this.color = "notice";
    this.dragged = null;
    // A slider that moves would wait for the lists after each of its steps.
    this.askAgain = whenQuiet(() => this.edited === null && this.waiting === null
      && this.ask({ text: this.said.text }), AGAIN_AFTER_MS);
  }

  /** The marks of the rule that is chosen; null where none is. */
  marks() {
    if (this.chosen === null || !this.desk.state) return null;
    const rule = this.desk.state.rules[this.chosen];
    return rule ? new Set(rule.marks) : null;
  }

  choose(index) {
    this.chosen = this.chosen === index ? null : index;
    this.desk.picture.mark = null;
    this.desk.picture.held = null;
    this.desk.picture.paint();
    at("reasons").replaceChildren();
    this.desk.reasons.showMark(null);
    this.desk.reasons.filter(this.chosen === null ? "all" : String(this.chosen));
    for (const [place, entry] of [...at("rules").children].entries()) {
      entry.querySelector(".choose").setAttribute("aria-pressed", String(place === this.chosen));
    }
    at("which").value = this.chosen === null ? "all" : String(this.chosen);
  }

  show(state) {
    if (this.chosen !== null && this.chosen >= state.rules.length) this.chosen = null;
    const held = document.activeElement?.closest("#rules") ? document.activeElement.id : null;
    at("rules").replaceChildren(...state.rules.map((rule, index) => this.card(state, rule, index)));
    if (held) at(held)?.focus();
    if (this.edited !== null) {
      const rule = state.rules.find((one) => one.place === this.edited && one.is_first);
      if (!rule?.own_when) this.edited = null;
      else if (rule.own_when !== this.said?.text) this.ask({ text: rule.own_when });
    }
    if (this.said === null) this.ask({ text: BEGIN });
    else if (this.edited === null) this.askAgain();
    this.desk.picture.paint();
  }

  card(state, rule, index) {
    const taken = rule.taken.map(([name, count]) => `${count} taken by “${name}”`);
    const counts = [`holds for ${rule.marks.length.toLocaleString("en")}`, ...taken].join(", ");
    const choose = make("button", { type: "button", class: "choose plain", id: `rule-${index}`,
      "aria-pressed": String(index === this.chosen), onclick: () => this.choose(index),
    }, swatch(rule.color), make("b", {}, rule.key || rule.name), " ",
      rule.key === rule.when && rule.name === rule.when ? null : make("code", {}, rule.when),
      make("span", { class: "help" }, ` ${counts}`));
    if (rule.place === null) {
      return make("li", { class: "rule" }, choose, make("span", { class: "help" }, " of the house"));
    }
    // Bands are one entry of the brief, which is moved as a whole.
    if (!rule.is_first) return make("li", { class: "rule" }, choose);
    const places = state.rules.map((one) => one.place);
    const step = (to) => this.move(rule, to);
    const tools = make("span", { class: "tools" },
      this.tool(`rule-${index}-up`, "↑", `Move “${rule.name}” up`, () => step(rule.place - 1),
        rule.place === 0),
      this.tool(`rule-${index}-down`, "↓", `Move “${rule.name}” down`, () => step(rule.place + 1),
        rule.place === Math.max(...places)),
      rule.own_when && this.tool(`rule-${index}-lists`, "lists",
        `Change “${rule.name}” by lists`, () => this.edit(rule)),
      this.tool(`rule-${index}-out`, "×", `Take “${rule.name}” out`,
        () => this.desk.changes.put("remove-rule", { place: rule.place })));
    return this.draggable(make("li", { class: "rule", draggable: "true" }, choose, tools), rule);
  }

  tool(id, text, label, run, disabled = false) {
    return make("button", { type: "button", class: "plain", id, "aria-label": label, title: label,
      disabled, onclick: run }, text);
  }

  move(rule, to) {
    speak(`${rule.name} is rule ${to + 1} now`);
    return this.desk.changes.put("move-rule", { place: rule.place, to });
  }

  draggable(entry, rule) {
    entry.addEventListener("dragstart", (event) => {
      this.dragged = rule;
      event.dataTransfer.effectAllowed = "move";
      event.dataTransfer.setData("text/plain", rule.name);
    });
    entry.addEventListener("dragover", (event) => {
      if (this.dragged === null) return;
      event.preventDefault();
      entry.classList.add("under");
    });
    entry.addEventListener("dragleave", () => entry.classList.remove("under"));
    entry.addEventListener("drop", (event) => {
      event.preventDefault();
      entry.classList.remove("under");
      if (this.dragged && this.dragged.place !== rule.place) this.move(this.dragged, rule.place);
      this.dragged = null;
    });
    return entry;
  }

  // The sentence.

  edit(rule) {
    this.edited = rule.place;
    // The lists of another condition would be written into this rule.
    at("sentence").replaceChildren(make("h3", {}, `Change “${rule.name}”`));
    this.ask({ text: rule.own_when });
    at("sentence").scrollIntoView({ block: "nearest" });
  }

  /** Ask what lists a condition has and what it would do, and show them. */
  async ask(values) {
    this.asked += 1;
    const asked = this.asked;
    this.waiting = values.tests ? values : null;
    try {
      const said = await send("sentence", values);
      if (asked !== this.asked) return;
      this.waiting = null;
      this.said = said;
      this.showSentence();
    } catch {
      // a text with faults has no lists; its faults are shown at their lines
    }
  }

  /** The tests as they are chosen now, also where the answer to a choice is still on its way. */
  chosenTests() {
    const tests = this.waiting?.tests ?? this.said.tests.map(({ test }) => test);
    return tests.map((test) => ({ ...test, slots: [...test.slots] }));
  }

  /** A list was changed. begun: the other lists of the test may have to begin anew. */
  async listed(place, changes, begun) {
    const tests = this.chosenTests();
    Object.assign(tests[place], changes);
    const still = this.waiting?.begun ?? null;
    await this.ask({ tests, joint: this.said.joint, begun: begun ? place : still });
    if (this.waiting === null) await this.apply();
  }

  /** Write the sentence into the rule that it is about. */
  async apply() {
    if (this.edited === null || this.said.tried.faults.length) return;
    await this.desk.set(["rule", this.edited, "when"], this.said.text, `lists ${this.edited}`);
  }

  showSentence() {
    const { said, desk } = this;
    const held = document.activeElement?.closest("#sentence") ? document.activeElement.id : null;
    const rule = desk.state.rules.find((one) => one.place === this.edited);
    const heading = rule ? `Change “${rule.name}”` : "A new rule";
    const field = make("input", { id: "condition", value: said.text, size: "36",
      autocomplete: "off", spellcheck: "false",
      onchange: async (event) => {
        await this.ask({ text: event.target.value });
        await this.apply();
      } });
    at("sentence").replaceChildren(
      make("h3", {}, heading),
      said.tests.length ? this.lists(said)
        : make("p", { class: "help" }, "Lists cannot show this condition. Write it as text."),
      make("p", {}, make("label", { for: "condition" }, "The condition as text"), " ", field),
      make("p", { id: "tried" }, this.triedText(said.tried)),
      rule ? make("p", {}, make("button", { type: "button", id: "sentence-done",
        onclick: () => { this.edited = null; this.ask({ text: BEGIN }); } }, "Done")) : this.adding());
    if (held) at(held)?.focus();
  }

  triedText(tried) {
    if (tried.faults.length) return tried.faults.map((fault) => fault.message).join(" ");
    const { noun } = this.desk.state;
    if (!tried.count) return `It holds for no ${noun}.`;
    const more = tried.count > tried.names.length ? ", …" : "";
    const beaten = tried.beaten.map(([name, count]) => `“${name}” decides ${count} of them`);
    const names = `It holds for ${counted(tried.count, noun, `${noun}s`)} of ${tried.of}: `
      + `${tried.names.join(", ")}${more}.`;
    return this.edited === null && beaten.length ? `${names} As the last rule ${beaten.join(", ")}.`
      : names;
  }

  lists(said) {
    const tests = said.tests.map((entry, place) => this.testLists(entry, place, said));
    const more = make("button", { type: "button", id: "another", onclick: () => {
      const begun = said.tests.length;
      const test = { subject: "", form: "top {amount}", slots: ["3"], within: "", negated: false };
      return this.ask({ tests: [...this.chosenTests(), test], joint: said.joint, begun });
    } }, "and …");
    return make("div", { class: "tests" }, tests, more);
  }

  testLists({ test, subjects, forms, slots, within }, place, said) {
    const id = (name) => `test-${place}-${name}`;
    const value = this.desk.state.value;
    const label = (name) => ({ "aria-label": `Test ${place + 1}, ${name}` });
    const joint = place === 0 ? null : choice(["and", "or"], said.joint,
      { id: id("joint"), ...label("joint") },
      (chosen) => this.ask({ tests: this.chosenTests(), joint: chosen }).then(() => this.apply()));
    const fields = slots.map((offers, index) => this.slot(id(`slot-${index}`),
      label(`value ${index + 1}`), test, offers, place, index));
    const words = [];
    let index = 0;
    for (const [position, piece] of test.form.split(SLOT).entries()) {
      if (position % 2) words.push(fields[index++]);
      else if (position > 0 && piece.trim()) words.push(make("span", {}, piece.trim()));
    }
    const out = said.tests.length < 2 ? null : make("button", { type: "button", class: "plain",
      id: id("out"), "aria-label": `Take test ${place + 1} out`, onclick: () => {
        const tests = this.chosenTests();
        tests.splice(place, 1);
        this.ask({ tests, joint: said.joint }).then(() => this.apply());
      } }, "×");
    return make("div", { class: "test" }, joint,
      choice([["", "it"], ["not", "it is not so that"]], test.negated ? "not" : "",
        { id: id("not"), ...label("yes or no") },
        (chosen) => this.listed(place, { negated: chosen === "not" }, false)),
      choice(subjects.map((name) => [name, name || `its ${value}`]), test.subject,
        { id: id("subject"), ...label("subject") },
        (chosen) => this.listed(place, { subject: chosen }, true)),
      choice(forms.map((form) => [form, form.replace(SLOT, "…")]), test.form,
        { id: id("form"), ...label("claim") },
        (chosen) => this.listed(place, { form: chosen, slots: kept(test, chosen) }, true)),
      words,
      choice(within.map((name) => [name, name ? `within ${name}` : "among all"]), test.within,
        { id: id("within"), ...label("peers") },
        (chosen) => this.listed(place, { within: chosen }, false)), out);
  }

  slot(id, label, test, offers, place, index) {
    const change = (chosen) => {
      const slots = [...test.slots];
      slots[index] = chosen;
      return this.listed(place, { slots }, false);
    };
    const list = make("datalist", { id: `${id}-offers` },
      offers.map((offer) => make("option", { value: offer })));
    return make("span", {}, make("input", { id, ...label, list: `${id}-offers`, size: "12",
      value: test.slots[index], onchange: (event) => change(event.target.value) }), list);
  }

  adding() {
    const roles = Object.entries(this.desk.state.roles)
      .filter(([role]) => !["paper", "pale", "missing", "hairline"].includes(role))
      .map(([role]) => [role, role]);
    const add = async () => {
      const values = { when: this.said.text, color: this.color };
      await this.desk.changes.put("add-rule", { values });
      speak("The rule is added.");
    };
    return make("p", {}, make("label", { for: "new-color" }, "Color"), " ",
      choice(roles, this.color, { id: "new-color" }, (role) => { this.color = role; }), " ",
      make("button", { type: "button", id: "add-rule", class: "main", onclick: add,
        disabled: this.said.tried.faults.length > 0 }, "Add the rule"));
  }
}
