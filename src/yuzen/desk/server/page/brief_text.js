// The text of the brief: lines with their faults, and what can be written at a place.

import { at, counted, make, speak } from "./elements.js";
import { send, whenQuiet } from "./server.js";

const SEND_AFTER_MS = 120;
const STEP_AFTER_MS = 900; // a pause as long as this ends a step of undoing

const SHOWN = 9; // of the ways to go on at once; the arrow keys go through all

/** The letters of a text as the server counts them, where some are two for the browser. */
const letters = (text) => Array.from(text);

export class TextView {
  constructor(desk) {
    this.desk = desk;
    this.area = at("text");
    this.options = at("options");
    this.waits = false;
    this.steps = 0;
    this.last = 0;
    this.chosen = -1;
    this.asked = 0;
    this.later = whenQuiet(() => this.flush(), SEND_AFTER_MS);
    this.area.addEventListener("input", (event) => this.typed(event));
    this.area.addEventListener("scroll", () => this.scrolled());
    this.area.addEventListener("keydown", (event) => this.key(event));
    this.area.addEventListener("blur", () => this.close());
    this.area.addEventListener("click", () => this.close());
  }

  /** Show the text of a state, unless a newer one is being typed. */
  show(state) {
    if (!this.waits && this.area.value !== state.text) {
      const place = this.area.selectionStart;
      const top = this.area.scrollTop;
      this.area.value = state.text;
      this.area.setSelectionRange(place, place);
      this.area.scrollTop = top;
    }
    this.mark(state.faults, []);
  }

  /** Number the lines, and mark those of faults and findings. */
  mark(faults, findings) {
    const marks = new Map();
    for (const one of findings) if (one.line) marks.set(one.line, ["found", one.message]);
    for (const one of faults) if (one.line) marks.set(one.line, ["wrong", one.message]);
    const count = this.area.value.split("\n").length;
    const shown = JSON.stringify([count, [...marks]]);
    if (shown === this.marked) return;
    this.marked = shown;
    const lines = Array.from({ length: count }, (_, index) => {
      const [kind, message] = marks.get(index + 1) ?? [null, null];
      return make("li", { class: kind, title: message }, String(index + 1));
    });
    at("gutter").replaceChildren(...lines);
    this.area.setAttribute("aria-invalid", String(faults.length > 0));
    this.scrolled();
  }

  scrolled() {
    at("gutter").scrollTop = this.area.scrollTop;
  }

  /** Go to a line. */
  go(line) {
    const lines = this.area.value.split("\n");
    const start = lines.slice(0, line - 1).join("\n").length + (line > 1 ? 1 : 0);
    this.area.focus();
    this.area.setSelectionRange(start, start + (lines[line - 1] ?? "").length);
    this.area.scrollTop = Math.max(0, (line - 4) * this.lineHeight());
  }

  typed(event) {
    this.waits = true;
    const now = performance.now();
    if (now - this.last > STEP_AFTER_MS) this.steps += 1;
    this.last = now;
    this.later();
    const writes = event.inputType === "insertText" && /[\w`"']/.test(event.data ?? "");
    if (writes || (this.isOpen() && event.inputType?.startsWith("delete"))) this.complete(false);
    else this.close();
  }

  /** Send what was typed. */
  async flush() {
    if (!this.waits) return;
    const text = this.area.value;
    const gesture = `typed ${this.steps}`;
    await this.desk.changes.put("write", { text, gesture }, "write");
    if (this.area.value === text) this.waits = false;
    this.desk.text.mark(this.desk.state.faults, []);
  }

  // What can be written here.

  isOpen() {
    return !this.options.hidden;
  }

  async complete(wanted) {
    const place = this.area.selectionStart;
    const before = letters(this.area.value.slice(0, place));
    this.asked += 1;
    const asked = this.asked;
    let said;
    try {
      said = await send("complete", { text: this.area.value, place: before.length });
    } catch {
      return; // the next change tells what is wrong
    }
    if (asked !== this.asked || this.area.selectionStart !== place) return;
    if (!said.options.length) {
      if (wanted) speak("Nothing is known to write here.");
      this.close();
      return;
    }
    this.start = before.slice(0, said.start).join("").length;
    this.found = said.options;
    this.choose(wanted ? 0 : -1);
    this.put(place);
    if (wanted) speak(counted(said.options.length, "way to go on", "ways to go on"));
  }

  choose(index) {
    this.chosen = index;
    const count = this.found.length;
    const first = Math.max(0, Math.min(index - Math.floor(SHOWN / 2), count - SHOWN));
    const entries = this.found.slice(first, first + SHOWN).map((option, shown) => make("li", {
      id: `option-${first + shown}`, role: "option", "aria-setsize": count,
      "aria-posinset": first + shown + 1, "aria-selected": String(first + shown === index),
      onpointerdown: (event) => { event.preventDefault(); this.accept(first + shown); },
    }, make("b", {}, option.text), ` ${option.about}`));
    this.options.replaceChildren(...entries);
    this.options.hidden = false;
    if (index >= 0) {
      this.area.setAttribute("aria-activedescendant", `option-${index}`);
    } else {
      this.area.removeAttribute("aria-activedescendant");
    }
  }

  /** Put the list under the place that is written at. */
  put(place) {
    const before = this.area.value.slice(0, place).split("\n");
    const style = getComputedStyle(this.area);
    const width = this.letterWidth(style);
    const left = parseFloat(style.paddingLeft) + before.at(-1).length * width - this.area.scrollLeft;
    const top = parseFloat(style.paddingTop) + before.length * this.lineHeight()
      - this.area.scrollTop;
    const most = this.area.parentElement.clientWidth - this.options.offsetWidth;
    this.options.style.left = `${Math.max(0, Math.min(this.area.offsetLeft + left, most))}px`;
    this.options.style.top = `${this.area.offsetTop + top}px`;
  }

  lineHeight() {
    return parseFloat(getComputedStyle(this.area).lineHeight);
  }

  letterWidth(style) {
    const pen = document.createElement("canvas").getContext("2d");
    pen.font = style.font;
    return pen.measureText("m").width;
  }

  accept(index) {
    const option = this.found[index];
    const place = this.area.selectionStart;
    const text = this.area.value;
    this.close();
    this.area.value = text.slice(0, this.start) + option.text + text.slice(place);
    const end = this.start + option.text.length;
    this.area.setSelectionRange(end, end);
    this.area.focus();
    this.waits = true;
    this.flush();
  }

  close() {
    this.asked += 1;
    this.options.hidden = true;
    this.options.replaceChildren();
    this.area.removeAttribute("aria-activedescendant");
    this.chosen = -1;
  }

  key(event) {
    if (event.ctrlKey && event.key === " ") {
      event.preventDefault();
      this.complete(true);
      return;
    }
    if (!this.isOpen()) return;
    const last = this.found.length - 1;
    if (event.key === "ArrowDown") this.choose(this.chosen >= last ? 0 : this.chosen + 1);
    else if (event.key === "ArrowUp") this.choose(this.chosen <= 0 ? last : this.chosen - 1);
    else if (event.key === "Escape") this.close();
    else if (event.key === "Enter" && this.chosen >= 0) this.accept(this.chosen);
    else if (event.key === "Tab" && !event.shiftKey && this.chosen >= 0) this.accept(this.chosen);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
