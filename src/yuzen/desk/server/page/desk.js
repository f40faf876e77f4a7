// The desk: it shows the state of the session, and sends what is done on it.

import { showMovers } from "./movers.js";
import { showNotices, askForName, showVersions, copyText } from "./notices.js";
import { PictureView } from "./picture.js";
import { ReasonsView } from "./reasons.js";
import { RulesView } from "./rules.js";
import { ask, Changes, Refusal, send, whenQuiet } from "./server.js";
import { TextView } from "./brief_text.js";
import { at, placed, speak } from "./elements.js";

const FINDINGS_AFTER_MS = 400;

class Desk {
  constructor() {
    this.state = null;
    this.refused = [];
    this.ended = false;
    this.newest = 0; // the version that the server has told of last
    this.changes = new Changes((path, values) => this.change(path, values), () => this.catchUp());
    this.text = new TextView(this);
    this.picture = new PictureView(this);
    this.reasons = new ReasonsView(this);
    this.rules = new RulesView(this);
    this.lookForFindings = whenQuiet(() => this.showFindings(), FINDINGS_AFTER_MS);
    this.bind();
  }

  /** Send a change, and show the state that it leads to. */
  async change(path, values) {
    try {
      const said = await send(path, values);
      this.refused = [];
      if (said.wrote) speak(`Written: ${said.wrote}`);
      if (said.wrote) this.wrote = said.wrote;
      else this.wrote = null;
      this.show(said.state);
      return true;
    } catch (error) {
      this.refuse(error);
      return false;
    }
  }

  /** Tell what could not be done. */
  refuse(error) {
    if (!(error instanceof Refusal)) throw error;
    if (error.faults.some((fault) => fault.code === "call-ended")) this.ended = true;
    this.refused = error.faults;
    showNotices(this);
  }

  /** Show another state, unless a newer one is shown already. */
  show(state) {
    if (this.state && state.version < this.state.version) return;
    const first = this.state === null;
    this.state = state;
    this.ended = false;
    document.title = `${state.saved ? "" : "* "}${state.called} – Yuzen desk`;
    at("called").textContent = state.called;
    at("saved").textContent = !state.saved ? "Not saved" : state.in_file ? "Saved" : "In no file yet";
    at("undo").disabled = !state.can_undo;
    at("redo").disabled = !state.can_redo;
    at("save").textContent = `Save ${state.target}`;
    at("save").disabled = state.saved && state.in_file && state.on_disk === null;
    showNotices(this);
    this.text.show(state);
    this.showFaults(state);
    const drawn = typeof state.picture === "string";
    this.picture.show(state, drawn);
    if (drawn) {
      showMovers(this);
      this.rules.show(state);
      this.reasons.show(state);
      this.lookForFindings();
    } else {
      at("findings").replaceChildren();
    }
    if (first) this.picture.first();
  }

  showFaults(state) {
    const lines = state.faults.map((fault) => placed(fault, fault.message,
      (line) => this.text.go(line)));
    at("faults").replaceChildren(...lines);
  }

  /** What the check finds, once nothing moves any more. */
  async showFindings() {
    const version = this.state.version;
    try {
      const { findings } = await ask("findings");
      if (this.state.version !== version) return;
      const lines = findings.map((one) => placed(one, `${one.message} ${one.remedy}`,
        (line) => this.text.go(line)));
      at("findings").replaceChildren(...lines);
      this.text.mark(this.state.faults, findings);
    } catch (error) {
      this.refuse(error);
    }
  }

  /** Set a key of the brief; what is dragged is one step to undo. */
  set(key, value, gesture = "") {
    return this.changes.put("set", { key, value, gesture }, `set ${key.join(".")}`);
  }

  bind() {
    at("undo").addEventListener("click", () => this.changes.put("undo", {}));
    at("redo").addEventListener("click", () => this.changes.put("redo", {}));
    at("save").addEventListener("click", () => this.save());
    at("save-copy").addEventListener("click", () => askForName(this, "save-copy",
      "Save a copy of the brief", this.state.target.replace(/\.toml$/, "-copy.toml")));
    at("save-picture").addEventListener("click", () => askForName(this, "save-picture",
      "Save the picture (.png, .svg, .pdf, .pptx, .xlsx)",
      this.state.target.replace(/\.toml$/, ".png")));
    at("python").addEventListener("click", () => this.copyPython());
    document.addEventListener("keydown", (event) => this.key(event));
  }

  key(event) {
    if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
    const key = event.key.toLowerCase();
    if (key === "s") this.save();
    else if (key === "z") this.text.flush().then(() =>
      this.changes.put(event.shiftKey ? "redo" : "undo", {}));
    else return;
    event.preventDefault();
  }

  async save() {
    await this.text.flush();
    if (this.state.on_disk !== null) showVersions(this);
    else await this.changes.put("save", {});
  }

  async copyPython() {
    try {
      const { text } = await ask("python");
      await copyText("The Python of this chart", text);
    } catch (error) {
      this.refuse(error);
    }
  }

  /** Follow what other pages of this session do, and files that change. */
  follow() {
    const changes = new EventSource("changes");
    changes.onmessage = (event) => {
      this.newest = Number(event.data);
      this.catchUp();
    };
    changes.onerror = () => {
      if (changes.readyState === EventSource.CLOSED) this.ended = true;
      showNotices(this);
    };
    changes.onopen = () => { this.ended = false; };
  }

  /** Load the newest state, unless changes of this page are on their way, which bring one. */
  async catchUp() {
    if (this.changes.busy || this.text.waits || this.newest <= this.state.version) return;
    await this.load();
  }

  async load() {
    try {
      this.show(await ask("state"));
    } catch (error) {
      this.refuse(error);
    }
  }
}

const desk = new Desk();
await desk.load();
desk.follow();
document.body.dataset.ready = "yes";
