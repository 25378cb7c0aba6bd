/**
 * Works out the demo's hand-made example from the scene itself: the outline of the lantern's body on key frames, and the
 * railings in front of it. `npm run demo:outline` writes demo/lantern-outline.json.
 */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import * as THREE from 'three';
import { lanternSwing } from './scenes/lantern-motion.ts';

const WIDTH = 960;
const HEIGHT = 540;
const HOOK = new THREE.Vector3(0, 2.05, -0.5);
const camera = new THREE.PerspectiveCamera(30, WIDTH / HEIGHT, 0.1, 40);
camera.position.set(0.15, 1.42, 3.5);
camera.lookAt(0.05, 1.36, -0.5);
camera.updateMatrixWorld();

const project = (p: THREE.Vector3) => {
  const q = p.clone().project(camera);
  return { x: ((q.x + 1) / 2) * WIDTH, y: ((1 - q.y) / 2) * HEIGHT };
};
const round = (v: number) => Math.round(v * 100) / 100;
const vertex = (x: number, y: number, dx = 0, dy = 0) => ({ x: round(x), y: round(y), inX: round(-dx), inY: round(-dy), outX: round(dx), outY: round(dy) });

interface ProfilePoint {
  /** Metres from the axis, and above the middle of the base. */
  r: number;
  y: number;
  smooth: boolean;
}
const p = (r: number, y: number, smooth = false): ProfilePoint => ({ r, y, smooth });

/** Right half from the base up; the side tubes stand out by their place as the lantern turns. */
const outer = (turn: number): ProfilePoint[] => {
  const tube = (x: number) => x * Math.cos(turn) + 0.017;
  return [
    p(0.158, -0.06),
    p(0.152, 0.0),
    p(tube(0.195), 0.08, true),
    p(tube(0.205), 0.2, true),
    p(tube(0.195), 0.32, true),
    p(tube(0.1), 0.425),
    p(0.084, 0.43),
    p(0.058, 0.5, true),
    p(0, 0.55, true),
  ];
};
/** The gap between the globe and a side tube. */
const gap = (turn: number): ProfilePoint[] => {
  const tube = (x: number) => x * Math.cos(turn) - 0.017;
  return [
    p(0.135, 0.1),
    p(0.127, 0.21, true),
    p(0.115, 0.3),
    p(0.12, 0.345),
    p(Math.max(0.122, tube(0.18)), 0.33),
    p(Math.max(0.13, tube(0.205)), 0.2, true),
    p(Math.max(0.137, tube(0.19)), 0.1),
  ];
};

function outlineAt(frame: number, ring: (turn: number) => ProfilePoint[]) {
  const { swing, sway, turn } = lanternSwing(frame + 0.25);
  const place = new THREE.Matrix4().compose(HOOK, new THREE.Quaternion().setFromEuler(new THREE.Euler(sway, 0, swing)), new THREE.Vector3(1, 1, 1));
  const points = ring(turn).map(({ r, y, smooth }) => ({ ...project(new THREE.Vector3(r, y - 0.78, 0).applyMatrix4(place)), smooth }));
  return points.map((point, i) => {
    if (!point.smooth) return vertex(point.x, point.y);
    const before = points[(i + points.length - 1) % points.length];
    const after = points[(i + 1) % points.length];
    return vertex(point.x, point.y, (after.x - before.x) / 6, (after.y - before.y) / 6);
  });
}

const mirrored = (side: ProfilePoint[]): ProfilePoint[] => side.map((q) => ({ ...q, r: -q.r }));
const body = (turn: number) => [...outer(turn), ...mirrored(outer(turn).slice(0, -1)).reverse()];
const rightGap = (turn: number) => gap(turn);
const leftGap = (turn: number) => mirrored(gap(turn));

const quad = (a: THREE.Vector3, b: THREE.Vector3, half: number, across: boolean) => {
  const side = across ? new THREE.Vector3(0, half, 0) : new THREE.Vector3(half, 0, 0);
  return [a.clone().sub(side), a.clone().add(side), b.clone().add(side), b.clone().sub(side)].map(project).map(({ x, y }) => vertex(x, y));
};
const railings = [-2, -1, 0, 1, 2].map((i) => quad(new THREE.Vector3(i * 0.36 + 0.1, 0.6, 0.27), new THREE.Vector3(i * 0.36 + 0.1, 1.53, 0.27), 0.0215, false));
railings.push(quad(new THREE.Vector3(-2, 1.55, 0.2675), new THREE.Vector3(2, 1.55, 0.2675), 0.026, true));

/** The wire handle as a thin closed band. */
const BAIL: [number, number][] = [
  [0.19, 0.3],
  [0.18, 0.45],
  [0.155, 0.6],
  [0.09, 0.73],
  [0, 0.785],
];
const bail = (turn: number): ProfilePoint[] => {
  const side = (grow: number) => BAIL.map(([r, y]) => p(r === 0 ? 0 : r * Math.cos(turn) + grow, y + (r < 0.15 ? grow : 0), true));
  const arch = (grow: number) => [...side(grow), ...mirrored(side(grow).slice(0, -1)).reverse()];
  return [...arch(0.012), ...arch(-0.012).reverse()];
};

const finials = [-2, -1, 0, 1, 2].map((i) => {
  const x = i * 0.36 + 0.1;
  const points: [number, number][] = [
    [0, 1.605],
    [0.034, 1.64],
    [0.03, 1.68],
    [0, 1.78],
    [-0.03, 1.68],
    [-0.034, 1.64],
  ];
  return points.map(([dx, y]) => project(new THREE.Vector3(x + dx, y, 0.25))).map(({ x: px, y: py }) => vertex(px, py));
});

const frames = [...new Set(Array.from({ length: 19 }, (_, i) => Math.min(71, i * 4)))];
const keyed = (ring: (turn: number) => ProfilePoint[]) => frames.map((frame) => ({ frame, shape: outlineAt(frame, ring) }));
const paths = [body, rightGap, leftGap].map(keyed);
const handle = keyed(bail);
writeFileSync(path.join(import.meta.dirname, 'lantern-outline.json'), `${JSON.stringify({ paths, handle, railings, finials })}\n`);
