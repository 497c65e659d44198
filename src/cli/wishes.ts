import { PLAIN_WISHES, type Wishes } from '../solid/wishes';
import { InputError } from './io';

export interface ImportOptions {
  readonly solid: string;
  readonly section: string;
  readonly angle: string;
  readonly axisFace?: string;
  readonly turn: string;
  readonly flip?: boolean;
  readonly scale: string;
  readonly unit?: string;
  readonly layers?: string;
  readonly gap?: string;
  readonly tolerance?: string;
  readonly json?: boolean;
}

export const amount = (option: string, text: string): number => {
  const v = Number(text);
  if (!Number.isFinite(v)) throw new InputError(`--${option} is “${text}”, which is no number. Give a plain number.`);
  return v;
};
const oneOf = <T extends string>(option: string, text: string, choices: readonly T[]): T => {
  const found = choices.find((c) => c === text);
  if (!found) throw new InputError(`--${option} is “${text}”. Choose ${choices.join(', ')}.`);
  return found;
};

export const wishesOf = (o: ImportOptions): Wishes => ({
  step: {
    ...PLAIN_WISHES.step,
    solid: amount('solid', o.solid) - 1,
    section: oneOf('section', o.section, ['silhouette', 'cut']),
    angle: amount('angle', o.angle),
    axisFace: o.axisFace === undefined ? null : amount('axis-face', o.axisFace) - 1,
    flip: Boolean(o.flip),
    turn: amount('turn', o.turn),
    scale: amount('scale', o.scale),
  },
  stl: {
    ...PLAIN_WISHES.stl,
    ...(o.unit ? { unit: oneOf('unit', o.unit, ['mm', 'inch']) } : {}),
    flip: Boolean(o.flip),
    ...(o.tolerance ? { tolerance: amount('tolerance', o.tolerance) } : {}),
  },
  dxf: {
    ...PLAIN_WISHES.dxf,
    ...(o.unit ? { unit: oneOf('unit', o.unit, ['mm', 'inch']) } : {}),
    ...(o.layers ? { layers: o.layers.split(',') } : {}),
    ...(o.gap ? { gap: amount('gap', o.gap) } : {}),
  },
});
