/** A revision's number from an address; 0, which no revision has, when it is none. */
export const versionIn = (text: string): number => (/^\d{1,9}$/.test(text) ? Number(text) : 0);
