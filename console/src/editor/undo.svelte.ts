// Steps to undo and redo. Continuous typing in one field is one step.
export interface Change {
  path: string;
  before: unknown; // undefined if nothing was set
  after: unknown;
}

interface Step {
  label: string;
  changes: Change[];
  at: number;
  alone: boolean; // never combined with another
}

const pause = 1500; // milliseconds without a keystroke, after which a new step starts
const most = 500; // largest number of steps

export class History {
  #done = $state.raw<Step[]>([]);
  #undone = $state.raw<Step[]>([]);

  // The label of the next step to undo, "" if there is none.
  next = $derived(this.#done.at(-1)?.label ?? "");
  nextAgain = $derived(this.#undone.at(-1)?.label ?? "");

  constructor(readonly clock: () => number = () => performance.now()) {}

  add(label: string, changes: Change[], alone = false) {
    const at = this.clock();
    const last = this.#done.at(-1);
    this.#undone = [];
    if (last && !alone && !last.alone && last.changes.length == 1 && changes.length == 1 && last.changes[0].path == changes[0].path && at - last.at < pause) {
      const joined = { ...last, at, changes: [{ ...last.changes[0], after: changes[0].after }] };
      this.#done = [...this.#done.slice(0, -1), joined];
      return;
    }
    this.#done = [...this.#done, { label, changes, at, alone }].slice(-most);
  }

  // Returns the step to undo, which can be redone afterwards.
  back(): Step | undefined {
    const step = this.#done.at(-1);
    if (!step) return;
    this.#done = this.#done.slice(0, -1);
    this.#undone = [...this.#undone, { ...step, alone: true }];
    return step;
  }

  forth(): Step | undefined {
    const step = this.#undone.at(-1);
    if (!step) return;
    this.#undone = this.#undone.slice(0, -1);
    this.#done = [...this.#done, step];
    return step;
  }
}
