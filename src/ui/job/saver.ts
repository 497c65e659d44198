import { applyDiff, type Diff, diffDocuments, isEmptyDiff, type Job } from '@/core/plan';
import { partOfDiff, refusedPlaces } from './refusals';

export type Saving =
  | { readonly kind: 'saved'; readonly at: number }
  | { readonly kind: 'saving' }
  | { readonly kind: 'waiting'; readonly reason: string }
  /** The session has ended: nothing is lost, but somebody must sign in. */
  | { readonly kind: 'signed-out' }
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

export interface Refusal {
  /** JSON pointer in the document; empty when the whole is meant. */
  readonly path: string;
  readonly message: string;
}

export type EditAnswer =
  | { readonly kind: 'taken'; readonly version: number }
  | ({ readonly kind: 'conflict' } & Conflict)
  /** The server will not have it, now or later. */
  | { readonly kind: 'refused'; readonly reason: string; readonly problems: readonly Refusal[] }
  | { readonly kind: 'signed-out' }
  /** Nothing is known of it: it is sent again. */
  | { readonly kind: 'lost'; readonly reason: string };

/** What is not yet safe on the server, as it is kept in the browser: all that is needed to go on with it. */
export interface Unsaved {
  /** Version that the differences count from. */
  readonly base: number;
  readonly diff: Diff;
  readonly inFlight: EditRequest | null;
  readonly label: string;
}

export interface SaverPorts {
  readonly send: (request: EditRequest) => Promise<EditAnswer>;
  /** Calls later; the result takes the call back. */
  readonly later: (ms: number, call: () => void) => () => void;
  readonly newId: () => string;
  readonly now: () => number;
  readonly changed: (state: { readonly saving: Saving; readonly conflict: Conflict | null }) => void;
  /** Keeps what is not yet saved where a crash does not reach it; null when all is saved. */
  readonly keep: (unsaved: Unsaved | null) => void;
}

/** ms of rest before an edit is sent. */
const REST = 350;
/** ms between tries: the first, and the longest that they grow to. */
const AGAIN = { first: 1500, longest: 30_000 } as const;

/**
 * Keeps one document on the server: sends what is not yet acknowledged as one edit, again until it is answered; stops at a
 * conflict until somebody has chosen. Nothing is acknowledged that the server has not said. A value that the server refuses
 * is set aside until it is changed, and what else there is goes on.
 */
export class Saver {
  private present: Job;
  private acknowledged: Job;
  private label = 'edit';
  private inFlight: { readonly request: EditRequest; readonly target: Job } | null = null;
  /** Refused values by place: they are not sent again as they are. */
  private aside = new Map<string, { readonly value: string; readonly reason: string }>();
  private busy = false;
  private closed = false;
  private tries = 0;
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
    return this.inFlight !== null || !isEmptyDiff(diffDocuments(this.acknowledged, this.present));
  }

  /** The version that the server has acknowledged, and the edit that is on its way. */
  get stand(): { readonly version: number; readonly edit: string | null } {
    return { version: this.version, edit: this.inFlight?.request.edit ?? null };
  }

  /** The document is now this. */
  touch(job: Job, label: string): void {
    this.present = job;
    this.label = label;
    this.keep();
    if (this.saving.kind === 'saved') this.tell({ saving: { kind: 'saving' } });
    this.schedule(REST);
  }

  /** Goes on with what was kept in the browser; gives the document as it was then, or null when it does not fit. */
  resume(kept: Unsaved): Job | null {
    try {
      const present = applyDiff(this.acknowledged, kept.diff);
      if (kept.inFlight)
        this.inFlight = { request: kept.inFlight, target: applyDiff(this.acknowledged, kept.inFlight.diff) };
      this.present = present;
      this.label = kept.label;
    } catch {
      return null;
    }
    this.keep();
    this.tell({ saving: { kind: 'saving' } });
    this.schedule(0);
    return this.present;
  }

  /**
   * Takes another version that has come; true when it is now the document. It is not when it is no newer than what is
   * acknowledged (one's own edit, heard of before its answer), nor when something is unsaved: that must come to a conflict.
   */
  follow(job: Job, version: number): boolean {
    if (version <= this.version || this.unsaved || this.conflict) return false;
    this.acknowledged = job;
    this.present = job;
    this.version = version;
    this.tell({ saving: { kind: 'saved', at: this.ports.now() } });
    return true;
  }

  /** Goes on from the other version; the caller shows it. */
  takeTheirs(): Job | null {
    const { conflict } = this;
    if (!conflict) return null;
    this.goOnFrom(conflict);
    this.present = conflict.theirs;
    this.keep();
    this.tell({ conflict: null, saving: { kind: 'saved', at: this.ports.now() } });
    return conflict.theirs;
  }

  /** The present document is written over theirs, which stays in the history as the revision below; theirs is given back. */
  putMineOnTop(): Job | null {
    const { conflict } = this;
    if (!conflict) return null;
    this.goOnFrom(conflict);
    this.keep();
    this.tell({ conflict: null, saving: { kind: 'saving' } });
    this.schedule(0);
    return conflict.theirs;
  }

  /** Tries at once what is waiting: the network is back, or somebody has signed in. */
  hurry(): void {
    this.tries = 0;
    if (this.unsaved) this.schedule(0);
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

  private keep(): void {
    const diff = diffDocuments(this.acknowledged, this.present);
    const request = this.inFlight?.request ?? null;
    this.ports.keep(
      isEmptyDiff(diff) && !request ? null : { base: this.version, diff, inFlight: request, label: this.label },
    );
  }

  private tell(state: { saving?: Saving; conflict?: Conflict | null }): void {
    if (state.saving) this.saving = state.saving;
    if (state.conflict !== undefined) this.conflict = state.conflict;
    this.ports.changed({ saving: this.saving, conflict: this.conflict });
  }

  private schedule(ms: number): void {
    this.forget?.();
    if (this.closed) return;
    this.forget = this.ports.later(ms, () => void this.send());
  }

  /** What is to be sent: all that differs, less what was refused and is as it was. */
  private next(): { request: EditRequest; target: Job } | null {
    const all = diffDocuments(this.acknowledged, this.present);
    for (const [path, { value }] of this.aside) if (partOfDiff(all, path) !== value) this.aside.delete(path);
    let diff = all;
    for (const path of this.aside.keys()) diff = withoutPath(diff, path);
    if (isEmptyDiff(diff)) return null;
    const target = this.aside.size === 0 ? this.present : applyDiff(this.acknowledged, diff);
    return { request: { edit: this.ports.newId(), base: this.version, label: this.label, diff }, target };
  }

  private settled(): Saving {
    const first = this.aside.values().next();
    return first.done ? { kind: 'saved', at: this.ports.now() } : { kind: 'refused', reason: first.value.reason };
  }

  private async send(): Promise<void> {
    if (this.busy || this.closed || this.conflict) return;
    if (!this.inFlight) {
      this.inFlight = this.next();
      if (!this.inFlight) {
        this.keep();
        const now = this.settled();
        if (this.saving.kind !== 'saved' || now.kind !== 'saved') this.tell({ saving: now });
        return;
      }
      this.keep();
    }
    const { request, target } = this.inFlight;
    this.busy = true;
    if (this.saving.kind !== 'waiting') this.tell({ saving: { kind: 'saving' } });
    const answer = await this.ports
      .send(request)
      .catch((e: unknown): EditAnswer => ({ kind: 'lost', reason: e instanceof Error ? e.message : String(e) }));
    this.busy = false;
    if (!this.closed) this.answered(answer, request, target);
  }

  private answered(answer: EditAnswer, request: EditRequest, target: Job): void {
    switch (answer.kind) {
      case 'taken': {
        this.tries = 0;
        this.acknowledged = target;
        this.version = answer.version;
        this.inFlight = null;
        this.keep();
        // more may have been changed while this edit was on its way: then nothing is saved yet
        const more = this.next() !== null;
        this.tell({ saving: more ? { kind: 'saving' } : this.settled() });
        if (more) this.schedule(50);
        return;
      }
      case 'conflict': {
        this.tries = 0;
        this.inFlight = null;
        this.keep();
        const { version, theirs, updatedBy } = answer;
        this.tell({
          conflict: { version, theirs, updatedBy },
          saving: { kind: 'waiting', reason: 'changed elsewhere' },
        });
        return;
      }
      case 'refused': {
        this.tries = 0;
        this.inFlight = null;
        for (const { path, reason } of refusedPlaces(request.diff, answer))
          this.aside.set(path, { value: partOfDiff(request.diff, path) ?? '', reason });
        this.keep();
        this.tell({ saving: { kind: 'refused', reason: answer.reason } });
        // what else there is, or was changed meanwhile, goes on
        if (this.next() !== null) this.schedule(REST);
        return;
      }
      case 'signed-out':
        this.tell({ saving: { kind: 'signed-out' } });
        return;
      case 'lost': {
        this.tell({ saving: { kind: 'waiting', reason: answer.reason } });
        this.schedule(Math.min(AGAIN.longest, AGAIN.first * 2 ** Math.min(this.tries++, 10)));
        return;
      }
      default:
        answer satisfies never;
    }
  }
}

const without = <V>(entries: Readonly<Record<string, V>>, path: string): Record<string, V> =>
  Object.fromEntries(Object.entries(entries).filter(([k]) => k !== path));

const withoutPath = (diff: Diff, path: string): Diff => ({
  added: without(diff.added, path),
  updated: without(diff.updated, path),
  removed: without(diff.removed, path),
});
