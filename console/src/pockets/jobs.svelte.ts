// Long work that is under way, and what came of what is through.
import { api } from "../api/client";
import type { Job, NewJob } from "../api/types";

const every = 400; // milliseconds between two looks at one that is under way

export class Jobs {
  list = $state<Job[]>([]); // begun or finished while this page is open, and those under way
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly finished: () => void) {}

  async load() {
    try {
      this.list = (await api.jobs()).jobs.filter((j) => j.state == "running");
    } catch {
      return; // the list of pockets says that nobody answers
    }
    this.#watch();
  }

  async begin(job: NewJob) {
    this.list.unshift(await api.startJob(job));
    this.#watch();
  }

  #watch() {
    clearTimeout(this.#timer);
    if (!this.list.some((j) => j.state == "running")) return;
    this.#timer = setTimeout(async () => {
      for (const [i, job] of this.list.entries()) {
        if (job.state != "running") continue;
        try {
          this.list[i] = await api.job(job.id);
          if (this.list[i].state != "running") this.finished();
        } catch {
          // Looked at again.
        }
      }
      this.#watch();
    }, every);
  }

  async cancel(id: string) {
    try {
      await api.cancelJob(id).catch(() => {}); // it may have ended
      const i = this.list.findIndex((j) => j.id == id);
      if (i >= 0) this.list[i] = await api.job(id);
    } catch {
      // It is looked at again.
    }
    this.finished();
  }

  drop(id: string) {
    this.list = this.list.filter((j) => j.id != id);
  }

  close() {
    clearTimeout(this.#timer);
  }
}
