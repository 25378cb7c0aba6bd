import { describe, expect, it } from 'vitest';
import { featherProfile } from '../../tests/feather-profile.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { ShotDocument } from '../document/schema.ts';
import { type Gray, newGray, newRgba } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { corner, pointOn, type Shape, segment, smooth } from '../path/path.ts';
import { ellipse } from '../path/ready-made.ts';
import { cleanColours } from './colour-cleaning.ts';
import { type EdgeValues, finishEdge, PLAIN_EDGE } from './edge.ts';
import { renderMatte, shutterTimes } from './render-matte.ts';
import { NO_IMPORTS } from './sources.ts';

const SIZE = { width: 120, height: 100 };
const PLATE = { ...SIZE, frames: 60, rate: { num: 24, den: 1 }, firstNumber: 0 };

function shot(shapeAt: (frame: number) => Shape, edge: Record<string, unknown> = {}, step = 1): ShotDocument {
  const document = newDocument('Test', PLATE);
  const subject = newSubject('s', 'Subject');
  const path = newPath('q', 0, [], true);
  path.shape = {
    keys: Array.from({ length: Math.ceil(PLATE.frames / step) }, (_, k) => ({ frame: k * step, value: shapeAt(k * step), ease: 'linear' as const })),
  };
  subject.parts.push(newSpline('p', 'Part', [path]));
  Object.assign(subject.edge, edge);
  document.cast.push(subject);
  return document;
}
const matteOf = (document: ShotDocument, frame = 0) => renderMatte(document, 's', frame, NO_IMPORTS, SIZE);
const sum = (m: Gray) => m.data.reduce((a, b) => a + b, 0);
const filled = (...shapes: [number, number][][]) =>
  fillPolylines(
    shapes.map((s) => Float64Array.from(s.flat())),
    SIZE.width,
    SIZE.height,
  );
const box = (x: number, y: number, w: number, h: number): [number, number][] => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
];
const finished = (matte: Gray, values: Partial<EdgeValues>) => finishEdge(matte, { ...PLAIN_EDGE, ...values });

describe('feather of single points', () => {
  const shape: Shape = [
    { ...smooth(30, 20, 14, -6), featherIn: 2, featherOut: 12 },
    { ...smooth(90, 30, 3, 12), featherIn: 8, featherOut: 3 },
    { ...corner(70, 80), featherIn: 0, featherOut: 0 },
    { ...smooth(25, 65, -4, -10), featherIn: 6, featherOut: 9 },
  ];

  it('is what a search over the whole curve gives, pixel by pixel', async () => {
    const matte = await matteOf(shot(() => shape, { falloff: { constant: 'linear' } }));
    const places = shape.flatMap((v, i) => {
      const w = shape[(i + 1) % shape.length];
      const s = segment(shape, i);
      return Array.from({ length: 400 }, (_, k) => {
        const t = k / 400;
        return { ...pointOn(s, t), wide: (v.featherIn ?? 0) * (1 - t) + (w.featherIn ?? 0) * t, out: (v.featherOut ?? 0) * (1 - t) + (w.featherOut ?? 0) * t };
      });
    });
    const inside = fillPolylines([Float64Array.from(places.flatMap((p) => [p.x, p.y]))], SIZE.width, SIZE.height);
    let worst = 0;
    for (let y = 0; y < SIZE.height; y += 3)
      for (let x = 0; x < SIZE.width; x += 3) {
        let best = places[0];
        let least = Number.POSITIVE_INFINITY;
        for (const p of places) {
          const d = (p.x - x - 0.5) ** 2 + (p.y - y - 0.5) ** 2;
          if (d < least) [least, best] = [d, p];
        }
        if (best.wide < 0.7 && best.out < 0.7) continue;
        const covered = inside.data[y * SIZE.width + x] > 0.5;
        const expected = featherProfile(covered ? Math.sqrt(least) : -Math.sqrt(least), best.wide, best.out, 'linear');
        worst = Math.max(worst, Math.abs(matte.data[y * SIZE.width + x] - expected));
      }
    expect(worst).toBeLessThan(0.03);
  });

  it('leaves a curve alone whose points have none, and goes over time with its key', async () => {
    const plain = shape.map(({ featherIn: _, featherOut: __, ...v }) => v);
    expect((await matteOf(shot(() => plain))).data).toEqual((await matteOf(shot(() => shape.map((v) => ({ ...v, featherIn: 0, featherOut: 0 }))))).data);
    const growing = shot((f) => plain.map((v) => ({ ...v, featherOut: f / 4 })), {}, 40);
    const [early, late] = [await matteOf(growing, 4), await matteOf(growing, 36)];
    expect(sum(late)).toBeGreaterThan(sum(early) * 1.05);
  });
});

describe('specks and holes', () => {
  it('go below their area and stay above it', () => {
    const hole = [...box(30, 30, 3, 3)].reverse();
    const drawn = () => filled(box(20, 20, 40, 40), hole, box(80, 10, 4, 4), box(80, 60, 12, 12));
    expect(sum(drawn())).toBeCloseTo(1600 - 9 + 16 + 144, 3);
    expect(sum(finished(drawn(), { specks: 20 }))).toBeCloseTo(1600 - 9 + 144, 3);
    expect(sum(finished(drawn(), { specks: 200, holes: 10 }))).toBeCloseTo(1600, 3);
    expect(sum(finished(drawn(), { specks: 10, holes: 8 }))).toBeCloseTo(1600 - 9 + 16 + 144, 3);
  });

  it('take a soft speck with its rim, and leave the gap between the subject and the border', () => {
    const soft = newGray(SIZE.width, SIZE.height);
    for (let y = 40; y < 47; y++) for (let x = 40; x < 47; x++) soft.data[y * SIZE.width + x] = 0.6 - 0.15 * Math.max(Math.abs(x - 43), Math.abs(y - 43));
    soft.data.fill(1, 90 * SIZE.width, 92 * SIZE.width);
    const out = finished(soft, { specks: 60, holes: 1e6 });
    expect(Math.max(...out.data.subarray(0, 80 * SIZE.width))).toBe(0);
    expect(sum(out)).toBeCloseTo(2 * SIZE.width, 6);
  });
});

describe('roundness', () => {
  it('takes ripples off an outline and keeps its area', () => {
    const rippled = (ripple: number) =>
      filled(
        Array.from({ length: 900 }, (_, i) => {
          const a = (i / 900) * 2 * Math.PI;
          const r = 35 + ripple * Math.sin(60 * a);
          return [60 + r * Math.cos(a), 50 + r * Math.sin(a)] as [number, number];
        }),
      );
    const plain = rippled(0);
    const gap = (m: Gray) => m.data.reduce((s, v, i) => s + Math.abs(v - plain.data[i]), 0);
    const rough = gap(rippled(1.5));
    const calm = finished(rippled(1.5), { roundness: 14 });
    expect(gap(calm)).toBeLessThan(rough * 0.35);
    expect(sum(calm) / sum(plain)).toBeCloseTo(1, 2);
  });

  it('does not thin a thin part', () => {
    const handle = finished(filled(box(10, 48, 100, 4)), { roundness: 12 });
    const column = Array.from({ length: SIZE.height }, (_, y) => handle.data[y * SIZE.width + 60]).reduce((a, b) => a + b, 0);
    expect(column).toBeCloseTo(4, 1);
  });

  it('goes straight on where the outline leaves the picture', () => {
    const half = finished(filled(box(-40, -40, 80, 300)), { roundness: 20 });
    for (const y of [0, 50, SIZE.height - 1]) {
      const row = half.data.subarray(y * SIZE.width, (y + 1) * SIZE.width).reduce((a, b) => a + b, 0);
      expect(Math.abs(row - 40)).toBeLessThan(0.5);
    }
  });
});

describe('firmness', () => {
  it('steepens alpha round its pivot, down to a hard step', () => {
    const soft = () => finished(filled(box(20, 20, 60, 60)), { featherIn: 10, featherOut: 10, falloff: 'linear' });
    const row = (m: Gray) => Array.from(m.data.subarray(50 * SIZE.width, 50 * SIZE.width + 40));
    const before = row(soft());
    const firm = row(finished(filled(box(20, 20, 60, 60)), { featherIn: 10, featherOut: 10, falloff: 'linear', firmness: 0.5, pivot: 0.4 }));
    for (const [i, v] of firm.entries()) expect(v).toBeCloseTo(Math.max(0, Math.min(1, 0.4 + (before[i] - 0.4) * 2)), 5);
    const hard = row(finished(filled(box(20, 20, 60, 60)), { featherIn: 10, featherOut: 10, firmness: 1 }));
    expect(hard.every((v) => v === 0 || v === 1)).toBe(true);
  });
});

describe('shutter blur', () => {
  const moving = (angle: number, samples = 32) =>
    shot((f) => [corner(10 + 8 * f, 20), corner(40 + 8 * f, 20), corner(40 + 8 * f, 60), corner(10 + 8 * f, 60)], {
      shutter: { constant: angle },
      shutterPhase: { constant: -angle / 2 },
      shutterSamples: { constant: samples },
    });

  it('spreads a moving edge evenly over the way it goes while the shutter is open', async () => {
    const { data } = await matteOf(moving(180), 3);
    // 8 px a frame for half a frame: a ramp of 4 px round the edge at 34.
    for (let x = 28; x < 42; x++) {
      const exact = Math.max(0, Math.min(1, (x + 0.5 - 32) / 4));
      expect(Math.abs(data[40 * SIZE.width + x] - exact)).toBeLessThan(0.05);
    }
  });

  it('is the mean of many sub-frames', async () => {
    const document = shot((f) => ellipse(30 + 6 * f, 40 + 3 * Math.sin(f), 20, 14), {
      featherOut: { constant: 3 },
      shutter: { constant: 270 },
      shutterSamples: { constant: 24 },
    });
    const blurred = await matteOf(document, 5);
    const still = structuredClone(document);
    Object.assign(still.cast[0].edge, { shutter: { constant: 0 } });
    const twin = new Float64Array(blurred.data.length);
    const times = shutterTimes(5, 270, -90, 240);
    for (const time of times) for (const [i, v] of (await matteOf(still, time)).data.entries()) twin[i] += v / times.length;
    expect(Math.max(...twin.map((v, i) => Math.abs(v - blurred.data[i])))).toBeLessThan(0.03);
    expect(Math.min(...times)).toBeGreaterThan(5 - 0.25);
    expect(Math.max(...times)).toBeLessThan(5 + 0.5);
  });
});

describe('settings that change from frame to frame', () => {
  const still = (edge: Record<string, unknown>) => shot(() => [corner(20, 20), corner(80, 20), corner(80, 70), corner(20, 70)], edge);
  const keyed = <T>(...keys: [number, T][]) => ({ keys: keys.map(([frame, value]) => ({ frame, value, ease: 'linear' as const })) });

  it('has each falloff until the next key, and nothing between two', async () => {
    const soft = { featherIn: { constant: 8 }, featherOut: { constant: 8 } };
    const document = still({ ...soft, falloff: keyed([0, 'linear'], [10, 'gaussian']) });
    for (const [frame, falloff] of [
      [0, 'linear'],
      [9, 'linear'],
      [10, 'gaussian'],
      [30, 'gaussian'],
    ] as const)
      expect((await matteOf(document, frame)).data).toEqual((await matteOf(still({ ...soft, falloff: { constant: falloff } }), frame)).data);
  });

  it('takes as many shutter samples as the frame says, whole ones', async () => {
    const wide = { shutter: { constant: 360 }, shutterPhase: { constant: -180 } };
    const moving = (shutterSamples: unknown) =>
      shot((f) => [20, 50, 50, 20].map((x, i) => corner(x + 24 * (f - 4), i < 2 ? 20 : 60)), { ...wide, shutterSamples });
    // On the pixel grid two samples make one step of alpha, three two, four three.
    const document = moving(keyed([3, 2], [5, 4]));
    const steps = async (frame: number) =>
      new Set([...(await matteOf(document, frame)).data].map((v) => Math.round(v * 12)).filter((v) => v > 0 && v < 12)).size;
    expect(await steps(3)).toBe(1);
    expect(await steps(4)).toBe(2);
    expect(await steps(5)).toBe(3);
  });
});

describe('steadiness', () => {
  it('takes chatter out and leaves the motion', async () => {
    // Chatter that differs along the outline and from frame to frame; the disc moves on evenly.
    const noise = (f: number, i: number) => ((((f * 7919 + i * 104729 + f * i * 31) % 1009) / 1009) * 2 - 1) * 2;
    const disc = (f: number, rough: number): Shape =>
      Array.from({ length: 20 }, (_, i) => {
        const a = (i / 20) * 2 * Math.PI;
        const r = 28 + rough * noise(f, i);
        const k = (28 * 2 * Math.PI) / 20 / 3;
        return smooth(45 + 1.5 * f + r * Math.cos(a), 50 + r * Math.sin(a), -k * Math.sin(a), k * Math.cos(a));
      });
    const gap = async (document: ShotDocument, frame: number) => {
      const [got, truth] = [
        await matteOf(document, frame),
        await matteOf(
          shot((f) => disc(f, 0)),
          frame,
        ),
      ];
      return got.data.reduce((s, v, i) => s + Math.abs(v - truth.data[i]), 0);
    };
    let rough = 0;
    let steady = 0;
    let moved = 0;
    for (const frame of [6, 9, 12]) {
      rough += await gap(
        shot((f) => disc(f, 1)),
        frame,
      );
      steady += await gap(
        shot((f) => disc(f, 1), { steadiness: { constant: 1 } }),
        frame,
      );
      moved += await gap(
        shot((f) => disc(f, 0), { steadiness: { constant: 1 } }),
        frame,
      );
    }
    expect(steady).toBeLessThan(rough * 0.65);
    expect(moved).toBeLessThan(rough * 0.2);
  });

  it('stays right at the ends of the shot and where the subject is gone', async () => {
    const document = shot(() => ellipse(60, 50, 20, 20), { steadiness: { constant: 0.8 } });
    const plain = await matteOf(shot(() => ellipse(60, 50, 20, 20)));
    for (const frame of [0, PLATE.frames - 1]) expect(sum(await matteOf(document, frame)) / sum(plain)).toBeCloseTo(1, 2);
    document.cast[0].parts[0].range = { first: 10, last: 20 };
    expect(sum(await matteOf(document, 5))).toBe(0);
    expect(sum(await matteOf(document, 10))).toBeGreaterThan(1000);
  });
});

describe('opacity and ranges', () => {
  it('fade the whole matte, and switch a part to its frames', async () => {
    const document = shot(() => ellipse(60, 50, 20, 20), {
      opacity: {
        keys: [
          { frame: 10, value: 0, ease: 'linear' },
          { frame: 20, value: 1, ease: 'linear' },
        ],
      },
    });
    const whole = sum(await matteOf(document, 20));
    expect(sum(await matteOf(document, 15)) / whole).toBeCloseTo(0.5, 5);
    document.cast[0].parts[0].range = { first: 12, last: 18 };
    expect(sum(await matteOf(document, 19))).toBe(0);
    expect(sum(await matteOf(document, 18))).toBeGreaterThan(0);
  });
});

describe('colour cleaning', () => {
  it('finds the colours of the subject under a soft edge, and never touches alpha', () => {
    const matte = finished(filled(box(30, 25, 60, 50)), { featherIn: 2, featherOut: 2 });
    const [front, back] = [
      [0.8, 0.3, 0.1],
      [0.1, 0.6, 0.2],
    ];
    const picture = newRgba(SIZE.width, SIZE.height);
    for (let p = 0; p < matte.data.length; p++) {
      for (let c = 0; c < 3; c++) picture.data[4 * p + c] = front[c] * matte.data[p] + back[c] * (1 - matte.data[p]);
      picture.data[4 * p + 3] = 1;
    }
    const before = matte.data.slice();
    const error = (q: typeof picture) => {
      let total = 0;
      for (let p = 0; p < before.length; p++)
        if (before[p] > 0.2 && before[p] < 0.99) for (let c = 0; c < 3; c++) total += Math.abs(q.data[4 * p + c] - front[c]);
      return total;
    };
    const cleaned = { ...picture, data: picture.data.slice() };
    cleanColours(cleaned, matte, 1);
    expect(error(cleaned)).toBeLessThan(error(picture) * 0.3);
    expect(matte.data).toEqual(before);
    const half = { ...picture, data: picture.data.slice() };
    cleanColours(half, matte, 0.5);
    expect(error(half)).toBeLessThan(error(picture) * 0.65);
    for (let p = 0; p < before.length; p++) if (before[p] === 1 || before[p] === 0) expect(cleaned.data[4 * p]).toBe(picture.data[4 * p]);
  });
});
