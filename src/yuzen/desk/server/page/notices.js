// What has to be told above the desk, and what is asked in a window of its own.

import { at, make, speak } from "./elements.js";

/** Show what is to be decided or known: refusals, kept work, another version of the file. */
export function showNotices(desk) {
  const { state } = desk;
  const notices = desk.refused.map((fault) => make("p", { class: "notice wrong", role: "alert" },
    fault.where ? `${fault.where}: ${fault.message}` : fault.message));
  if (desk.ended) {
    notices.splice(0, notices.length, make("p", { class: "notice wrong", role: "alert" },
      "The server of this page has ended. Your work is kept beside the brief. Start yuzen edit again."));
  }
  if (desk.wrote) notices.push(make("p", { class: "notice" }, `Written: ${desk.wrote}`));
  if (state?.offered) {
    notices.push(make("p", { class: "notice" },
      `Work on this brief from ${state.offered.when} was not saved. `,
      make("button", { type: "button", id: "take-kept",
        onclick: () => desk.changes.put("take-kept", {}) }, "Go on with it"), " ",
      make("button", { type: "button", id: "drop-kept",
        onclick: () => desk.changes.put("drop-kept", {}) }, "Drop it")));
  }
  if (state && state.on_disk !== null) {
    notices.push(make("p", { class: "notice", role: "alert" },
      `Another program has changed ${state.target}. `,
      make("button", { type: "button", id: "versions",
        onclick: () => showVersions(desk) }, "Show both versions")));
  }
  at("notices").replaceChildren(...notices);
}

function open(heading, content, actions) {
  at("asked-heading").textContent = heading;
  at("asked-content").replaceChildren(...content);
  at("asked-actions").replaceChildren(...actions,
    make("button", { type: "submit", value: "no" }, "Close"));
  at("asked").showModal();
}

function action(name, run, id) {
  return make("button", { type: "button", class: "main", id, onclick: async () => {
    at("asked").close();
    await run();
  } }, name);
}

/** The lines of a text; those that another text does not have are marked. */
function compared(text, other) {
  const lines = new Set(other.split("\n"));
  return text.split("\n").flatMap((line) => [
    lines.has(line) ? document.createTextNode(line) : make("mark", {}, line), "\n"]);
}

/** Both versions of a brief that another program has changed. */
export function showVersions(desk) {
  const { state } = desk;
  const column = (name, text, other) => make("div", {}, make("h3", {}, name),
    make("pre", { tabindex: "0", "aria-label": name }, compared(text, other)));
  open(`${state.target} was changed by another program`, [make("div", { class: "versions" },
    column("Your version, on this desk", state.text, state.on_disk),
    column("The version in the file", state.on_disk, state.text))], [
    action("Take the version in the file", () => desk.changes.put("take-disk", {}), "take-disk"),
    action("Keep yours and save it", async () => {
      await desk.changes.put("keep-own", {});
      await desk.changes.put("save", {});
    }, "keep-own"),
  ]);
}

/** Ask for the name of a file, and write it. */
export function askForName(desk, path, heading, name) {
  const field = make("input", { id: "file-name", value: name, size: "40", autocomplete: "off" });
  const write = () => desk.text.flush().then(() => desk.changes.put(path, { name: field.value }));
  open(heading, [make("p", {}, make("label", { for: "file-name" }, "File"), " ", field)],
    [action("Write it", write, "write-file")]);
  field.addEventListener("keydown", (event) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    at("asked").close();
    write();
  });
  field.focus();
  field.setSelectionRange(0, name.lastIndexOf("."));
}

/** Copy a text, and show it, as not every browser lets a page copy. */
export async function copyText(heading, text) {
  let copied = true;
  try {
    await navigator.clipboard.writeText(text);
  } catch {
    copied = false;
  }
  const said = copied ? "It is copied." : "Select it and copy it.";
  speak(said);
  open(heading, [make("p", {}, said),
    make("pre", { id: "copied", tabindex: "0", "aria-label": heading }, text)], []);
}
