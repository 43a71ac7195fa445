// State of the running jobs, and the results of finished ones.
import { api } from "../api/client";
import type { Job, NewJob } from "../api/types";

const every = 400; // milliseconds between requests for a running job

export class Jobs {
  list = $state<Job[]>([]); // those that started or finished while this page is open, and running ones
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(readonly finished: () => void) {}

  async load() {
    try {
      this.list = (await api.jobs()).jobs.filter((j) => j.state == "running");
    } catch {
      return; // the list of pockets reports that there is no response
    }
    this.#watch();
  }

  async start(job: NewJob) {
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
          // Requested again soon.
        }
      }
      this.#watch();
    }, every);
  }

  async cancel(id: string) {
    try {
      await api.cancelJob(id).catch(() => {}); // it may have finished
      const i = this.list.findIndex((j) => j.id == id);
      if (i >= 0) this.list[i] = await api.job(id);
    } catch {
      // It is requested again.
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
