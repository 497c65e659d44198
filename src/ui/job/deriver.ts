import { applyChanges, type Candidate, type DerivedView, type Job, type ViewChanges } from '@/core/plan';

export interface DeriverPorts {
  /** What is new since the last answer; null when a newer question has overtaken this one. `fresh`: tell everything. */
  readonly derive: (
    job: Job,
    fresh: boolean,
    onProgress: (done: number, all: number) => void,
  ) => Promise<ViewChanges | null>;
  readonly changed: (state: Partial<DeriverState>) => void;
}

export interface DeriverState {
  readonly view: DerivedView | null;
  /** The job that `view` belongs to. */
  readonly viewFor: Job | null;
  readonly progress: { readonly done: number; readonly all: number } | null;
  readonly failure: string | null;
  readonly candidates: readonly Candidate[] | null;
}

/** Keeps the view of the present job: every answer is a change to the view before it, so none may be left out. */
export class Deriver {
  private view: DerivedView | null = null;
  private asked: Job | null = null;
  private answered: Job | null = null;
  /** What was told is not known for sure: questions ask for everything, until one of them is answered. */
  private unsure = true;
  /** Which job is open: answers about one before it are nobody's. */
  private opened = 0;

  constructor(private readonly ports: DeriverPorts) {}

  async ask(job: Job): Promise<void> {
    this.asked = job;
    const fresh = this.unsure;
    const { opened } = this;
    try {
      const changes = await this.ports.derive(job, fresh, (done, all) => {
        // progress comes on a channel of its own and may arrive after the result
        if (this.asked === job && this.answered !== job) this.ports.changed({ progress: { done, all } });
      });
      // one that was overtaken has told nothing
      if (!changes || opened !== this.opened) return;
      if (fresh) this.unsure = false;
      this.view = applyChanges(fresh ? null : this.view, changes);
      this.answered = job;
      const done = this.asked === job;
      this.ports.changed({ view: this.view, viewFor: job, ...(done ? { progress: null, failure: null } : {}) });
    } catch (error) {
      if (opened !== this.opened) return;
      this.unsure = true;
      if (this.asked !== job) return;
      this.ports.changed({ failure: error instanceof Error ? error.message : String(error), progress: null });
    }
  }

  /** Another job: nothing of the last one holds. */
  reset(): void {
    this.view = null;
    this.asked = null;
    this.answered = null;
    this.unsure = true;
    this.opened++;
    this.ports.changed({ view: null, viewFor: null, progress: null, failure: null, candidates: null });
  }
}
