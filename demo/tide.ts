/**
 * Tide water that spreads over sand, in white on black: for luma. It comes in three surges, first along the hollows of
 * the sand, and covers the whole picture on the last frame, so that a picture shown where it is white comes in entirely.
 */
import { fractalNoise, hash2 } from './noise.ts';

/** How high the sand lies, about [0,1], rising from the bottom of the picture to its top. */
function heights(width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = [x / height, y / height];
      const dunes = fractalNoise(u * 2.3 + 5, v * 2.3, 7, 4) - 0.5;
      const ripples = Math.sin(v * 95 + 9 * fractalNoise(u * 3, v * 3, 17, 3)) * 0.012;
      out[y * width + x] = 0.88 - v * 0.76 + dunes * 0.55 + ripples;
    }
  }
  return out;
}

/** Makes frames of the water: a function from a frame of `frames` to gray bytes, rows top down. */
export function tideWater(width: number, height: number, frames: number): (frame: number, samples: number) => Uint8Array {
  const sand = heights(width, height);
  /** How high the water stands: three surges, never falling; below all sand at first and above all of it at last. */
  const level = (time: number) => {
    const t = Math.min(1, time / (frames - 2));
    return -0.1 + 1.55 * (t - (0.92 * Math.sin(t * Math.PI * 6)) / (Math.PI * 6));
  };
  return (frame, samples) => {
    const out = new Uint8Array(width * height);
    const levels = Array.from({ length: samples }, (_, s) => level(frame + (0.5 * (s + 0.5)) / samples));
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        let sum = 0;
        for (const water of levels) {
          const deep = water - sand[i];
          // Foam is whitest at the front; behind it the water is as white as what it covers asks for.
          const film = Math.max(0, Math.min(1, deep / 0.018));
          sum += film * (0.9 + 0.1 * Math.max(0, Math.min(1, Math.max(deep / 0.25, 1 - deep / 0.05))));
        }
        const value = sum / samples;
        const grain = value > 0 && value < 1 ? (hash2(x, y, frame * 5 + 3) - 0.5) * 0.02 : 0;
        out[i] = Math.round(255 * Math.max(0, Math.min(1, value + grain)));
      }
    }
    return out;
  };
}
