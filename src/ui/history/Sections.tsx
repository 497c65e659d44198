'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  mapRegion,
  pathOfRegion,
  type Region,
  rectangle,
  regionBounds,
  simplifyRegion,
  unionRegions,
} from '@/core/geometry';
import { buildPart } from '@/core/part';
import type { Job } from '@/core/plan';

interface Picture {
  readonly path: string;
  readonly box: readonly [number, number, number, number];
}

/** Pictures by job and revision: a revision never changes. */
const kept = new Map<string, Promise<Picture | null>>();
const pictureOf = (job: string, version: number): Promise<Picture | null> => {
  const key = `${job}/${version}`;
  const known = kept.get(key);
  if (known) return known;
  const asked = fetch(`/api/jobs/${job}/revisions/${version}/section`)
    .then((r) => (r.ok ? (r.json() as Promise<Picture>) : null))
    .catch(() => null);
  kept.set(key, asked);
  return asked;
};

/** A revision's section, fetched when it comes into view. */
export const SectionThumb = ({ job, version }: { job: string; version: number }) => {
  const frame = useRef<HTMLSpanElement>(null);
  const [picture, setPicture] = useState<Picture | null>(null);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new IntersectionObserver((seen) => {
      if (!seen.some((s) => s.isIntersecting)) return;
      observer.disconnect();
      void pictureOf(job, version).then(setPicture);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [job, version]);
  return (
    <span ref={frame} className="block h-[60px] w-[104px] shrink-0 rounded border border-hair bg-paper">
      {picture && <SectionPicture picture={picture} label={`Section at revision ${version}`} />}
    </span>
  );
};

const Axis = ({ from, to }: { from: number; to: number }) => (
  <line
    x1={from}
    x2={to}
    y1={0}
    y2={0}
    stroke="var(--color-soft)"
    strokeWidth={0.8}
    strokeDasharray="8 2 2 2"
    vectorEffect="non-scaling-stroke"
  />
);

/** A section as the lists draw it: hatchless, to scale, with its axis. */
export const SectionPicture = ({ picture, label }: { picture: Picture; label: string }) => {
  const [x, y, w, h] = picture.box;
  const pad = Math.max(w, h) * 0.06;
  return (
    <svg
      width="100%"
      height="100%"
      viewBox={`${x - pad} ${-(y + h) - pad} ${w + 2 * pad} ${h + 2 * pad}`}
      role="img"
      aria-label={label}
    >
      <g transform="scale(1 -1)">
        <path
          d={picture.path}
          fill="var(--color-straw)"
          stroke="var(--color-ink)"
          strokeWidth={1.3}
          vectorEffect="non-scaling-stroke"
        />
        <Axis from={x - pad} to={x + w + pad} />
      </g>
    </svg>
  );
};

const whole = (region: Region): Region =>
  region.length === 0
    ? []
    : unionRegions(
        region,
        mapRegion(region, (p) => ({ x: p.x, y: -p.y }), true),
      );

/** The part and its bar at two revisions, one over the other: earlier in walnut, later in woad. */
export const Overlaid = ({ before, after }: { before: Job; after: Job }) => {
  const drawn = useMemo(() => {
    const part = (j: Job): Region => whole(buildPart(j.part, j.units).region);
    const bar = (j: Job): Region => {
      const region = buildPart(j.part, j.units).region;
      const { stock } = j.holdings[j.holdingOrder[0]];
      if (region.length === 0 || stock.form !== 'bar') return [];
      const p = regionBounds(region);
      // of the bar only what lies beside the part: the rest is in the chuck
      return rectangle(p.minX - 6, -stock.diameter / 2, p.maxX + stock.frontAllowance, stock.diameter / 2);
    };
    const [a, b, barA, barB] = [part(before), part(after), bar(before), bar(after)];
    const all = [a, b, barA, barB].filter((k) => k.length > 0).map((k) => regionBounds(k));
    const box = all.reduce(
      (s, k) => ({
        minX: Math.min(s.minX, k.minX),
        maxX: Math.max(s.maxX, k.maxX),
        minY: Math.min(s.minY, k.minY),
        maxY: Math.max(s.maxY, k.maxY),
      }),
      { minX: 0, maxX: 1, minY: -1, maxY: 1 },
    );
    const path = (r: Region): string => (r.length === 0 ? '' : pathOfRegion(simplifyRegion(r, 0.01), { digits: 3 }));
    return { a: path(a), b: path(b), barA: path(barA), barB: path(barB), box, same: path(a) === path(b) };
  }, [before, after]);
  const { box } = drawn;
  const pad = Math.max(box.maxX - box.minX, box.maxY - box.minY) * 0.05;
  const line = { fill: 'none', vectorEffect: 'non-scaling-stroke' } as const;
  return (
    <figure className="mb-3">
      <svg
        className="h-64 w-full rounded border border-hair bg-paper"
        viewBox={`${box.minX - pad} ${-box.maxY - pad} ${box.maxX - box.minX + 2 * pad} ${box.maxY - box.minY + 2 * pad}`}
        role="img"
        aria-label="Both sections over each other"
        data-testid="overlaid"
      >
        <g transform="scale(1 -1)">
          <path d={drawn.b} fill="var(--color-straw-pale)" stroke="none" />
          <path d={drawn.barA} stroke="var(--color-walnut)" strokeWidth={0.8} strokeDasharray="3 3" {...line} />
          <path d={drawn.barB} stroke="var(--color-woad)" strokeWidth={0.8} strokeDasharray="1 3" {...line} />
          <path d={drawn.a} stroke="var(--color-walnut)" strokeWidth={2.2} strokeDasharray="7 3" {...line} />
          <path d={drawn.b} stroke="var(--color-woad)" strokeWidth={1.5} {...line} />
          <Axis from={box.minX - pad} to={box.maxX + pad} />
        </g>
      </svg>
      <figcaption className="mt-1 flex gap-4 text-soft">
        <span>
          <span className="text-walnut">╌╌</span> earlier
        </span>
        <span>
          <span className="text-woad">──</span> later
        </span>
        <span>dotted: the bar</span>
        {drawn.same && <span>the part is the same in both</span>}
      </figcaption>
    </figure>
  );
};
