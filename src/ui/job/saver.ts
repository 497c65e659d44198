import { type Diff, diffDocuments, isEmptyDiff, type Job } from '@/core/plan';

export type Saving =
  | { readonly kind: 'saved'; readonly at: number }
  | { readonly kind: 'saving' }
  | { readonly kind: 'waiting'; readonly reason: string }
  | { readonly kind: 'refused'; readonly reason: string };

export interface Conflict {
  readonly version: number;
  readonly theirs: Job;
  readonly updatedBy: string;
}

/** One edit on its way: the server takes it once, however often it is sent. */
export interface EditRequest {
  readonly edit: string;
  readonly base: number;
  readonly label: string;
  readonly diff: Diff;
}

export type EditAnswer =
  | { readonly kind: 'taken'; readonly version: number }
  | ({ readonly kind: 'conflict' } & Conflict)
  /** The server will not have it, now or later. */
  | { readonly kind: 'refused'; readonly reason: string }
  /** Nothing is known of it: it is sent again. */
  | { readonly kind: 'lost'; readonly reason: string };

export interface SaverPorts {
  readonly send: (request: EditRequest) => Promise<EditAnswer>;
  /** Calls later; the result takes the call back. */
  readonly later: (ms: number, call: () => void) => () => void;
  readonly newId: () => string;
  readonly now: () => number;
  readonly changed: (state: { readonly saving: Saving; readonly conflict: Conflict | null }) => void;
}

/** ms of rest before an edit is sent, and between tries. */
const REST = 350;
const AGAIN = 1500;

/**
 * Keeps one document on the server: sends what is not yet acknowledged as one edit, again until it is answered; stops at a
 * conflict until somebody has chosen. Nothing is acknowledged that the server has not said.
 */
export class Saver {
  private present: Job;
  private acknowledged: Job;
  private label = 'edit';
  private inFlight: { readonly request: EditRequest; readonly target: Job } | null = null;
  private busy = false;
  private closed = false;
  private forget: (() => void) | null = null;
  private saving: Saving;
  private conflict: Conflict | null = null;

  constructor(
    job: Job,
    private version: number,
    private readonly ports: SaverPorts,
  ) {
    this.present = job;
    this.acknowledged = job;
    this.saving = { kind: 'saved', at: ports.now() };
    this.tell({});
  }

  /** True while something is not yet safe on the server. */
  get unsaved(): boolean {
    return !isEmptyDiff(diffDocuments(this.acknowledged, this.present));
  }

  /** The document is now this. */
  touch(job: Job, label: string): void {
    this.present = job;
    this.label = label;
    if (this.saving.kind === 'saved') this.tell({ saving: { kind: 'saving' } });
    this.schedule(REST);
  }

  /** Goes on from the other version; the caller shows it. */
  takeTheirs(): Job | null {
    const { conflict } = this;
    if (!conflict) return null;
    this.goOnFrom(conflict);
    this.present = conflict.theirs;
    this.tell({ conflict: null, saving: { kind: 'saved', at: this.ports.now() } });
    return conflict.theirs;
  }

  /** The present document is written over theirs, which stays in the history as the revision below. */
  putMineOnTop(): void {
    const { conflict } = this;
    if (!conflict) return;
    this.goOnFrom(conflict);
    this.tell({ conflict: null, saving: { kind: 'saving' } });
    this.schedule(0);
  }

  /** Nothing that arrives later counts. */
  close(): void {
    this.closed = true;
    this.forget?.();
  }

  private goOnFrom({ theirs, version }: Conflict): void {
    this.acknowledged = theirs;
    this.version = version;
    this.inFlight = null;
  }

  private tell(state: { saving?: Saving; conflict?: Conflict | null }): void {
    if (state.saving) this.saving = state.saving;
    if (state.conflict !== undefined) this.conflict = state.conflict;
    this.ports.changed({ saving: this.saving, conflict: this.conflict });
  }

  private schedule(ms: number): void {
    this.forget?.();
    this.forget = this.ports.later(ms, () => void this.send());
  }

  private async send(): Promise<void> {
    if (this.busy || this.closed || this.conflict) return;
    if (!this.inFlight) {
      const diff = diffDocuments(this.acknowledged, this.present);
      if (isEmptyDiff(diff)) {
        if (this.saving.kind !== 'saved') this.tell({ saving: { kind: 'saved', at: this.ports.now() } });
        return;
      }
      const request = { edit: this.ports.newId(), base: this.version, label: this.label, diff };
      this.inFlight = { request, target: this.present };
    }
    const { request, target } = this.inFlight;
    this.busy = true;
    this.tell({ saving: { kind: 'saving' } });
    const answer = await this.ports
      .send(request)
      .catch((e: unknown): EditAnswer => ({ kind: 'lost', reason: e instanceof Error ? e.message : String(e) }));
    this.busy = false;
    if (!this.closed) this.answered(answer, target);
  }

  private answered(answer: EditAnswer, target: Job): void {
    switch (answer.kind) {
      case 'taken': {
        this.acknowledged = target;
        this.version = answer.version;
        this.inFlight = null;
        // more may have been changed while this edit was on its way: then nothing is saved yet
        const all = this.present === target;
        this.tell({ saving: all ? { kind: 'saved', at: this.ports.now() } : { kind: 'saving' } });
        if (!all) this.schedule(50);
        return;
      }
      case 'conflict': {
        this.inFlight = null;
        const { version, theirs, updatedBy } = answer;
        this.tell({
          conflict: { version, theirs, updatedBy },
          saving: { kind: 'waiting', reason: 'changed elsewhere' },
        });
        return;
      }
      case 'refused':
        this.inFlight = null;
        this.tell({ saving: { kind: 'refused', reason: answer.reason } });
        // what was changed meanwhile may have mended it
        if (this.present !== target) this.schedule(REST);
        return;
      case 'lost':
        this.tell({ saving: { kind: 'waiting', reason: answer.reason } });
        this.schedule(AGAIN);
        return;
      default:
        answer satisfies never;
    }
  }
}
