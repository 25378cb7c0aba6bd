import { clamp } from '../math/clamp.ts';
import { randomFrom } from '../math/random.ts';
import { defineEffect } from './effect.ts';

/** Rows of a picture, and how far they are moved. */
interface Band {
  top: number;
  bottom: number;
  shift: number;
}

/** Bands from the top of a picture of so many plate lines down, the same for the same seed and step. */
function bandsOf(lines: number, size: number, share: number, most: number, seed: number, step: number): Band[] {
  const random = randomFrom(Math.imul(seed + 1, 7919) ^ Math.imul(step + 1, 104_729));
  const bands: Band[] = [];
  for (let top = 0; top < lines; ) {
    const bottom = top + Math.max(1, size * (0.3 + 1.4 * random()));
    const [moved, shift] = [random() < share, (2 * random() - 1) * most];
    bands.push({ top, bottom, shift: moved ? shift : 0 });
    top = bottom;
  }
  return bands;
}

/** Steps a frame. */
const perFrame = (every: number): number => 1 / every;

export const breakUpEffect = defineEffect({
  id: 'break-up',
  label: 'Break-up',
  about: 'A disturbed signal: bands of the picture jump aside, and red and blue part from green.',
  settings: {
    share: { kind: 'number', label: 'Bands', about: 'How many of the bands are moved.', unit: '%', min: 0, max: 100, step: 1, start: 45 },
    size: { kind: 'number', label: 'Height', about: 'How high a band is, about.', unit: 'px', min: 1, max: 2000, step: 1, start: 24, usual: [1, 200] },
    shift: {
      kind: 'number',
      label: 'Shift',
      about: 'How far a band is moved aside at most.',
      unit: 'px',
      min: 0,
      max: 4000,
      step: 1,
      start: 40,
      usual: [0, 300],
    },
    part: {
      kind: 'number',
      label: 'Colour split',
      about: 'How far red and blue part from green.',
      unit: 'px',
      min: -500,
      max: 500,
      step: 0.5,
      start: 6,
      usual: [-40, 40],
    },
    every: {
      kind: 'number',
      label: 'New every',
      about: 'Frames after which other bands are moved.',
      unit: 'fr',
      min: 1,
      max: 1000,
      step: 1,
      start: 2,
      usual: [1, 24],
    },
    sides: {
      kind: 'choice',
      label: 'Sides',
      about: 'What comes in from the sides of the picture where a band moves away from them.',
      options: [
        { id: 'wrap', label: 'The other side' },
        { id: 'hold', label: 'Its last column' },
      ],
      start: 'wrap',
    },
    seed: {
      kind: 'number',
      label: 'Seed',
      about: 'Another number gives other bands; the same gives the same.',
      unit: '',
      min: 0,
      max: 9999,
      step: 1,
      start: 1,
      usual: [0, 99],
    },
  },
  reach: ({ shift, part }) => shift + Math.abs(part),
  wide: true,
  leaves: true,
  render({ data, width, height }, values, { scale, sum, top: above, whole }) {
    const step = Math.floor(sum('every', perFrame) + 1e-9);
    const bands = bandsOf(whole.height / scale, values.size, values.share / 100, values.shift, values.seed, step);
    const parting = Math.round(values.part * scale);
    const row = new Float32Array(width * 4);
    const within = values.sides === 'wrap' ? (x: number) => ((x % width) + width) % width : (x: number) => clamp(x, 0, width - 1);
    for (const { top, bottom, shift } of bands) {
      const by = Math.round(shift * scale);
      // Bands that nothing moves part no colours either: between bursts the picture is whole.
      if (by === 0) continue;
      const end = Math.min(height, Math.round(bottom * scale) - above);
      for (let y = Math.max(0, Math.round(top * scale) - above); y < end; y++) {
        const line = data.subarray(y * width * 4, (y + 1) * width * 4);
        for (let x = 0; x < width; x++) {
          const from = 4 * within(x - by);
          const alpha = line[from + 3];
          row[4 * x + 3] = alpha;
          for (let k = 0; k < 3; k++) {
            const parted = 4 * within(x - by + (1 - k) * parting);
            // Where a colour comes from beyond the edge, it keeps that of its own place: no fringe is darker than both.
            row[4 * x + k] = line[parted + k] * alpha + line[from + k] * (1 - line[parted + 3]);
          }
        }
        line.set(row);
      }
    }
  },
});
