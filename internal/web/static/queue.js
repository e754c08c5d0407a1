// A queue of things to send that outlives a lost connection and a closed page.
// Each is sent in order until the server has it; saying one twice changes
// nothing, so none is lost and none counts double.

export class Queue {
  constructor(name, tell) {
    this.name = name;
    this.tell = tell; // how many wait, and whether the line is down
    this.sending = false;
    addEventListener("online", () => this.flush());
    setInterval(() => this.flush(), 2000);
    if (this.list().length) this.flush();
  }

  list() {
    try { return JSON.parse(localStorage.getItem(this.name)) ?? []; } catch { return []; }
  }

  keep(list) { localStorage.setItem(this.name, JSON.stringify(list)); }

  add(url, values) {
    this.keep([...this.list(), { url, values: { ...values, at: Date.now() }, id: `${Date.now()}-${Math.random()}` }]);
    // Kept already: what was pressed is painted first, then sent. A page in the background paints nothing.
    const soon = document.hidden ? setTimeout : (then) => requestAnimationFrame(() => setTimeout(then));
    return new Promise((sent) => { soon(() => sent(this.flush())); });
  }

  async flush() {
    if (this.sending) return;
    this.sending = true;
    try {
      for (let list = this.list(); list.length; list = this.list()) {
        const one = list[0];
        let answer;
        try {
          answer = await fetch(one.url, { method: "POST", headers: { "HX-Request": "true" }, body: new URLSearchParams(one.values), redirect: "manual" });
        } catch {
          this.tell(list.length, "down");
          return;
        }
        if (answer.status === 401 || answer.type === "opaqueredirect") { this.tell(list.length, "signed out"); return; }
        if (answer.status === 429) { this.tell(list.length, "slowed"); return; }
        if (answer.status >= 500) { this.tell(list.length, "down"); return; }
        // What the server refuses would be refused again: it is taken off and told.
        this.keep(this.list().filter((other) => other.id !== one.id));
        document.dispatchEvent(new CustomEvent("zesty:sent", { detail: { one, ok: answer.ok, text: await answer.text(), plan: answer.headers.get("Zesty-Plan") } }));
        this.tell(this.list().length, "");
      }
    } finally {
      this.sending = false;
    }
  }
}

// counted says how many ticks wait.
export const counted = (n) => (n === 1 ? "1 tick waits" : `${n} ticks wait`);
