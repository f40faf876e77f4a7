// Questions to the server of this page, one after the other.

/** What the server said was wrong: its faults, each with a message. */
export class Refusal extends Error {
  constructor(faults) {
    super(faults.map((fault) => fault.message).join(" "));
    this.faults = faults;
  }
}

async function answer(path, options) {
  let response;
  try {
    response = await fetch(path, options);
  } catch {
    throw new Refusal([{ code: "call-ended", message: "The server of this page has ended." }]);
  }
  const said = await response.json().catch(() => ({ faults: [{ code: "call-ended",
    message: "The server of this page gave no answer." }] }));
  if (!response.ok) throw new Refusal(said.faults);
  return said;
}

/** Ask for something that changes nothing. */
export const ask = (path) => answer(path, { headers: { Accept: "application/json" } });

/** Ask for something with values. */
export const send = (path, values = {}) => answer(path, {
  method: "POST",
  headers: { "Content-Type": "application/json" },
  body: JSON.stringify(values),
});

/** Sends changes in their order. Of those of one subject that wait, only the last one is sent.
 *  run: sends one of them; rest: is called when none is left. */
export class Changes {
  constructor(run, rest) {
    this.run = run;
    this.rest = rest;
    this.waiting = [];
    this.working = null;
  }

  get busy() {
    return this.working !== null;
  }

  /** Send a change. subject: what it is about; null where each one counts. */
  put(path, values = {}, subject = null) {
    const same = this.waiting.findIndex((one) => subject !== null && one.subject === subject);
    if (same >= 0) this.waiting.splice(same, 1);
    this.waiting.push({ path, values, subject });
    this.working ??= this.work();
    return this.working;
  }

  async work() {
    await null;
    while (this.waiting.length) {
      const { path, values } = this.waiting.shift();
      await this.run(path, values);
    }
    this.working = null;
    this.rest();
  }
}

/** Wait until nothing more comes for some milliseconds, then run once. */
export function whenQuiet(run, milliseconds) {
  let timer = null;
  return (...values) => {
    clearTimeout(timer);
    timer = setTimeout(() => run(...values), milliseconds);
  };
}
