import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { acceleratedRaycast } from 'three-mesh-bvh';
import { type Plane, turnDirection } from '@/core/frames';
import type { Vec3 } from '@/core/geometry';
import { token } from '../kit/tokens';
import { makePickable } from './solids';

THREE.Mesh.prototype.raycast = acceleratedRaycast;

export type Direction = 'corner' | 'front' | 'back' | 'side' | 'top';

const DIRECTIONS: Record<Direction, readonly [number, number, number]> = {
  corner: [0.72, 0.42, 0.72],
  front: [1, 0, 0.0001],
  back: [-1, 0, 0.0001],
  side: [0, 0, 1],
  top: [0, 1, 0.0001],
};

export interface Hit {
  readonly point: THREE.Vector3;
  readonly triangle: number;
}

/** Puts other objects into a group and frees what the old ones held. */
const refill = (group: THREE.Group, objects: readonly THREE.Object3D[]): void => {
  for (const o of [...group.children]) {
    group.remove(o);
    o.traverse((k) => {
      if (k instanceof THREE.Mesh || k instanceof THREE.LineSegments || k instanceof THREE.Line) k.geometry.dispose();
    });
  }
  for (const o of objects) group.add(o);
};

/**
 * A 3D view drawn only when something changes: part, stock and marks with orbit, fit and a section plane through the axis.
 * X of the view is Z of the part, so the front looks to the right as in the section.
 */
export class Stage {
  readonly scene = new THREE.Scene();
  readonly part = new THREE.Group();
  readonly stock = new THREE.Group();
  readonly marks = new THREE.Group();
  private readonly camera = new THREE.OrthographicCamera(-1, 1, 1, -1, -5000, 5000);
  private readonly renderer: THREE.WebGLRenderer;
  private readonly controls: OrbitControls;
  private readonly plane = new THREE.Plane(new THREE.Vector3(0, 0, -1), 0);
  private pending = false;
  private box = new THREE.Box3();
  private width = 1;
  private height = 1;
  private solid: THREE.Mesh | null = null;
  private light: THREE.Mesh | null = null;
  private moving = false;
  /** Milliseconds between the last frames, newest last; for measuring. */
  readonly frames: number[] = [];
  private last = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: false });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setClearColor(token('linen'), 1);
    this.renderer.localClippingEnabled = true;
    this.scene.add(this.part, this.stock, this.marks);
    this.scene.add(new THREE.HemisphereLight('white', token('light-below'), 2.1));
    const key = new THREE.DirectionalLight('white', 1.5);
    key.position.set(0.6, 1, 0.9);
    this.camera.add(key);
    this.scene.add(this.camera);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.draw());
    this.controls.addEventListener('start', () => this.move(true));
    this.controls.addEventListener('end', () => this.move(false));
    this.look('corner');
  }

  /** While it is turned by hand a large mesh gives way to its light copy, but only where drawing it proves slow. */
  private move(on: boolean): void {
    this.moving = on;
    if (!on) this.swap(false);
  }

  private slow(): boolean {
    const recent = this.frames.slice(-3);
    return recent.length === 3 && recent.every((f) => f > 45);
  }

  private swap(toLight: boolean): void {
    if (!this.light || !this.solid) return;
    this.light.visible = toLight;
    this.solid.visible = !toLight;
    this.draw();
  }

  /** Draws at the next frame, once however often it is asked. */
  draw(): void {
    if (this.pending) return;
    this.pending = true;
    requestAnimationFrame((now) => {
      this.pending = false;
      if (this.last > 0 && now - this.last < 500) this.frames.push(now - this.last);
      if (this.frames.length > 240) this.frames.shift();
      this.last = now;
      if (this.moving && this.light && !this.light.visible && this.slow()) this.swap(true);
      this.renderer.render(this.scene, this.camera);
    });
  }

  resize(width: number, height: number): void {
    if (width < 2 || height < 2 || (width === this.width && height === this.height)) return;
    const first = this.width === 1;
    const zoom = (this.camera.right - this.camera.left) / this.width;
    const before = this.width;
    this.width = width;
    this.height = height;
    this.renderer.setSize(width, height, false);
    if (first || Math.abs(width - before) > 0.25 * before) this.fit();
    else this.frame(zoom * width);
  }

  private frame(across: number): void {
    const half = across / 2;
    const tall = (half * this.height) / this.width;
    Object.assign(this.camera, { left: -half, right: half, top: tall, bottom: -tall, zoom: 1 });
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** Shows everything, whatever way it is looked at. */
  fit(): void {
    if (this.box.isEmpty()) return;
    const centre = this.box.getCenter(new THREE.Vector3());
    const away = this.camera.position.clone().sub(this.controls.target).normalize();
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(away, 1000);
    this.camera.updateMatrixWorld();
    this.controls.update();
    const inverse = this.camera.matrixWorld.clone().invert();
    let [w, h] = [0, 0];
    for (let i = 0; i < 8; i++) {
      const p = new THREE.Vector3(
        i & 1 ? this.box.max.x : this.box.min.x,
        i & 2 ? this.box.max.y : this.box.min.y,
        i & 4 ? this.box.max.z : this.box.min.z,
      ).applyMatrix4(inverse);
      w = Math.max(w, Math.abs(p.x));
      h = Math.max(h, Math.abs(p.y));
    }
    this.frame(2.15 * Math.max(w, (h * this.width) / this.height));
  }

  look(from: Direction): void {
    const d = new THREE.Vector3(...DIRECTIONS[from]).normalize();
    this.camera.up.set(0, 1, 0);
    if (from === 'top') this.camera.up.set(0, 0, -1);
    this.camera.position.copy(this.controls.target).addScaledVector(d, 1000);
    this.controls.update();
    this.fit();
  }

  /** Looks square at a plane, its X to the right; what it is made of is given in the part's own directions. */
  lookSquare(plane: Plane): void {
    // X of the view is Z of the part
    const seen = ([x, y, z]: Vec3): THREE.Vector3 => new THREE.Vector3(z, x, y);
    this.camera.up.copy(seen(turnDirection(plane, [0, 1, 0])));
    this.controls.target.copy(seen(plane.move));
    this.camera.position.copy(this.controls.target).addScaledVector(seen(turnDirection(plane, [0, 0, 1])), 1000);
    this.controls.update();
    this.fit();
  }

  /** Replaces what is shown. `solid` answers to picks; `light` stands in for it while it is turned. */
  show(objects: readonly THREE.Object3D[], solid: THREE.Mesh | null, light: THREE.Mesh | null = null): void {
    refill(this.part, objects);
    this.solid = solid;
    this.light = light;
    if (light) {
      light.visible = false;
      this.part.add(light);
    }
    if (solid) {
      makePickable(solid.geometry);
      const box = new THREE.Box3().setFromObject(solid);
      const moved =
        this.box.isEmpty() ||
        box.min.distanceTo(this.box.min) + box.max.distanceTo(this.box.max) >
          1e-3 * box.getSize(new THREE.Vector3()).length();
      this.box = box;
      if (moved) this.fit();
    }
    this.draw();
  }

  /** Replaces the see-through stock; the part stays as it is. */
  showStock(objects: readonly THREE.Object3D[]): void {
    refill(this.stock, objects);
    this.draw();
  }

  /** Marks on top of the part: highlights and measured places. */
  mark(objects: readonly THREE.Object3D[]): void {
    refill(this.marks, objects);
    this.draw();
  }

  clip(on: boolean): void {
    for (const group of [this.part, this.stock])
      group.traverse((o) => {
        if (o instanceof THREE.Mesh || o instanceof THREE.LineSegments) {
          const material = o.material as THREE.Material;
          material.clippingPlanes = on ? [this.plane] : [];
          // the inside shows only where something is cut open
          if (material.side === THREE.BackSide) o.visible = on;
        }
      });
    this.draw();
  }

  /** First triangle of the solid under a place of the canvas (pixels). */
  hit(x: number, y: number, clipped: boolean): Hit | null {
    if (!this.solid) return null;
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / this.width) * 2 - 1, 1 - (y / this.height) * 2), this.camera);
    const hits = ray.intersectObject(this.solid, false);
    const found = hits.find((h) => !clipped || h.point.z <= 1e-6);
    return found && found.faceIndex != null ? { point: found.point, triangle: found.faceIndex } : null;
  }

  /** Millimetres of one pixel. */
  pixel(): number {
    return (this.camera.right - this.camera.left) / this.camera.zoom / this.width;
  }

  dispose(): void {
    this.show([], null);
    this.showStock([]);
    this.mark([]);
    this.controls.dispose();
    this.renderer.dispose();
  }
}
