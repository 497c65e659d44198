/** Reads and writes a value by a dotted path inside a document; the written value is mutated. */
export const readPath = (value: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((v, k) => (v as Record<string, unknown> | undefined)?.[k], value);
export const writePath = (value: unknown, path: string, to: unknown): void => {
  const keys = path.split('.');
  const last = keys.pop() as string;
  const parent = keys.reduce<unknown>((v, k) => (v as Record<string, unknown>)[k], value) as Record<string, unknown>;
  parent[last] = to;
};
