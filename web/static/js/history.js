// Undo and redo of a document that is kept as JSON: states before each change, bounded; quick changes of one kind are one.
export const QUICK = 900; // ms

export class History {
  constructor(most = 200, now = Date.now) {
    this.most = most;
    this.now = now;
    this.done = [];
    this.undone = [];
    this.kind = "";
    this.at = Number.NEGATIVE_INFINITY;
  }

  /** A change was made to the state `before`; `kind` names changes that belong together while they come quickly. */
  changed(before, kind = "") {
    const quick = kind !== "" && kind === this.kind && this.now() - this.at < QUICK;
    if (!quick) this.done.push(before);
    if (this.done.length > this.most) this.done.shift();
    this.undone = [];
    this.kind = kind;
    this.at = this.now();
  }

  /** The state before the last change, given the one now; null where there is none. */
  undo(now) {
    return this.step(this.done, this.undone, now);
  }

  redo(now) {
    return this.step(this.undone, this.done, now);
  }

  step(from, to, now) {
    if (!from.length) return null;
    to.push(now);
    this.kind = "";
    return from.pop();
  }
}
