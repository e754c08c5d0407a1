// Going back and forth between states: two buttons, Ctrl-Z and Ctrl-Shift-Z.

export class Undo {
  #past = [];
  #future = [];
  #state;
  #restore;

  // state gives what is there now, restore brings one of those back.
  constructor(state, restore) {
    [this.#state, this.#restore] = [state, restore];
    document.getElementById("undo").addEventListener("click", () => this.#step(this.#past, this.#future));
    document.getElementById("redo").addEventListener("click", () => this.#step(this.#future, this.#past));
    addEventListener("keydown", (event) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || event.target.closest?.("input, textarea")) return;
      if (event.shiftKey) this.#step(this.#future, this.#past);
      else this.#step(this.#past, this.#future);
      event.preventDefault();
    });
  }

  // remember keeps the state that was there before a change.
  remember(before) {
    this.#past.push(before);
    this.changed();
  }

  // changed forgets what was gone back from: a change has come after it.
  changed() {
    this.#future.length = 0;
    this.#buttons();
  }

  #step(from, to) {
    if (from.length === 0) return;
    to.push(this.#state());
    this.#restore(from.pop());
    this.#buttons();
  }

  #buttons() {
    document.getElementById("undo").disabled = this.#past.length === 0;
    document.getElementById("redo").disabled = this.#future.length === 0;
  }
}
