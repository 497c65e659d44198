import { useCallback, useEffect, useRef, useState } from 'react';

export interface View {
  /** Pixels for a millimetre. */
  readonly k: number;
  /** Screen place of the origin. */
  readonly ox: number;
  readonly oy: number;
  /** −1 where Z runs to the left: work in a spindle that faces the main one, its chuck at the right. */
  readonly s: 1 | -1;
}

export interface Box {
  readonly minX: number;
  readonly maxX: number;
  readonly maxY: number;
}

export const toScreen = (v: View, x: number, y: number): { x: number; y: number } => ({
  x: v.ox + v.s * x * v.k,
  y: v.oy - y * v.k,
});
export const toWorld = (v: View, x: number, y: number): { x: number; y: number } => ({
  x: (v.s * (x - v.ox)) / v.k,
  y: (v.oy - y) / v.k,
});

/** View that shows a box with the axis across the middle. */
export const fitView = (box: Box, width: number, height: number, s: 1 | -1): View => {
  const w = Math.max(1, box.maxX - box.minX);
  const k = Math.min((width - 90) / w, (height - 110) / (2 * Math.max(1, box.maxY)));
  return { k, s, ox: width / 2 - s * ((box.minX + box.maxX) / 2) * k, oy: height / 2 };
};

export const useSize = (): [React.RefObject<HTMLDivElement | null>, { width: number; height: number }] => {
  const ref = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, size];
};

/** Zoom at the pointer by wheel, pan by dragging the ground, fit on demand. */
export const useView = (box: Box, size: { width: number; height: number }, fitKey: string, s: 1 | -1) => {
  const [view, setView] = useState<View | null>(null);
  const last = useRef('');
  useEffect(() => {
    if (size.width < 10) return;
    const key = `${fitKey}|${Math.round(size.width / 8)}|${Math.round(size.height / 8)}`;
    if (key === last.current) return;
    last.current = key;
    setView(fitView(box, size.width, size.height, s));
  }, [box, size, fitKey, s]);
  const fit = useCallback(() => setView(fitView(box, size.width, size.height, s)), [box, size, s]);
  const zoom = useCallback((x: number, y: number, factor: number) => {
    setView((v) => {
      if (!v) return v;
      const k = Math.max(0.2, Math.min(400, v.k * factor));
      const f = k / v.k;
      return { ...v, k, ox: x - (x - v.ox) * f, oy: y - (y - v.oy) * f };
    });
  }, []);
  const pan = useCallback(
    (dx: number, dy: number) => setView((v) => (v ? { ...v, ox: v.ox + dx, oy: v.oy + dy } : v)),
    [],
  );
  return { view, fit, zoom, pan };
};
