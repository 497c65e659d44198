/** Value of a colour token of globals.css, for what draws without CSS (the 3D picture). */
export const token = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim();
