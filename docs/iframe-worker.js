// A page that is opened as a file may start no worker. Then the search runs in a frame instead.
if (location.protocol === "file:") {
  window.IFrameWorker = class extends EventTarget {
    constructor(url) {
      super();
      const frame = document.createElement("iframe");
      frame.hidden = true;
      document.documentElement.append(frame);
      const inner = frame.contentWindow;
      this.inner = inner;
      this.waiting = [];
      inner.postMessage = (data) => this.tell(data);
      inner.importScripts = (...urls) => Promise.all(urls.map((one) => this.load(one)));
      this.load(url).then(() => {
        const waiting = this.waiting;
        this.waiting = null;
        waiting.forEach((data) => this.postMessage(data));
      });
    }
    load(url) {
      const script = this.inner.document.createElement("script");
      script.src = url;
      this.inner.document.body.append(script);
      return new Promise((done, failed) => Object.assign(script, { onload: done, onerror: failed }));
    }
    tell(data) {
      const event = new MessageEvent("message", { data });
      this.dispatchEvent(event);
      if (this.onmessage) this.onmessage(event);
    }
    postMessage(data) {
      if (this.waiting) this.waiting.push(data);
      else this.inner.dispatchEvent(new this.inner.MessageEvent("message", { data }));
    }
    terminate() { this.inner.frameElement.remove(); }
  };
  window.Worker = window.IFrameWorker;
}
