'use client';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { newId } from '../kit/ids';
import type { Unsaved } from './saver';

/** Unsaved changes of one tab at one job, as the browser keeps them through reload and crash. */
export interface KeptRecord extends Unsaved {
  readonly key: string;
  readonly tab: string;
  readonly job: string;
  /** What the job is called. */
  readonly title: string;
  readonly person: string;
  readonly name: string;
  readonly at: number;
}

interface Store extends DBSchema {
  unsaved: { key: string; value: KeptRecord; indexes: { job: string } };
}

let opened: Promise<IDBPDatabase<Store> | null> | null = null;

/** Null where the browser keeps nothing (a private window that forbids it). */
const store = (): Promise<IDBPDatabase<Store> | null> =>
  (opened ??= openDB<Store>('lively-spindle', 1, {
    upgrade: (db) => {
      db.createObjectStore('unsaved', { keyPath: 'key' }).createIndex('job', 'job');
    },
  }).catch(() => null));

let usable = true;
/** Whether unsaved changes outlive the window. */
export const keepsUnsaved = (): boolean => usable;

/** This tab's name, and the one that it had before it was loaded again. */
let names: { readonly tab: string; readonly before: string | null } | null = null;
const tabs = (): { readonly tab: string; readonly before: string | null } => {
  if (names) return names;
  const before = window.sessionStorage.getItem('lively.tab');
  names = { tab: newId(), before };
  window.sessionStorage.setItem('lively.tab', names.tab);
  // held as long as this window lives, so that others can tell
  void navigator.locks?.request(`lively.tab.${names.tab}`, () => new Promise(() => undefined)).catch(() => undefined);
  return names;
};
export const thisTab = (): string => tabs().tab;

/** One write after another: what was kept last is what is found. */
let writing: Promise<unknown> = Promise.resolve();
const write = (work: (db: IDBPDatabase<Store>) => Promise<unknown>): Promise<void> => {
  const next = writing.then(async () => {
    const db = await store();
    if (!db) usable = false;
    else
      await work(db).catch(() => {
        usable = false;
      });
  });
  writing = next;
  return next;
};

/** Resolves when all that was to be kept or dropped is. */
export const keptWritten = async (): Promise<void> => {
  await writing;
};

export const putKept = (record: Omit<KeptRecord, 'key' | 'tab'>): void => {
  const { tab } = tabs();
  void write((db) => db.put('unsaved', { ...record, tab, key: `${tab}:${record.job}` }));
};

export const dropKept = (job: string): void => {
  const { tab } = tabs();
  void write((db) => db.delete('unsaved', `${tab}:${job}`));
};

export const dropRecord = (record: KeptRecord): Promise<void> => write((db) => db.delete('unsaved', record.key));

/** Tabs that live, by the locks that they hold; null where the browser does not tell. */
const livingTabs = async (): Promise<ReadonlySet<string> | null> => {
  if (!navigator.locks) return null;
  const { held = [] } = await navigator.locks.query();
  return new Set(held.flatMap((l) => (l.name?.startsWith('lively.tab.') ? [l.name.slice('lively.tab.'.length)] : [])));
};

/** ms after which a record of a tab that cannot be asked counts as left behind. */
const LEFT = 20_000;

const isLeft = (r: KeptRecord, living: ReadonlySet<string> | null, asked: number): boolean => {
  const { tab, before } = tabs();
  // what this window has changed since it asked is not left behind but being worked on
  if (r.tab === tab) return r.at < asked;
  if (living) return !living.has(r.tab);
  return r.tab === before || Date.now() - r.at > LEFT;
};

/** Unsaved changes that no other living window is busy with, of one job or of all; the newest first. */
export const leftBehind = async (job?: string): Promise<KeptRecord[]> => {
  const asked = Date.now();
  await writing;
  const db = await store();
  if (!db) return [];
  const [records, living] = await Promise.all([
    job === undefined ? db.getAll('unsaved') : db.getAllFromIndex('unsaved', 'job', job),
    livingTabs(),
  ]);
  return records.filter((r) => isLeft(r, living, asked)).sort((a, b) => b.at - a.at);
};
