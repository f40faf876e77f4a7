// The picture: each of its marks answers whoever points at it, by mouse or by keyboard.

import { at, make, speak } from "./elements.js";

export class PictureView {
  constructor(desk) {
    this.desk = desk;
    this.frame = at("picture");
    this.shown = null;
    this.mark = null; // the one that is pointed at
    this.held = null; // the one that is held
    this.frame.addEventListener("pointermove", (event) => this.point(event));
    this.frame.addEventListener("pointerleave", () => this.look(this.held));
    this.frame.addEventListener("click", (event) => this.hold(event));
    this.frame.addEventListener("keydown", (event) => this.key(event));
  }

  /** Show the picture of a state; where there is none, the one before stays, and this is told. */
  show(state, drawn) {
    const stale = at("stale");
    stale.hidden = drawn;
    this.frame.classList.toggle("stale", !drawn);
    if (!drawn) {
      stale.textContent = this.shown ? "The picture is of the text before its faults."
        : "There is no picture yet: the text has faults.";
      return;
    }
    if (this.shown === state.picture) return;
    this.shown = state.picture;
    const drawing = new DOMParser().parseFromString(state.picture, "image/svg+xml").documentElement;
    this.frame.replaceChildren(document.adoptNode(drawing));
    this.frame.setAttribute("aria-label", `Picture. ${state.alt}`);
    this.count = state.marks;
    at("notes").replaceChildren(...state.notes.map((note) => make("li", {}, note)));
    if (this.held !== null && this.held >= state.marks) this.held = null;
    this.bindKey(state);
    this.paint();
  }

  first() {
    this.desk.reasons.showMark(null);
  }

  /** The words of the key choose their rules. */
  bindKey(state) {
    for (const text of this.frame.querySelectorAll("text.key")) {
      const index = state.rules.findIndex((rule) => rule.key === text.textContent.trim());
      if (index < 0) continue;
      text.classList.add("answers");
      text.addEventListener("click", () => this.desk.rules.choose(index));
    }
  }

  markAt(event) {
    const element = event.target.closest?.("[data-mark]");
    return element ? Number(element.dataset.mark) : null;
  }

  point(event) {
    const mark = this.markAt(event);
    this.look(mark ?? this.held);
  }

  hold(event) {
    const mark = this.markAt(event);
    if (mark === null) return;
    this.held = mark === this.held ? null : mark;
    this.look(mark);
  }

  /** Show a mark and its reasons; null: none. */
  look(mark) {
    if (mark === this.mark) return;
    this.mark = mark;
    this.paint();
    this.desk.reasons.showMark(mark);
  }

  /** Show marks of a rule, and the mark that is pointed at. */
  paint() {
    const chosen = this.desk.rules.marks();
    this.frame.classList.toggle("choosing", chosen !== null);
    for (const element of this.frame.querySelectorAll("[data-mark]")) {
      const mark = Number(element.dataset.mark);
      element.classList.toggle("pointed", mark === this.mark);
      element.classList.toggle("of-rule", chosen !== null && chosen.has(mark));
    }
  }

  key(event) {
    if (!this.count) return;
    const steps = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
    const from = this.mark ?? this.held;
    let mark = null;
    if (event.key in steps) {
      const step = steps[event.key];
      mark = from === null ? (step > 0 ? 0 : this.count - 1) : from + step;
    } else if (event.key === "Home") mark = 0;
    else if (event.key === "End") mark = this.count - 1;
    else if (event.key === "Enter") {
      this.held = this.mark === this.held ? null : this.mark;
      speak(this.held === null ? "Let go" : "Held");
    } else if (event.key === "Escape") {
      this.held = null;
      this.look(null);
    } else return;
    event.preventDefault();
    if (mark !== null) this.look(Math.max(0, Math.min(this.count - 1, mark)));
  }
}
