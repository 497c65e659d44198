'use client';
import { Maximize, Slice } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import * as THREE from 'three';
import { distanceToCurve } from '@/core/geometry';
import { allElements, buildPart, type Element, turnRegion } from '@/core/part';
import type { SolidMesh } from '@/solid/bring';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useFetched } from '../job/fetched';
import { useHeld } from '../job/holding';
import { useMoment } from '../job/playback';
import { useSelection } from '../job/selection';
import { cx, IconButton } from '../kit/controls';
import { token } from '../kit/tokens';
import { type Pick3, useMeasure } from '../measure/store';
import { useBuiltPart } from '../part/built';
import { useFeatures } from '../part/FeatureList';
import { usePart } from '../part/store';
import { lightCopy, meshGeometry, regionBoundary, turnedEdges, turnedGeometry, unfinishedOf } from './solids';
import { type Direction, Stage } from './stage';
import { type ShownThread, threadedGeometry, threadedMesh, threadsAt } from './threads';

const DIRECTIONS: readonly (readonly [Direction, string])[] = [
  ['corner', 'corner'],
  ['front', 'front'],
  ['side', 'side'],
  ['top', 'top'],
  ['back', 'back'],
];

/** In the Part phase the part stands alone at first. */
const phaseShowsStock = (): boolean => useSelection.getState().phase !== 'part';

const NONE: readonly ShownThread[] = [];

/** Threads as they are cut at the time cursor; in the Part phase all of them. The same list as long as nothing of them changes. */
const useThreads = (none: boolean): readonly ShownThread[] => {
  const job = useDocument((s) => s.job);
  const view = useDerived((s) => s.view);
  const phase = useSelection((s) => s.phase);
  const time = useSelection((s) => s.time);
  const fetched = useFetched();
  const last = useRef(NONE);
  return useMemo(() => {
    const now = none || !view ? NONE : threadsAt(job, view, phase === 'part' ? null : time, fetched);
    if (JSON.stringify(now) !== JSON.stringify(last.current)) last.current = now;
    return last.current;
  }, [none, job, view, phase, time, fetched]);
};

/** Faces of the mesh by triangle, for picks. */
const faceOfTriangle = (groups: readonly { start: number; count: number; face: number }[], triangle: number): number =>
  groups.find((g) => triangle * 3 >= g.start && triangle * 3 < g.start + g.count)?.face ?? -1;

/** The part and its stock in space, beside or in place of the section. */
export const Scene = () => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const stage = useRef<Stage | null>(null);
  const down = useRef<{ x: number; y: number } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [clipped, setClipped] = useState(false);
  const [stockShown, setStockShown] = useState(phaseShowsStock());
  const [turnedOnly, setTurnedOnly] = useState(false);
  const job = useDocument((s) => s.job);
  const phase = useSelection((s) => s.phase);
  const bringing = usePart((s) => s.bringing);
  const source = usePart((s) => s.source);
  const facePick = usePart((s) => s.facePick);
  const hovered = usePart((s) => s.hoveredFeature);
  const chosen = usePart((s) => s.feature);
  const square = usePart((s) => s.square);
  const features = useFeatures();
  const measuring = useMeasure((s) => s.on);
  const picks = useMeasure((s) => s.picks);
  const built = useBuiltPart();
  const hash = job.part.source?.hash ?? null;

  useEffect(() => {
    if (hash) void usePart.getState().loadSource();
  }, [hash]);

  useEffect(() => {
    if (!canvas.current) return;
    try {
      stage.current = new Stage(canvas.current);
    } catch {
      setFailed('This browser gives no 3D drawing (WebGL). The section shows everything that is needed to plan.');
      return;
    }
    const s = stage.current;
    (window as unknown as { livelyStage?: Stage }).livelyStage = s;
    const onFit = (): void => s.fit();
    window.addEventListener('lively:fit', onFit);
    const observer = new ResizeObserver(([e]) =>
      s.resize(Math.round(e.contentRect.width), Math.round(e.contentRect.height)),
    );
    if (holder.current) observer.observe(holder.current);
    return () => {
      window.removeEventListener('lively:fit', onFit);
      observer.disconnect();
      s.dispose();
      stage.current = null;
    };
  }, []);

  const mesh = bringing
    ? (bringing.brought?.mesh ?? null)
    : source && source.hash === hash && !turnedOnly
      ? source.brought.mesh
      : null;
  const broughtPart = bringing?.brought?.part ?? null;
  const part = useMemo(
    () => (bringing ? (broughtPart ? buildPart(broughtPart) : null) : built),
    [bringing, broughtPart, built],
  );
  const moment = useMoment();
  const held = useHeld();
  const drawn = useDerived((s) => s.view?.part);
  // the picture shows the part as it is drawn, however it is held
  const shownStock = useMemo(() => {
    const now = moment?.stock ?? held?.rawStock;
    return now && drawn && held?.turned ? turnRegion(drawn, now) : now;
  }, [moment?.stock, held, drawn]);
  const stock =
    stockShown && !bringing ? (phase === 'part' ? (held?.turned ? undefined : held?.rawStock) : shownStock) : undefined;

  const threads = useThreads(bringing !== null);

  useEffect(() => {
    if (square) stage.current?.lookSquare(square);
  }, [square]);

  useEffect(() => {
    const s = stage.current;
    if (!s) return;
    const metal = new THREE.MeshStandardMaterial({
      color: token('metal'),
      metalness: 0.25,
      roughness: 0.55,
      side: THREE.FrontSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    // what a section plane lays open shows its inside in the colour of cut metal
    const inside = new THREE.MeshBasicMaterial({ color: token('straw'), side: THREE.BackSide });
    const ink = new THREE.LineBasicMaterial({ color: token('ink') });
    const objects: THREE.Object3D[] = [];
    let solid: THREE.Mesh | null = null;
    if (mesh) {
      const g = meshGeometry(mesh);
      metal.flatShading = g.flat;
      const shape = (part && threadedMesh(mesh, part, threads)) ?? g.solid;
      solid = new THREE.Mesh(shape, metal);
      objects.push(solid, new THREE.Mesh(shape, inside), new THREE.LineSegments(g.edges, ink));
    } else if (part && part.boundary.length > 0) {
      const g = threadedGeometry(part, threads);
      solid = new THREE.Mesh(g.solid, metal);
      objects.push(solid, new THREE.Mesh(g.solid, inside), new THREE.LineSegments(g.edges, ink));
    }
    const coarse = solid && lightCopy(solid.geometry);
    s.show(
      objects,
      solid,
      coarse
        ? new THREE.Mesh(
            coarse,
            new THREE.MeshStandardMaterial({
              color: token('metal'),
              metalness: 0.25,
              roughness: 0.55,
              flatShading: true,
              side: THREE.DoubleSide,
            }),
          )
        : null,
    );
  }, [mesh, part, threads]);

  useEffect(() => {
    const s = stage.current;
    if (!s) return;
    const objects: THREE.Object3D[] = [];
    if (stock) {
      const straw = new THREE.MeshStandardMaterial({
        color: token('straw-solid'),
        transparent: true,
        opacity: 0.28,
        depthWrite: false,
        side: THREE.DoubleSide,
      });
      const thin = new THREE.LineBasicMaterial({ color: token('straw-edge') });
      for (const ring of regionBoundary(stock)) {
        const raw = unfinishedOf(ring, part?.boundary ?? []);
        if (raw.length > 0)
          objects.push(new THREE.Mesh(turnedGeometry(raw), straw), new THREE.LineSegments(turnedEdges(raw), thin));
      }
    }
    s.showStock(objects);
  }, [stock, part]);

  // what was just put in is cut open as well
  // biome-ignore lint/correctness/useExhaustiveDependencies: new objects need the plane too
  useEffect(() => stage.current?.clip(clipped), [clipped, mesh, part, stock, threads]);

  const lit = useMemo(() => {
    const ids = new Set([hovered, chosen].flatMap((id) => features.find((f) => f.id === id)?.elements ?? []));
    return part ? allElements(part).filter((e: Element) => ids.has(e.id)) : [];
  }, [hovered, chosen, features, part]);

  useEffect(() => {
    const s = stage.current;
    if (!s) return;
    const objects: THREE.Object3D[] = [];
    for (const e of bringing ? [] : lit) {
      const material = new THREE.MeshBasicMaterial({
        color: token('woad'),
        transparent: true,
        opacity: 0.45,
        side: THREE.DoubleSide,
        depthWrite: false,
        polygonOffset: true,
        polygonOffsetFactor: -2,
        polygonOffsetUnits: -2,
      });
      objects.push(new THREE.Mesh(turnedGeometry([e.curve]), material));
    }
    const places = picks.flatMap((p) => (p.space ? [p.space] : []));
    for (const p of places) {
      const ball = new THREE.Mesh(
        new THREE.SphereGeometry(4 * s.pixel(), 16, 12),
        new THREE.MeshBasicMaterial({ color: token('woad'), depthTest: false }),
      );
      ball.position.set(...p);
      ball.renderOrder = 5;
      objects.push(ball);
    }
    if (places.length === 2) {
      const g = new THREE.BufferGeometry().setFromPoints(places.map((p) => new THREE.Vector3(...p)));
      const l = new THREE.Line(g, new THREE.LineBasicMaterial({ color: token('woad'), depthTest: false }));
      l.renderOrder = 5;
      objects.push(l);
    }
    s.mark(objects);
  }, [lit, picks, bringing]);

  const click = (x: number, y: number): void => {
    const s = stage.current;
    const hit = s?.hit(x, y, clipped);
    if (!s || !hit) return;
    if (facePick && bringing && mesh) {
      const face = faceOfTriangle(mesh.groups, hit.triangle);
      if (face < 0) return;
      usePart.getState().wish((w) => ({
        ...w,
        step: {
          ...w.step,
          ...(facePick === 'axis' ? { axisFace: face, zeroFace: null, flip: false } : { zeroFace: face }),
        },
      }));
      return;
    }
    if (measuring) {
      useMeasure.getState().pick(snapInSpace(hit.point, mesh, 9 * s.pixel()));
      return;
    }
    // a click on metal chooses the element that made it
    const at = { x: hit.point.x, y: Math.hypot(hit.point.y, hit.point.z) };
    const found = !bringing ? nearestElement(allElements(built), at) : null;
    if (found) useSelection.getState().set({ element: found.id.split('/')[0] });
  };

  return (
    <div ref={holder} className="relative h-full w-full overflow-hidden bg-linen" data-testid="scene">
      <canvas
        ref={canvas}
        className={cx('block h-full w-full', (measuring || facePick) && 'cursor-crosshair')}
        aria-label={`${job.header.name} in three dimensions`}
        role="img"
        onPointerDown={(e) => {
          down.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerUp={(e) => {
          const d = down.current;
          if (!d || Math.hypot(e.clientX - d.x, e.clientY - d.y) > 4 || e.button !== 0) return;
          const b = e.currentTarget.getBoundingClientRect();
          click(e.clientX - b.left, e.clientY - b.top);
        }}
      />
      {failed && (
        <p className="absolute inset-0 flex items-center justify-center p-8 text-center text-soft">{failed}</p>
      )}
      <div className="absolute bottom-1.5 right-2 flex rounded border border-hair bg-paper">
        {DIRECTIONS.map(([d, word]) => (
          <button
            key={d}
            type="button"
            className="h-7 px-1.5 hover:bg-white"
            title={`Look at the ${word}`}
            onClick={() => stage.current?.look(d)}
          >
            {word}
          </button>
        ))}
        <IconButton label="Fit the view (0)" onClick={() => stage.current?.fit()}>
          <Maximize size={15} />
        </IconButton>
      </div>
      <div className="absolute left-2 top-1.5 flex flex-col rounded border border-hair bg-paper text-left">
        <button
          type="button"
          aria-pressed={clipped}
          className={cx('flex h-7 items-center gap-1 px-1.5 hover:bg-white', clipped && 'bg-woad-pale')}
          onClick={() => setClipped(!clipped)}
        >
          <Slice size={13} aria-hidden /> cut open
        </button>
        {!bringing && (
          <button
            type="button"
            aria-pressed={stockShown}
            className={cx('h-7 px-1.5 text-left hover:bg-white', stockShown && 'bg-woad-pale')}
            onClick={() => setStockShown(!stockShown)}
          >
            stock
          </button>
        )}
        {!bringing && source && source.hash === hash && (
          <button
            type="button"
            aria-pressed={!turnedOnly}
            className={cx('h-7 px-1.5 text-left hover:bg-white', !turnedOnly && 'bg-woad-pale')}
            onClick={() => setTurnedOnly(!turnedOnly)}
          >
            as brought in
          </button>
        )}
      </div>
    </div>
  );
};

const nearestElement = (elements: readonly Element[], p: { x: number; y: number }): Element | null => {
  let best: Element | null = null;
  let least = 0.2;
  for (const e of elements) {
    const d = distanceToCurve(e.curve, p);
    if (d < least) {
      least = d;
      best = e;
    }
  }
  return best;
};

/** The centre of a round edge near a picked place, else the nearest point of a drawn edge, else the place itself. */
const snapInSpace = (p: THREE.Vector3, mesh: SolidMesh | null, reach: number): Pick3 => {
  const edges = mesh?.edges ?? null;
  for (const c of mesh?.circles ?? []) {
    const d = [p.x - c.centre[0], p.y - c.centre[1], p.z - c.centre[2]];
    const along = d[0] * c.axis[0] + d[1] * c.axis[1] + d[2] * c.axis[2];
    const across = Math.hypot(d[0] - along * c.axis[0], d[1] - along * c.axis[1], d[2] - along * c.axis[2]);
    if (Math.hypot(along, across - c.radius) < reach)
      return {
        kind: 'centre',
        at: { x: c.centre[0], y: Math.hypot(c.centre[1], c.centre[2]) },
        element: null,
        radius: c.radius,
        direction: null,
        space: c.centre,
      };
  }
  let space: [number, number, number] = [p.x, p.y, p.z];
  let least = reach;
  let end = false;
  if (edges)
    for (let i = 0; i + 2 < edges.length; i += 3) {
      const d = Math.hypot(edges[i] - p.x, edges[i + 1] - p.y, edges[i + 2] - p.z);
      if (d < least) {
        least = d;
        space = [edges[i], edges[i + 1], edges[i + 2]];
        end = true;
      }
    }
  return {
    kind: end ? ('end' as const) : ('side' as const),
    at: { x: space[0], y: Math.hypot(space[1], space[2]) },
    element: null,
    radius: null,
    direction: null,
    space,
  };
};
