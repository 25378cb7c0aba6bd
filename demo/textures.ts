/** Procedural surfaces of the demo film, painted into canvases: paving, brick, planks, rust, cloth, water. */
import * as THREE from 'three';
import { fractalNoise, hash2 } from './noise.ts';

type Texel = { r: number; g: number; b: number; height: number; rough: number };
type Surface = (u: number, v: number) => Texel;

function paint(size: number, surface: Surface): { map: THREE.Texture; bump: THREE.Texture; rough: THREE.Texture } {
  const layers = [0, 1, 2].map(() => {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = size;
    const context = canvas.getContext('2d') as CanvasRenderingContext2D;
    return { canvas, context, image: context.createImageData(size, size) };
  });
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const t = surface(x / size, y / size);
      const i = (y * size + x) * 4;
      const rows = [
        [t.r, t.g, t.b],
        [t.height, t.height, t.height],
        [1, t.rough, 0],
      ];
      for (let k = 0; k < 3; k++) {
        for (let c = 0; c < 3; c++) layers[k].image.data[i + c] = Math.max(0, Math.min(1, rows[k][c])) * 255;
        layers[k].image.data[i + 3] = 255;
      }
    }
  }
  const [map, bump, rough] = layers.map(({ canvas, context, image }) => {
    context.putImageData(image, 0, 0);
    const texture = new THREE.CanvasTexture(canvas);
    texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
    texture.anisotropy = 8;
    return texture;
  });
  map.colorSpace = THREE.SRGBColorSpace;
  return { map, bump, rough };
}

/** A standard material from a painted surface, repeated `repeat` times across the mesh. */
export function surfaceMaterial(surface: Surface, repeat: [number, number], bumpScale = 1, size = 512): THREE.MeshStandardMaterial {
  const { map, bump, rough } = paint(size, surface);
  for (const t of [map, bump, rough]) t.repeat.set(...repeat);
  return new THREE.MeshStandardMaterial({ map, bumpMap: bump, bumpScale, roughnessMap: rough, metalness: 0 });
}

/** Blocks laid in courses: paving slabs or bricks, with worn edges, stains and joints. */
export function blocks(columns: number, rows: number, tone: [number, number, number], joint: number, seed: number): Surface {
  return (u, v) => {
    const row = Math.floor(v * rows);
    const shift = (row % 2) * 0.5;
    const cx = u * columns + shift;
    const column = Math.floor(cx) % columns;
    const fx = cx - Math.floor(cx);
    const fy = v * rows - row;
    const wobble = (fractalNoise(u * 64, v * 64, seed + 9, 3, 64) - 0.5) * joint * 1.4;
    const edge = Math.min(Math.min(fx, 1 - fx) * (rows / columns), Math.min(fy, 1 - fy)) + wobble;
    const inJoint = edge < joint ? 1 : 0;
    const own = hash2(column, row, seed) - 0.5;
    const warm = hash2(column, row, seed + 1) - 0.5;
    const grain = fractalNoise(u * 48, v * 48, seed + 2, 5, 48) - 0.5;
    const stain = fractalNoise(u * 5, v * 5, seed + 3, 4, 5) - 0.5;
    const shade = (1 + own * 0.35 + grain * 0.5 + stain * 0.45) * (inJoint ? 0.45 : 1) * Math.min(1, 0.8 + edge * 2);
    return {
      r: tone[0] * shade * (1 + warm * 0.12),
      g: tone[1] * shade,
      b: tone[2] * shade * (1 - warm * 0.12),
      height: inJoint ? 0.1 : 0.6 + own * 0.2 + grain * 0.4,
      rough: inJoint ? 1 : 0.75 + grain * 0.4 - stain * 0.3,
    };
  };
}

/** Boards side by side with grain along v. */
export function planks(count: number, tone: [number, number, number], seed: number): Surface {
  return (u, v) => {
    const board = Math.floor(u * count);
    const f = u * count - board;
    const gap = Math.min(f, 1 - f) < 0.03;
    const own = hash2(board, 0, seed) - 0.5;
    const grain = fractalNoise(u * count * 9, v * 3 + board * 7, seed, 5) - 0.5;
    const wear = fractalNoise(u * 6, v * 6, seed + 5, 4, 6) - 0.5;
    const shade = (1 + own * 0.4 + grain * 0.7 + wear * 0.4) * (gap ? 0.25 : 1);
    return { r: tone[0] * shade, g: tone[1] * shade, b: tone[2] * shade, height: gap ? 0 : 0.6 + grain * 0.5, rough: 0.8 + grain * 0.3 };
  };
}

/** Rippled water; `along` sets how long the ripples are, `tone` is that of its troughs. */
export const water =
  (along: number, tone: [number, number, number], rough: number, seed: number): Surface =>
  (u, v) => {
    const n = fractalNoise(u * 30, v * along, seed, 4, 30);
    return { r: tone[0] + n * 0.1, g: tone[1] + n * 0.12, b: tone[2] + n * 0.12, height: n, rough: rough + n * 0.2 };
  };

/** One tone with blotches and fine grain: paint, cloth, rusting iron. */
export function mottled(tone: [number, number, number], spots: [number, number, number], amount: number, scale: number, seed: number): Surface {
  return (u, v) => {
    const n = fractalNoise(u * scale, v * scale, seed, 5, scale);
    const fine = fractalNoise(u * 90, v * 90, seed + 7, 2, 90) - 0.5;
    const k = Math.max(0, Math.min(1, (n - (1 - amount)) * 6));
    const shade = 1 + (n - 0.5) * 0.35 + fine * 0.35;
    return {
      r: (tone[0] + (spots[0] - tone[0]) * k) * shade,
      g: (tone[1] + (spots[1] - tone[1]) * k) * shade,
      b: (tone[2] + (spots[2] - tone[2]) * k) * shade,
      height: 0.5 + fine * 0.6 - k * 0.2,
      rough: 0.55 + k * 0.4 + fine * 0.3,
    };
  };
}
