import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import type { FrameBytes } from '../picture/lab.ts';
import { type PropagationState, StatesInMemory } from '../results/propagation-state.ts';
import { PEEL_SETTINGS } from '../settings.ts';
import type { FrameStroke } from '../strokes/strokes.ts';
import { type PeeledFrame, peelShot, StrokesError } from './peel-shot.ts';

const [WIDTH, HEIGHT] = [240, 160];

/** A red-brown spotted disc of 34 pixels on bluish waves; the disc moves, the waves stand. `hidden` frames show a wall over all. */
function scene(at: (t: number) => [number, number] | null): { frame(t: number): Promise<FrameBytes>; truth(t: number): Uint8Array } {
  const random = randomFrom(2);
  const waves = Array.from({ length: 12 }, () => [(random() - 0.5) * 0.5, (random() - 0.5) * 0.5, random() * 6]);
  const pattern = (x: number, y: number) => waves.reduce((s, [a, b, c]) => s + Math.sin(a * x + b * y + c), 0) * 6;
  const inside = (t: number, x: number, y: number) => {
    const place = at(t);
    return place !== null && Math.hypot(x + 0.5 - place[0], y + 0.5 - place[1]) < 34;
  };
  return {
    async frame(t) {
      const data = new Uint8Array(4 * WIDTH * HEIGHT);
      const [px, py] = at(t) ?? [0, 0];
      for (let y = 0; y < HEIGHT; y++)
        for (let x = 0; x < WIDTH; x++) {
          const p = inside(t, x, y) ? pattern(2 * (x - px) + 300, 2 * (y - py)) : pattern(x, y);
          const colour = inside(t, x, y) ? [150 + p, 90 + p, 60] : [70, 95 + p, 140 + p];
          data.set([...colour.map((v) => Math.max(0, Math.min(255, v))), 255], 4 * (y * WIDTH + x));
        }
      return { width: WIDTH, height: HEIGHT, data };
    },
    truth: (t) => Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (inside(t, i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0)),
  };
}

/** The same behind a dark wall from one column to another. */
function behindWall({ frame, truth }: ReturnType<typeof scene>, from: number, to: number): ReturnType<typeof scene> {
  const wall = (i: number) => i % WIDTH >= from && i % WIDTH < to;
  return {
    async frame(t) {
      const picture = await frame(t);
      for (let i = 0; i < WIDTH * HEIGHT; i++) if (wall(i)) picture.data.set([30, 32, 30 + ((i % WIDTH) % 7)], 4 * i);
      return picture;
    },
    truth: (t) => truth(t).map((v, i) => (wall(i) ? 0 : v)),
  };
}

const plate = { width: WIDTH, height: HEIGHT, frames: 14 };
const keep = (frame: number, x: number, y: number): FrameStroke => ({ frame, kind: 'keep', radius: 4, points: [x - 12, y, x + 12, y] });
const drop = (frame: number): FrameStroke => ({ frame, kind: 'drop', radius: 3, points: [6, 6, 234, 6, 234, 154, 6, 154] });

async function all(run: AsyncGenerator<PeeledFrame>): Promise<Map<number, PeeledFrame>> {
  const found = new Map<number, PeeledFrame>();
  for await (const f of run) {
    expect(found.has(f.frame)).toBe(false);
    found.set(f.frame, f);
  }
  return found;
}

function iou(a: Uint8Array, b: Uint8Array): number {
  let [both, any] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (a[i] && b[i]) both++;
    if (a[i] || b[i]) any++;
  }
  return any === 0 ? 1 : both / any;
}

describe('peelShot', () => {
  it('cuts the painted frame and carries it both ways, whichever frame was painted', async () => {
    const { frame, truth } = scene((t) => [60 + 6 * t, 80 - 2 * t]);
    const found = await all(peelShot({ plate, frame }, [keep(5, 90, 70), drop(5)], 0, 10));
    expect([...found.keys()].sort((a, b) => a - b)).toEqual(Array.from({ length: 11 }, (_, i) => i));
    for (const [t, { mask }] of found) expect(iou(mask, truth(t)), `frame ${t}`).toBeGreaterThan(0.97);
    expect(found.get(5)).toMatchObject({ anchor: 5, doubt: 0, reasons: [] });
    expect(found.get(0)).toMatchObject({ anchor: 5 });
  });

  it('finds what stands out in a loop drawn round it, and carries it from there', async () => {
    const { frame, truth } = scene((t) => [100 + 6 * t, 80]);
    const loop: FrameStroke = { frame: 0, kind: 'loop', radius: 1, points: [52, 40, 100, 28, 150, 44, 148, 116, 96, 130, 55, 118] };
    const found = await all(peelShot({ plate, frame }, [loop], 0, 3));
    for (const t of [0, 3]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.97);
    // A keep stroke in it adds to that; drawn before the loop it says itself what is kept, and the loop only bounds it.
    const dot: FrameStroke = { frame: 0, kind: 'keep', radius: 2, points: [84, 70] };
    expect(iou((await all(peelShot({ plate, frame }, [loop, dot], 0, 0))).get(0)?.mask as Uint8Array, truth(0))).toBeGreaterThan(0.97);
    const nothing: FrameStroke = { frame: 0, kind: 'loop', radius: 1, points: [900, 900, 950, 900, 920, 950] };
    await expect(all(peelShot({ plate, frame }, [nothing], 0, 0))).rejects.toThrow(/Nothing stands out in the loop/);
  });

  it('never leaves its fence, neither where it is painted nor where it is carried, nor by a stroke', async () => {
    // A twin of the disc, as like it as can be, hangs together with it.
    const { frame, truth } = scene((t) => [80 + 5 * t, 80]);
    const twin = async (t: number) => {
      const [picture, here] = [await frame(t), truth(t)];
      const copy = picture.data.slice();
      for (let i = 0; i + 60 < here.length; i++) if (here[i]) picture.data.set(copy.subarray(4 * i, 4 * i + 4), 4 * (i + 60));
      return picture;
    };
    // The fence goes along with it, half between the two.
    const fence = async (t: number) => Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (i % WIDTH < 110 + 5 * t ? 1 : 0));
    const strokes = [keep(0, 100, 80), drop(0)];
    const outside = async (found: Map<number, PeeledFrame>, t: number) => {
      const inside = await fence(t);
      return found.get(t)?.mask.reduce((sum, v, i) => sum + (v && !inside[i] ? 1 : 0), 0);
    };
    const free = await all(peelShot({ plate, frame: twin }, strokes, 0, 5));
    const fenced = await all(peelShot({ plate, frame: twin }, strokes, 0, 5, { fence }));
    for (const t of [0, 5]) {
      expect(await outside(free, t), `frame ${t}`).toBeGreaterThan(1000);
      expect(await outside(fenced, t), `frame ${t}`).toBe(0);
      const inside = await fence(t);
      expect(
        iou(
          fenced.get(t)?.mask as Uint8Array,
          truth(t).map((v, i) => v & inside[i]),
        ),
        `frame ${t}`,
      ).toBeGreaterThan(0.95);
    }
    const nowhere = all(peelShot({ plate, frame }, [keep(0, 180, 80), drop(0)], 0, 1, { fence }));
    await expect(nowhere).rejects.toThrow(/outside the picture or the fence/);
  });

  it('takes strokes in plate pixels whatever size its pictures have', async () => {
    const { frame, truth } = scene(() => [120, 80]);
    const large = { ...plate, width: 2 * WIDTH, height: 2 * HEIGHT };
    const strokes = [keep(0, 120, 80), drop(0)].map((s) => ({ ...s, radius: 2 * s.radius, points: s.points.map((v) => 2 * v) }));
    const found = await all(peelShot({ plate: large, frame }, strokes, 0, 0));
    expect(iou(found.get(0)?.mask as Uint8Array, truth(0))).toBeGreaterThan(0.97);
  });

  it('says that the subject is out of sight, with an empty mask, and finds it again where it comes back', async () => {
    const { frame, truth } = scene((t) => (t < 3 ? [90 + 6 * t, 80] : t < 8 ? null : [100 + 6 * t, 84]));
    const found = await all(peelShot({ plate, frame }, [keep(0, 90, 80), drop(0)], 0, 11));
    for (const t of [3, 5, 7]) {
      expect(found.get(t)?.mask.includes(1), `frame ${t}`).toBe(false);
      expect(found.get(t)?.reasons, `frame ${t}`).toEqual(['vanished']);
    }
    // Once somebody has looked there is nothing to doubt while nothing looks like it.
    expect(found.get(3)?.doubt).toBe(100);
    for (const t of [5, 7]) expect(found.get(t)?.doubt, `frame ${t}`).toBeLessThan(50);
    const back = found.get(8) as PeeledFrame;
    expect(back.reasons).toEqual(['found-again']);
    expect(back.doubt).toBeGreaterThanOrEqual(50);
    for (const t of [2, 8, 9, 11]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.94);
    for (const t of [2, 10, 11]) expect(found.get(t)?.doubt, `frame ${t}`).toBeLessThan(50);
  });

  it('doubts that it is still out of sight where something is not quite like it', async () => {
    // Gone from frame 3 on; from frame 6 on there is a third of it, where nothing was.
    const whole = scene((t) => (t < 3 ? [90 + 6 * t, 80] : null));
    const small = scene(() => [110, 80]);
    const frame = async (t: number) => {
      const [picture, other] = await Promise.all([whole.frame(t), small.frame(t)]);
      const inside = (i: number) => Math.hypot((i % WIDTH) - 110, Math.floor(i / WIDTH) - 80) < 19;
      if (t >= 6) for (let i = 0; i < WIDTH * HEIGHT; i++) if (inside(i)) picture.data.set(other.data.subarray(4 * i, 4 * i + 4), 4 * i);
      return picture;
    };
    const found = await all(peelShot({ plate, frame }, [keep(0, 90, 80), drop(0)], 0, 8));
    for (const t of [4, 8]) expect(found.get(t)?.reasons, `frame ${t}`).toEqual(['vanished']);
    expect(found.get(8)?.doubt).toBeGreaterThanOrEqual(50);
    expect(found.get(4)?.doubt).toBeLessThan(40);
  });

  it('is carried back, from where it is found again, over the frames on which a part of it is to be seen', async () => {
    // It goes behind a wall and comes out on the other side.
    const { frame: walled, truth: visible } = behindWall(
      scene((t) => [20 + 20 * t, 80]),
      85,
      165,
    );
    const found = await all(peelShot({ plate: { ...plate, frames: 11 }, frame: walled }, [keep(1, 40, 80), drop(1)], 0, 10));
    const share = (t: number) => visible(t).reduce((a, b) => a + b, 0) / (Math.PI * 34 * 34);
    expect([share(5), share(7), share(9)].map((s) => Math.round(10 * s))).toEqual([0, 4, 10]);
    expect(found.get(5)?.mask.includes(1)).toBe(false);
    for (const t of [7, 8, 9, 10]) expect(iou(found.get(t)?.mask as Uint8Array, visible(t)), `frame ${t}`).toBeGreaterThan(0.85);
    expect(found.get(7)?.reasons).toEqual(['found-again']);
    // What is painted farther on, where it is found again, has no say in what is found before.
    const mend: FrameStroke = { frame: 9, kind: 'drop', radius: 30, points: [200, 60] };
    const painted = await all(peelShot({ plate: { ...plate, frames: 11 }, frame: walled }, [keep(1, 40, 80), drop(1), mend], 0, 10));
    for (const t of [5, 6, 7, 8]) expect(Buffer.compare(painted.get(t)?.mask as Uint8Array, found.get(t)?.mask as Uint8Array), `frame ${t}`).toBe(0);
    expect(Buffer.compare(painted.get(9)?.mask as Uint8Array, found.get(9)?.mask as Uint8Array)).not.toBe(0);
  });

  it('keeps a sliver, however small, that stands out by its colour', async () => {
    const { frame, truth } = behindWall(
      scene((t) => [31 + 18 * t, 80]),
      96,
      170,
    );
    const found = await all(peelShot({ plate: { ...plate, frames: 11 }, frame }, [keep(1, 49, 80), drop(1)], 0, 10));
    const size = (t: number) => truth(t).reduce((a, b) => a + b, 0) / (Math.PI * 34 * 34);
    expect([5, 6].map((t) => Math.round(1000 * size(t)))).toEqual([79, 16]);
    for (const t of [4, 5, 6, 7]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.95);
    expect(found.get(6)?.reasons).toEqual(['found-again']);
  });

  it('keeps nothing where the artist says that it is hidden, and looks for it from there on', async () => {
    // It is in sight all the time; what is said is believed.
    const { frame, truth } = scene((t) => [70 + 6 * t, 80]);
    const found = await all(peelShot({ plate, frame }, [keep(0, 70, 80), drop(0)], 0, 8, { hidden: [{ first: 3, last: 5 }] }));
    for (const t of [3, 4, 5]) {
      expect(found.get(t)?.mask.includes(1)).toBe(false);
      expect(found.get(t)).toMatchObject({ doubt: 0, reasons: ['hidden'] });
    }
    expect(found.get(6)?.reasons).toEqual(['found-again']);
    for (const t of [2, 6, 8]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.94);
  });

  it('says anew that it is out of sight where it is not found after what the artist called hidden', async () => {
    const { frame } = scene((t) => (t < 2 ? [70 + 6 * t, 80] : null));
    const found = await all(peelShot({ plate, frame }, [keep(0, 70, 80), drop(0)], 0, 6, { hidden: [{ first: 2, last: 4 }] }));
    expect([3, 4, 5].map((t) => found.get(t)?.doubt)).toEqual([0, 0, 100]);
    expect(found.get(6)?.doubt).toBeLessThan(50);
    expect(found.get(5)?.reasons).toEqual(['vanished']);
  });

  it('believes the side that has the subject in sight', async () => {
    // Behind a wall from frame 4 to 9, and somewhere else after: from the first anchor it is lost, from the second it is not.
    const { frame, truth } = scene((t) => (t < 4 ? [80, 60] : t < 8 ? null : [160, 100]));
    const strokes = [keep(0, 80, 60), drop(0), keep(13, 160, 100), drop(13)];
    const found = await all(peelShot({ plate, frame }, strokes, 0, 13));
    for (const t of [2, 9, 11]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.94);
    for (const t of [5, 7]) expect(found.get(t)?.mask.includes(1), `frame ${t}`).toBe(false);
  });

  it('gives frames that are not known alone, the same as with all of them', async () => {
    const { frame } = scene((t) => [70 + 4 * t, 80]);
    const asked: number[] = [];
    const counted = (t: number) => {
      asked.push(t);
      return frame(t);
    };
    const strokes = [keep(4, 86, 80), drop(4)];
    const whole = await all(peelShot({ plate, frame }, strokes, 0, 8));
    const rest = await all(peelShot({ plate, frame: counted }, strokes, 0, 8, { known: (t) => t >= 4 || t === 1 }));
    expect([...rest.keys()].sort((a, b) => a - b)).toEqual([0, 2, 3]);
    for (const [t, { mask }] of rest) expect(Buffer.compare(mask, whole.get(t)?.mask as Uint8Array)).toBe(0);
    // Nothing is looked at on the side where all is known, but for the frame beside the painted one.
    expect(Math.max(...asked)).toBe(5);
    expect((await all(peelShot({ plate, frame }, strokes, 0, 8, { known: () => true }))).size).toBe(0);
  });

  it('gives the same bytes each time', async () => {
    const { frame } = scene((t) => [100 + 4 * t, 80]);
    const run = () => all(peelShot({ plate, frame }, [keep(0, 100, 80), drop(0)], 0, 3));
    const [a, b] = [await run(), await run()];
    for (const [t, { mask }] of a) expect(Buffer.compare(mask, b.get(t)?.mask as Uint8Array)).toBe(0);
  });

  it('leaves behind, once the subject is away, what was taken for it of its surroundings, unless pieces may stay', async () => {
    const { frame, truth } = scene((t) => [60 + 8 * t, 80]);
    // A checked cloth hangs behind it, and was kept along with it.
    const cloth = (i: number) => i % WIDTH > 2 && i % WIDTH < 60 && i > 56 * WIDTH && i < 104 * WIDTH;
    const dressed = async (t: number) => {
      const [picture, own] = [await frame(t), truth(t)];
      for (let i = 0; i < own.length; i++)
        if (cloth(i) && !own[i]) picture.data.set(((i % WIDTH) + 3 * Math.floor(i / WIDTH)) % 14 < 7 ? [206, 180, 90] : [196, 170, 84], 4 * i);
      return picture;
    };
    const held = { frames: [0], mask: async () => truth(0).map((v, i) => (v || cloth(i) ? 1 : 0)) };
    const carried = async (separatePieces: boolean) => {
      const settings = { ...PEEL_SETTINGS, carry: { ...PEEL_SETTINGS.carry, separatePieces } };
      return all(peelShot({ plate, frame: dressed }, [], 1, 13, { held, settings }));
    };
    const size = ({ mask }: PeeledFrame) => mask.reduce((sum, v) => sum + v, 0);
    const found = await carried(false);
    // As long as the two lie together nobody can know.
    expect(iou(found.get(5)?.mask as Uint8Array, truth(5))).toBeLessThan(0.7);
    for (const t of [8, 10, 13]) expect(iou(found.get(t)?.mask as Uint8Array, truth(t)), `frame ${t}`).toBeGreaterThan(0.97);
    const told = [...found.values()].filter((f) => f.reasons.includes('left-behind'));
    expect(told).toHaveLength(1);
    expect(told[0].frame).toBeGreaterThan(5);
    expect(told[0].doubt).toBeGreaterThanOrEqual(50);
    expect(size((await carried(true)).get(13) as PeeledFrame)).toBeGreaterThan(6000);
  });

  it('goes by the nearer of two anchors near it, and by both on the frames between', async () => {
    // Of the disc the one anchor keeps the left half, the other the right half: which one a frame goes by is to be seen.
    const { frame } = scene(() => [120, 80]);
    const half = (t: number, side: -1 | 1): FrameStroke[] => [
      { frame: t, kind: 'keep', radius: 14, points: [120 + 16 * side, 60, 120 + 16 * side, 100] },
      { frame: t, kind: 'drop', radius: 14, points: [120 - 18 * side, 40, 120 - 18 * side, 120] },
      drop(t),
    ];
    const strokes = [...half(0, -1), ...half(6, 1)];
    const found = await all(peelShot({ plate, frame }, strokes, 0, 6));
    const [first, second] = [await all(peelShot({ plate, frame }, half(0, -1), 0, 6)), await all(peelShot({ plate, frame }, half(6, 1), 0, 6))];
    const same = (t: number, other: Map<number, PeeledFrame>) => Buffer.compare(found.get(t)?.mask as Uint8Array, other.get(t)?.mask as Uint8Array) === 0;
    for (const t of [0, 1, 2]) expect(same(t, first), `frame ${t}`).toBe(true);
    for (const t of [4, 5, 6]) expect(same(t, second), `frame ${t}`).toBe(true);
    const middle = found.get(3) as PeeledFrame;
    expect([same(3, first), same(3, second)]).toEqual([false, false]);
    expect(middle.reasons).toContain('two-sides');
  });

  it('finds a frame between anchors the same, whichever other frames are asked for', async () => {
    const { frame } = scene((t) => [60 + 5 * t, 80]);
    const strokes = [keep(0, 60, 80), drop(0), keep(6, 90, 80), drop(6)];
    const whole = await all(peelShot({ plate, frame }, strokes, 0, 6));
    for (const t of [1, 3, 5]) {
      const alone = await all(peelShot({ plate, frame }, strokes, t, t));
      expect([...alone.keys()]).toEqual([t]);
      expect(Buffer.compare(alone.get(t)?.mask as Uint8Array, whole.get(t)?.mask as Uint8Array)).toBe(0);
    }
  });

  it('goes on where it ended, without looking at what lies before', async () => {
    const { frame } = scene((t) => [60 + 5 * t, 80]);
    const asked: number[] = [];
    const counted = (t: number) => {
      asked.push(t);
      return frame(t);
    };
    const strokes = [keep(0, 60, 80), drop(0)];
    const states = new StatesInMemory();
    const whole = await all(peelShot({ plate, frame }, strokes, 0, 9));
    await all(peelShot({ plate, frame }, strokes, 0, 6, { states }));
    const rest = await all(peelShot({ plate, frame: counted }, strokes, 7, 9, { states }));
    for (const t of [7, 8, 9]) expect(Buffer.compare(rest.get(t)?.mask as Uint8Array, whole.get(t)?.mask as Uint8Array)).toBe(0);
    // The last frame that is known, and the anchor for what it teaches, with the frame beside it.
    expect([...new Set(asked)].sort((a, b) => a - b)).toEqual([0, 1, 6, 7, 8, 9]);
  });

  it('has the second carry begin anew where it has lost what the first surely has', async () => {
    const { frame } = scene((t) => [60 + 5 * t, 80]);
    const strokes = [keep(0, 60, 80), drop(0)];
    const states = new StatesInMemory();
    await all(peelShot({ plate, frame }, strokes, 0, 4, { states }));
    const state = (await states.get(0, 4)) as PropagationState;
    await states.put(0, 4, { ...state, second: { ...state.second, mask: new Uint8Array(state.second.mask.length) } });
    const found = await all(peelShot({ plate, frame }, strokes, 5, 7, { states }));
    // Where it had nothing that is a reason to doubt, and on the frames after that it is no more.
    expect([5, 6, 7].map((t) => found.get(t)?.reasons.includes('two-ways'))).toEqual([true, false, false]);
  });

  it('mends what was carried to a frame by strokes that add what they touch, and carries that on, both ways', async () => {
    const disc = scene((t) => [60 + 4 * t, 70]);
    // From frame 4 on a green block hangs from the disc, which nothing was painted on.
    const inBlock = (t: number, x: number, y: number) => t >= 4 && Math.abs(x - 60 - 4 * t) < 16 && y >= 102 && y < 130;
    const frame = async (t: number) => {
      const picture = await disc.frame(t);
      for (let i = 0; i < WIDTH * HEIGHT; i++) if (inBlock(t, i % WIDTH, Math.floor(i / WIDTH))) picture.data.set([60, 150 + ((i * 7) % 5), 70], 4 * i);
      return picture;
    };
    const both = (t: number) => disc.truth(t).map((v, i) => v || (inBlock(t, i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0));
    const start = [keep(0, 60, 65), drop(0)];
    const before = await all(peelShot({ plate, frame }, start, 0, 12));
    for (const t of [6, 12]) expect(iou(before.get(t)?.mask as Uint8Array, disc.truth(t)), `frame ${t}`).toBeGreaterThan(0.9);
    // About as large as what it is meant for.
    const more: FrameStroke = { frame: 6, kind: 'keep', radius: 5, points: [76, 116, 92, 118], mends: true };
    const after = await all(peelShot({ plate, frame }, [...start, more], 0, 12));
    expect(after.get(6)?.anchor).toBe(6);
    for (const t of [5, 6, 8, 12]) expect(iou(after.get(t)?.mask as Uint8Array, both(t)), `frame ${t}`).toBeGreaterThan(0.95);
    expect(after.get(1)?.mask).toEqual(before.get(1)?.mask);
    // A drop stroke over it takes it away again, and nothing of the disc.
    const less: FrameStroke = { frame: 6, kind: 'drop', radius: 7, points: more.points, mends: true };
    const [again] = (await all(peelShot({ plate, frame }, [...start, more, less], 6, 6))).values();
    expect(iou(again.mask, disc.truth(6))).toBeGreaterThan(0.95);
  });

  it('mends each frame from those painted before it, wherever they lie', async () => {
    const { frame } = scene((t) => [60 + 4 * t, 70]);
    const start = [keep(0, 60, 65), drop(0)];
    const notch = (t: number, x: number): FrameStroke => ({ frame: t, kind: 'drop', radius: 5, points: [60 + 4 * t + x, 50, 60 + 4 * t + x, 90], mends: true });
    const [late, early] = [notch(10, -26), notch(5, 26)];
    const one = await all(peelShot({ plate, frame }, [...start, late], 0, 13));
    const two = await all(peelShot({ plate, frame }, [...start, late, early], 0, 13));
    // The later frame was mended first, and does not change when an earlier one is.
    for (const t of [10, 12]) expect(two.get(t)?.mask, `frame ${t}`).toEqual(one.get(t)?.mask);
    expect(two.get(5)?.mask).not.toEqual(one.get(5)?.mask);
  });

  it('cuts by themselves strokes that mend a frame to which nothing was carried', async () => {
    const { frame, truth } = scene((t) => (t < 4 ? [60 + 4 * t, 70] : t < 6 ? null : [150, 90]));
    const start = [keep(0, 60, 65), drop(0)];
    const options = { hidden: [{ first: 4, last: 13 }] };
    const mends = [keep(8, 150, 85), drop(8)].map((s) => ({ ...s, mends: true }));
    const [found] = (await all(peelShot({ plate, frame }, [...start, ...mends], 8, 8, options))).values();
    expect(iou(found.mask, truth(8))).toBeGreaterThan(0.97);
  });

  it('lets a drop stroke alone mend a carried frame and those carried on from it', async () => {
    const { frame, truth } = scene((t) => [60 + 5 * t, 80]);
    const strokes = [keep(0, 60, 80), drop(0)];
    // Dropped there: the lower half of the disc on frame 3.
    const mend: FrameStroke = { frame: 3, kind: 'drop', radius: 14, points: [40, 100, 110, 100] };
    const [before, after] = [await all(peelShot({ plate, frame }, strokes, 0, 5)), await all(peelShot({ plate, frame }, [...strokes, mend], 0, 5))];
    for (const t of [0, 1, 2]) expect(Buffer.compare(before.get(t)?.mask as Uint8Array, after.get(t)?.mask as Uint8Array)).toBe(0);
    const mended = after.get(3) as PeeledFrame;
    expect(mended.anchor).toBe(0);
    expect(mended.mask[100 * WIDTH + 75]).toBe(0);
    expect(mended.mask[65 * WIDTH + 75]).toBe(1);
    expect(iou(before.get(3)?.mask as Uint8Array, truth(3))).toBeGreaterThan(0.97);
    expect(after.get(4)?.mask[100 * WIDTH + 80]).toBe(0);
  });

  it('takes a soft zone along with the subject, and adds to it where one is painted on the way', async () => {
    const { frame } = scene((t) => [80 + 5 * t, 80]);
    // At the upper rim of the disc; on frame 3 at the lower one too.
    const soft = (t: number, x: number, y: number): FrameStroke => ({ frame: t, kind: 'soft', radius: 9, points: [x, y] });
    const found = await all(peelShot({ plate, frame }, [keep(0, 80, 80), drop(0), soft(0, 80, 50), soft(3, 95, 110)], 0, 5));
    const has = (t: number, x: number, y: number) => found.get(t)?.zone?.[y * WIDTH + x] === 1;
    expect([has(0, 80, 50), has(0, 95, 110), has(0, 120, 50)]).toEqual([true, false, false]);
    expect([has(2, 90, 50), has(2, 78, 50), has(2, 90, 110)]).toEqual([true, false, false]);
    expect([has(5, 105, 50), has(5, 105, 110), has(5, 80, 50)]).toEqual([true, true, false]);
    // What is soft is neither kept nor dropped.
    const plain = await all(peelShot({ plate, frame }, [keep(0, 80, 80), drop(0)], 0, 5));
    for (const [t, { mask, zone }] of plain) {
      expect(zone).toBeNull();
      expect(Buffer.compare(mask, found.get(t)?.mask as Uint8Array)).toBe(0);
    }
  });

  it.each<[string, FrameStroke[], RegExp]>([
    ['only drop strokes', [drop(0)], /Nothing is kept/],
    ['a keep stroke outside the picture', [{ frame: 0, kind: 'keep', radius: 3, points: [900, 900] }, drop(0)], /outside the picture/],
    ['a keep stroke wholly painted over', [keep(0, 120, 80), { frame: 0, kind: 'drop', radius: 40, points: [100, 80, 140, 80] }], /under drop strokes/],
  ])('says what is wrong with %s', async (_name, strokes, message) => {
    const { frame } = scene(() => [120, 80]);
    const run = all(peelShot({ plate, frame }, strokes, 0, 0));
    await expect(run).rejects.toThrow(StrokesError);
    await expect(run).rejects.toThrow(message);
  });

  it.each([
    [8, 8],
    [9, 70],
    [130, 11],
  ])('takes footage of %i by %i', async (width, height) => {
    const data = new Uint8Array(4 * width * height).fill(255);
    for (let i = 0; i < width * height; i++) if (i % width < width / 2) data.set([200, 40, 20], 4 * i);
    const frame = async () => ({ width, height, data });
    const strokes: FrameStroke[] = [
      { frame: 0, kind: 'keep', radius: 1, points: [1, height / 2] },
      { frame: 0, kind: 'drop', radius: 1, points: [width - 1, height / 2] },
    ];
    const found = await all(peelShot({ plate: { width, height, frames: 3 }, frame }, strokes, 0, 2));
    for (const { mask } of found.values()) expect(mask.reduce((a, b) => a + b, 0)).toBe(Math.ceil(width / 2) * height);
  });

  it('takes a subject that is larger than the picture', async () => {
    const { frame } = scene(() => [120, 80]);
    const all1 = await all(
      peelShot({ plate, frame: async (t) => ({ ...(await frame(t)) }) }, [{ frame: 0, kind: 'keep', radius: 200, points: [120, 80] }], 0, 1),
    );
    for (const { mask } of all1.values()) expect(mask.reduce((a, b) => a + b, 0)).toBeGreaterThan(0.95 * WIDTH * HEIGHT);
  });
});
