/** How the name of an operation stands in its block: on one line, on several, or upright in columns; letters in px. */
export interface NameSet {
  readonly way: 'line' | 'lines' | 'upright';
  readonly letters: number;
  /** From one line or column to the next, px. */
  readonly pitch: number;
  readonly lines: readonly string[];
  /** Whether all of it is seen. */
  readonly whole: boolean;
}

/** Width of a text at a size of letters, px. */
export type Measure = (text: string, letters: number) => number;

/** Room beside the name in its block, and above it the line with the tool, px. */
const BESIDE = 14;
const TOOL_LINE = 16;
/** Sizes that a name is tried at, with the pitch of their lines, px. */
const SIZES = [
  [12, 13],
  [11, 12],
  [10, 11],
] as const;
/** Upright letters, and room beside their columns, px. */
const UPRIGHT = [
  [11, 12],
  [10, 11],
  [9, 10],
] as const;
const UPRIGHT_BESIDE = 4;

/** Words on as few lines as they need; null where a word is longer than a line. */
const broken = (name: string, width: number, letters: number, measure: Measure): string[] | null => {
  const lines: string[] = [];
  for (const word of name.split(/\s+/)) {
    if (measure(word, letters) > width) return null;
    const last = lines.at(-1);
    const longer = last === undefined ? word : `${last} ${word}`;
    if (last !== undefined && measure(longer, letters) <= width) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
};

/** The greatest letters at which a name is whole in its block, across before upright; where it is whole at none, the smallest. */
export const setName = (name: string, width: number, height: number, measure: Measure): NameSet => {
  const room = width - BESIDE;
  const tall = height - TOOL_LINE;
  for (const [letters, pitch] of SIZES) {
    if (measure(name, letters) <= room) return { way: 'line', letters, pitch: 16, lines: [name], whole: true };
    const lines = broken(name, room, letters, measure);
    if (lines && lines.length * pitch <= tall) return { way: 'lines', letters, pitch, lines, whole: true };
  }
  const columns = (pitch: number): number => Math.max(1, Math.floor((width - UPRIGHT_BESIDE) / pitch));
  for (const [letters, pitch] of UPRIGHT) {
    const lines = broken(name, height - 6, letters, measure);
    if (lines && lines.length <= columns(pitch)) return { way: 'upright', letters, pitch, lines, whole: true };
  }
  const [letters, pitch] = UPRIGHT[UPRIGHT.length - 1];
  return { way: 'upright', letters, pitch, lines: [name], whole: false };
};

const known = new Map<string, number>();
let pen: CanvasRenderingContext2D | null = null;

/** Width of a text as the page sets it. */
export const measured: Measure = (text, letters) => {
  const key = `${letters} ${text}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  pen ??= document.createElement('canvas').getContext('2d');
  if (!pen) return text.length * letters * 0.6;
  pen.font = `${letters}px ${getComputedStyle(document.body).fontFamily}`;
  const { width } = pen.measureText(text);
  // before the page's own letters are there widths are those of others
  if (document.fonts.status === 'loaded') known.set(key, width);
  return width;
};
