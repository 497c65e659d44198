import { z } from 'zod';
import { number } from '../units';

export const MaterialSchema = z.object({
  id: z.string().max(80),
  name: z.string().max(120),
  /** ISO 513 group. */
  group: z.enum(['P', 'M', 'K', 'N', 'S', 'H']),
  kc11: number(1, 20_000, 'N/mm²'),
  mc: number(0, 1),
  /** g/cm³. */
  density: number(0.01, 30, 'g/cm³'),
});
export type Material = z.infer<typeof MaterialSchema>;

export type Purpose = 'rough' | 'finish' | 'groove' | 'cutoff' | 'drill' | 'ream' | 'tap' | 'thread';

export interface CuttingData {
  /** m/min. */
  readonly surfaceSpeed: number;
  /** mm/rev; for drills the share of the diameter. */
  readonly feed: number;
  /** mm per side, where it applies. */
  readonly depth?: number;
}

/** Starting values for coated carbide (vc m/min; f mm/rev, drills f/⌀; ap mm), by ISO 513 group. */
const TABLE: Record<Purpose, Record<Material['group'], CuttingData>> = {
  rough: {
    P: { surfaceSpeed: 200, feed: 0.3, depth: 3 },
    M: { surfaceSpeed: 140, feed: 0.25, depth: 2.5 },
    K: { surfaceSpeed: 190, feed: 0.35, depth: 3 },
    N: { surfaceSpeed: 500, feed: 0.3, depth: 3 },
    S: { surfaceSpeed: 55, feed: 0.2, depth: 1.5 },
    H: { surfaceSpeed: 140, feed: 0.1, depth: 0.15 },
  },
  finish: {
    P: { surfaceSpeed: 260, feed: 0.12, depth: 0.5 },
    M: { surfaceSpeed: 180, feed: 0.12, depth: 0.5 },
    K: { surfaceSpeed: 250, feed: 0.15, depth: 0.5 },
    N: { surfaceSpeed: 700, feed: 0.12, depth: 0.5 },
    S: { surfaceSpeed: 70, feed: 0.12, depth: 0.4 },
    H: { surfaceSpeed: 140, feed: 0.1, depth: 0.15 },
  },
  groove: {
    P: { surfaceSpeed: 140, feed: 0.1 },
    M: { surfaceSpeed: 95, feed: 0.08 },
    K: { surfaceSpeed: 130, feed: 0.12 },
    N: { surfaceSpeed: 300, feed: 0.12 },
    S: { surfaceSpeed: 40, feed: 0.06 },
    H: { surfaceSpeed: 110, feed: 0.04 },
  },
  ream: {
    P: { surfaceSpeed: 20, feed: 0.02 },
    M: { surfaceSpeed: 10, feed: 0.015 },
    K: { surfaceSpeed: 20, feed: 0.022 },
    N: { surfaceSpeed: 40, feed: 0.025 },
    S: { surfaceSpeed: 8, feed: 0.01 },
    H: { surfaceSpeed: 5, feed: 0.008 },
  },
  tap: {
    P: { surfaceSpeed: 15, feed: 0.1 },
    M: { surfaceSpeed: 8, feed: 0.1 },
    K: { surfaceSpeed: 12, feed: 0.1 },
    N: { surfaceSpeed: 25, feed: 0.1 },
    S: { surfaceSpeed: 5, feed: 0.1 },
    H: { surfaceSpeed: 4, feed: 0.1 },
  },
  // the feed of a thread is its lead
  thread: {
    P: { surfaceSpeed: 130, feed: 1 },
    M: { surfaceSpeed: 90, feed: 1 },
    K: { surfaceSpeed: 110, feed: 1 },
    N: { surfaceSpeed: 250, feed: 1 },
    S: { surfaceSpeed: 35, feed: 1 },
    H: { surfaceSpeed: 60, feed: 1 },
  },
  cutoff: {
    P: { surfaceSpeed: 120, feed: 0.1 },
    M: { surfaceSpeed: 80, feed: 0.07 },
    K: { surfaceSpeed: 110, feed: 0.1 },
    N: { surfaceSpeed: 250, feed: 0.1 },
    S: { surfaceSpeed: 35, feed: 0.05 },
    H: { surfaceSpeed: 110, feed: 0.04 },
  },
  drill: {
    P: { surfaceSpeed: 90, feed: 0.017 },
    M: { surfaceSpeed: 55, feed: 0.011 },
    K: { surfaceSpeed: 90, feed: 0.02 },
    N: { surfaceSpeed: 180, feed: 0.025 },
    S: { surfaceSpeed: 35, feed: 0.008 },
    H: { surfaceSpeed: 35, feed: 0.005 },
  },
};

export const startingData = (material: Pick<Material, 'group'>, purpose: Purpose): CuttingData =>
  TABLE[purpose][material.group];

/** Feed of a blade at the most, as a share of its width: more breaks it, or bends it off its plane. */
export const BLADE_FEED = 0.08;

/** Feed of a nose at the most, as a share of its radius: above it the surface is a thread (machining.md, roughness). */
export const NOSE_FEED = 0.8;
