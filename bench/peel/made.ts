/** Made scenes with exact alpha, one for each thing that makes carrying hard. Small programs, not footage: they only test. */
import { valueNoise } from '../../demo/noise.ts';
import { type Footage, HEIGHT, WIDTH } from './footage.ts';

type Colour = [number, number, number];

/** A photographic kind of texture that can be asked for at any whole place of a square that repeats. */
const SIDE = 1024;
function texture(seed: number, dark: Colour, bright: Colour): Float32Array {
  const out = new Float32Array(3 * SIDE * SIDE);
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const t = 0.55 * valueNoise(x / 60, y / 60, seed) + 0.3 * valueNoise(x / 17, y / 17, seed + 1) + 0.15 * valueNoise(x / 5, y / 5, seed + 2);
      for (let c = 0; c < 3; c++) out[3 * (y * SIDE + x) + c] = dark[c] + (bright[c] - dark[c]) * t;
    }
  return out;
}

const wrap = (v: number) => ((Math.floor(v) % SIDE) + SIDE) % SIDE;

interface Pose {
  x: number;
  y: number;
  turn: number;
}

interface Scene {
  name: string;
  ground: Float32Array;
  skin: Float32Array;
  pose(t: number): Pose;
  /** Alpha at a place of the subject's own, and how it bends over time. */
  shape(x: number, y: number, t: number): number;
  gain?(t: number): number;
  pan?(t: number): number;
  /** What stands before the subject: a pole from and to these columns. */
  pole?(t: number): [number, number];
  samples?: number;
}

const edge = (d: number) => Math.max(0, Math.min(1, 0.5 - d));
const blob = (x: number, y: number) => Math.hypot(x, y * 1.25) - 80 - 14 * Math.sin(3 * Math.atan2(y, x));
const capsule = (x: number, y: number, ax: number, ay: number, bx: number, by: number, r: number) => {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy) - r;
};

const GREY: [Colour, Colour] = [
  [60, 70, 84],
  [150, 160, 170],
];
const WARM: [Colour, Colour] = [
  [120, 62, 30],
  [226, 176, 110],
];
const drift = (t: number): Pose => ({ x: 300 + 5 * t, y: 270 + 20 * Math.sin(t / 9), turn: 0.012 * t });

function scenes(): Scene[] {
  const ground = texture(1, ...GREY);
  const skin = texture(9, ...WARM);
  const common = { ground, skin, pose: drift };
  const plain = (x: number, y: number) => edge(blob(x, y));
  return [
    { ...common, name: 'rigid', shape: plain },
    {
      ...common,
      name: 'limbs',
      shape(x, y, t) {
        const a = 0.8 * Math.sin(t / 6);
        const limb = (side: number) => capsule(x, y, 30 * side, 50, 30 * side + 90 * Math.sin(side * a), 50 + 90 * Math.cos(a), 12);
        return edge(Math.min(Math.hypot(x, y) - 62, limb(-1), limb(1)));
      },
    },
    { ...common, name: 'light change', shape: plain, gain: (t) => 1 + 0.25 * Math.sin(t / 7) },
    { ...common, name: 'motion blur', shape: plain, pose: (t) => ({ x: 480 + 260 * Math.sin(t / 8), y: 270, turn: 0 }), samples: 8 },
    { ...common, name: 'occlusion', shape: plain, pole: (t) => [250 + 14 * t, 310 + 14 * t] },
    { ...common, name: 'out of sight', shape: plain, pose: (t) => ({ x: 150 + 26 * t, y: 270 + 20 * Math.sin(t / 9), turn: 0 }), pole: () => [300, 600] },
    {
      ...common,
      name: 'hair',
      shape(x, y) {
        const r = Math.hypot(x, y);
        const strands = Math.max(0, Math.min(1, 4 * (valueNoise(60 + 26 * Math.atan2(y, x), r / 40, 5) - 0.45)));
        return Math.max(edge(r - 74), edge(r - 74 - 22) * strands * Math.max(0, Math.min(1, 1 - (r - 74) / 22)));
      },
    },
    { ...common, name: 'camouflage', shape: plain, skin: texture(1, [64, 74, 86], [156, 164, 172]) },
    { ...common, name: 'moving camera', shape: plain, pan: (t) => 7 * t },
  ];
}

const SHUTTER = 0.5;

function render(scene: Scene, t: number): { rgba: Buffer; alpha: Buffer } {
  const samples = scene.samples ?? 3;
  const alpha = new Float32Array(WIDTH * HEIGHT);
  const colour = new Float32Array(3 * WIDTH * HEIGHT);
  const sum = new Float32Array(WIDTH * HEIGHT);
  const pole = scene.pole?.(t);
  for (let s = 0; s < samples; s++) {
    const time = t + (SHUTTER * (s + 0.5)) / samples;
    const { x: cx, y: cy, turn } = scene.pose(time);
    const [c, n] = [Math.cos(turn), Math.sin(turn)];
    for (let y = Math.max(0, Math.floor(cy - 190)); y < Math.min(HEIGHT, cy + 190); y++)
      for (let x = Math.max(0, Math.floor(cx - 190)); x < Math.min(WIDTH, cx + 190); x++) {
        const [dx, dy] = [x + 0.5 - cx, y + 0.5 - cy];
        const [u, v] = [c * dx + n * dy, -n * dx + c * dy];
        const a = scene.shape(u, v, time);
        if (a === 0) continue;
        const i = y * WIDTH + x;
        const k = 3 * (wrap(v + 500) * SIDE + wrap(u + 500));
        alpha[i] += a / samples;
        sum[i] += a;
        for (let d = 0; d < 3; d++) colour[3 * i + d] += a * scene.skin[k + d];
      }
  }
  const rgba = Buffer.alloc(4 * WIDTH * HEIGHT);
  const bytes = Buffer.alloc(WIDTH * HEIGHT);
  const gain = scene.gain?.(t) ?? 1;
  const pan = Math.round(scene.pan?.(t) ?? 0);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const i = y * WIDTH + x;
      const behind = pole && x >= pole[0] && x < pole[1];
      const a = behind ? 0 : alpha[i];
      bytes[i] = Math.round(255 * a);
      const g = 3 * (wrap(y) * SIDE + wrap(x + pan));
      // Grain as film has it, the same for all channels.
      const grain = 5 * (valueNoise(x * 1.7, y * 1.7, 100 + t) - 0.5);
      for (let d = 0; d < 3; d++) {
        const ground = behind ? 40 + 20 * valueNoise(x / 9, y / 30, 77 + d) : scene.ground[g + d];
        rgba[4 * i + d] = Math.max(0, Math.min(255, gain * (a > 0 ? (a * colour[3 * i + d]) / sum[i] + (1 - a) * ground : ground) + grain));
      }
      rgba[4 * i + 3] = 255;
    }
  return { rgba, alpha: bytes };
}

/** Each made scene in turn, rendered when it is asked for. */
export function* madeFootage(count: number): Generator<{ name: string } & Footage> {
  for (const scene of scenes()) {
    const drawn = Array.from({ length: count }, (_, t) => render(scene, t));
    yield { name: scene.name, frames: drawn.map(({ rgba }) => ({ width: WIDTH, height: HEIGHT, data: rgba })), truth: drawn.map(({ alpha }) => alpha) };
  }
}
