// Steps that can be undone and done again. What is typed into one field in one go is one step.
export interface Change {
  path: string;
  before: unknown; // undefined where nothing was set
  after: unknown;
}

interface Step {
  label: string;
  changes: Change[];
  at: number;
  alone: boolean; // nothing joins it
}

const pause = 1500; // milliseconds without a keystroke, then the next is another step
const most = 500; // steps kept

export class History {
  #done = $state.raw<Step[]>([]);
  #undone = $state.raw<Step[]>([]);

  // The words for what comes next, "" when there is nothing.
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

  // The step to be undone, which is then to be done again.
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
