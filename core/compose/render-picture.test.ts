import { describe, expect, it } from 'vitest';
import { whereOn } from '../../tests/where.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newSubject } from '../document/records.ts';
import type { Lane, LaneEffect, ShotDocument } from '../document/schema.ts';
import { EFFECTS } from '../effects/index.ts';
import { newLaneEffect, runEffect, settingsAt } from '../effects/lane-effect.ts';
import type { Values } from '../effects/settings.ts';
import { fromBytes, newRgba, type Rgba, toBytes } from '../image/picture.ts';
import { renderCutout } from '../matte/cutout.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 64, height: 40 };

/** Left half red, right half blue, a green stripe across. */
function plate(): Rgba {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const i = (y * SIZE.width + x) * 4;
      const stripe = y >= 18 && y < 22;
      out.data.set(stripe ? [0.1, 0.8, 0.2, 1] : x < 32 ? [0.9, 0.1, 0.1, 1] : [0.1, 0.2, 0.9, 1], i);
    }
  return out;
}
const sources: Sources = { ...NO_IMPORTS, plate: async () => plate() };

/** The subject is the left half. */
function shot(...effects: LaneEffect[]): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Left');
  subject.parts.push(newSpline('p', 'Half', [newPath('q', 0, [corner(0, 0), corner(32, 0), corner(32, 40), corner(0, 40)], true)]));
  document.cast.push(subject);
  document.lanes.push(...effects);
  return document;
}
const effect = (lane: Lane, id: string, settings: Record<string, number | number[]> = {}, mix = 1): LaneEffect => {
  const made = newLaneEffect(`${lane}-${id}`, lane, 's', id);
  return {
    ...made,
    mix: { constant: mix },
    settings: { ...made.settings, ...Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])) },
  };
};
const pixel = ({ data }: Rgba, x: number, y: number) =>
  [...data.subarray((y * SIZE.width + x) * 4, (y * SIZE.width + x) * 4 + 4)].map((v) => Math.round(v * 1000) / 1000);

describe('renderPicture', () => {
  it('is the plate where nothing is in the lanes', async () => {
    expect((await renderPicture(shot(), 0, sources, SIZE)).data).toEqual(plate().data);
  });

  it.each(['inside', 'behind'] as const)('confines an effect to its side (%s)', async (lane) => {
    const out = await renderPicture(shot(effect(lane, 'solid', { colour: [0, 1, 0] })), 0, sources, SIZE);
    const [left, right] = [pixel(out, 10, 5), pixel(out, 50, 5)];
    expect(left).toEqual(lane === 'inside' ? [0, 1, 0, 1] : [0.9, 0.1, 0.1, 1]);
    expect(right).toEqual(lane === 'behind' ? [0, 1, 0, 1] : [0.1, 0.2, 0.9, 1]);
  });

  it('lets no colour of the subject bleed into a blur behind it', async () => {
    const out = await renderPicture(shot(effect('behind', 'gaussian-blur', { x: 8, y: 0 })), 0, sources, SIZE);
    // Right beside the edge the blur has seen only blue.
    expect(pixel(out, 33, 5)).toEqual([0.1, 0.2, 0.9, 1]);
    expect(pixel(out, 31, 5)).toEqual([0.9, 0.1, 0.1, 1]);
  });

  it('blurs across and down by their own amounts', async () => {
    const across = await renderPicture(shot(effect('behind', 'gaussian-blur', { x: 6, y: 0 })), 0, sources, SIZE);
    expect(pixel(across, 50, 17)).toEqual([0.1, 0.2, 0.9, 1]);
    const down = await renderPicture(shot(effect('behind', 'gaussian-blur', { x: 0, y: 6 })), 0, sources, SIZE);
    expect(pixel(down, 50, 17)[1]).toBeGreaterThan(0.25);
  });

  it('mixes by the share asked for', async () => {
    const out = await renderPicture(shot(effect('inside', 'solid', { colour: [0.1, 0.9, 0.1] }, 0.25)), 0, sources, SIZE);
    expect(pixel(out, 10, 5)).toEqual([0.7, 0.3, 0.1, 1]);
    expect((await renderPicture(shot(effect('inside', 'solid', {}, 0)), 0, sources, SIZE)).data).toEqual(plate().data);
  });

  it('applies effects of a lane in their order, and leaves out those switched off', async () => {
    const solid = effect('inside', 'solid', { colour: [1, 0, 0] });
    const mono = effect('inside', 'monochrome');
    const first = pixel(await renderPicture(shot(solid, mono), 0, sources, SIZE), 10, 5);
    const second = pixel(await renderPicture(shot(mono, solid), 0, sources, SIZE), 10, 5);
    expect(first).toEqual([0.213, 0.213, 0.213, 1]);
    expect(second).toEqual([1, 0, 0, 1]);
    expect(pixel(await renderPicture(shot({ ...solid, enabled: false }), 0, sources, SIZE), 10, 5)).toEqual([0.9, 0.1, 0.1, 1]);
  });

  it('follows keys of a setting', async () => {
    const keyed = {
      ...effect('inside', 'solid'),
      mix: {
        keys: [
          { frame: 0, value: 0, ease: 'linear' as const },
          { frame: 8, value: 1, ease: 'linear' as const },
        ],
      },
    };
    keyed.settings = { colour: { constant: [0.1, 0.1, 0.1] } };
    expect(pixel(await renderPicture(shot(keyed), 4, sources, SIZE), 10, 5)).toEqual([0.5, 0.1, 0.1, 1]);
  });
});

describe('renderCutout', () => {
  it('is the plate times the matte, premultiplied', async () => {
    const out = await renderCutout(shot(), 's', 0, sources, SIZE);
    expect(pixel(out, 10, 5)).toEqual([0.9, 0.1, 0.1, 1]);
    expect(pixel(out, 50, 5)).toEqual([0, 0, 0, 0]);
  });
});

/** An effect on a layer, with settings that do not change. */
function run(id: string, layer: Rgba, settings: Record<string, Values[string]>, frame = 0, scale = 1): void {
  const item = { ...effect('inside', id), settings: Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])) } as LaneEffect;
  runEffect(layer, item, whereOn(SIZE, { frame, scale }));
}

describe('effects', () => {
  it.each(EFFECTS.map((e) => [e.id, e] as const))(
    '%s gives premultiplied values for every end of its settings: alpha of 0 to 1, and no colour beyond it',
    (_id, made) => {
      const ends = (end: 'min' | 'max') =>
        Object.fromEntries(
          Object.entries(made.settings).map(([k, s]) => [
            k,
            s.kind === 'number' ? s[end] : s.kind === 'colour' ? s.start.map(() => (end === 'min' ? 0 : 1)) : s.start,
          ]),
        );
      for (const end of ['min', 'max'] as const) {
        const layer = plate();
        run(made.id, layer, ends(end), 0, 0.5);
        for (let i = 0; i < layer.data.length; i += 4) {
          const alpha = layer.data[i + 3];
          expect(alpha >= 0 && alpha <= 1 + 1e-6).toBe(true);
          for (let k = i; k < i + 3; k++) expect(layer.data[k] >= -1e-6 && layer.data[k] <= alpha + 1e-5).toBe(true);
        }
      }
    },
  );

  it('grade: one stop up is the gain it says, no saturation is grey', () => {
    const up = plate();
    run('grade', up, { exposure: 1, saturation: 100 });
    expect(up.data[2]).toBeCloseTo(0.1 * 2 ** (1 / 2.2), 5);
    const grey = plate();
    run('grade', grey, { exposure: 0, saturation: 0 });
    expect(grey.data[0]).toBeCloseTo(grey.data[1], 6);
    expect(grey.data[1]).toBeCloseTo(grey.data[2], 6);
  });

  it('break-up moves bands aside within what it is given, the same on every machine, and holds for as long as it is told', () => {
    const settings = { share: 100, size: 4, shift: 10, part: 2, every: 3, seed: 5 };
    const at = (frame: number, more: object = {}): Float32Array => {
      const layer = plate();
      // The right half is empty, as outside a matte.
      for (let i = 0; i < layer.data.length; i += 4) if ((i / 4) % SIZE.width >= 32) layer.data.fill(0, i, i + 4);
      run('break-up', layer, { ...settings, ...more }, frame);
      return layer.data;
    };
    expect(at(1)).toEqual(at(0));
    expect(at(3)).not.toEqual(at(0));
    expect(at(0, { seed: 6 })).not.toEqual(at(0));
    // Keyed, a slower change begins where the quicker one was: no band of before is drawn anew.
    const keyed = {
      ...effect('inside', 'break-up'),
      settings: { every: { keys: [0, 6].map((f) => ({ frame: f, value: f === 0 ? 2 : 4, ease: 'hold' as const })) } },
    };
    const keyedAt = (frame: number) => {
      const layer = plate();
      runEffect(layer, keyed, whereOn(SIZE, { frame }));
      return layer.data;
    };
    const changes = Array.from({ length: 17 }, (_, f) => f + 1).filter(
      (f) => Buffer.compare(Buffer.from(keyedAt(f).buffer), Buffer.from(keyedAt(f - 1).buffer)) !== 0,
    );
    expect(changes).toEqual([2, 4, 6, 10, 14]);
    const first = at(0);
    let brightest = 0;
    for (let i = 0; i < first.length; i += 4) for (let k = 0; k < 3; k++) brightest = Math.max(brightest, first[i + k] - first[i + 3]);
    expect(brightest).toBeLessThanOrEqual(0);
    const still = plate();
    run('break-up', still, { ...settings, share: 0 });
    expect(still.data).toEqual(plate().data);
  });

  it('spot is brightest at its place, which a track carries, and leaves what is beyond its radius', async () => {
    const document = shot(effect('behind', 'spot', { x: 40, y: 20, radius: 6, softness: 50, exposure: 1, around: 0 }));
    const track = newPointTrack({ id: 'track', name: 'Lamp', frame: 0, lines: 40 }, 5, 5);
    const place = (frame: number, x: number) => ({ frame, value: { at: [x, 5], quality: 1 }, ease: 'linear' as const });
    track.motion = { keys: [place(0, 5), place(9, 15)] };
    document.tracks.push(track);
    document.lanes[0].follow = { track: 'track', frame: 0, takes: ['position'] };
    const blue = async (frame: number, x: number) => pixel(await renderPicture(document, frame, sources, SIZE), x, 14)[0];
    expect([await blue(0, 40), await blue(0, 50), await blue(9, 50), await blue(9, 40)]).toEqual([
      expect.closeTo(0.1 * 2 ** (1 / 2.2), 1),
      0.1,
      expect.any(Number),
      0.1,
    ]);
    expect(await blue(9, 50)).toBeGreaterThan(0.105);
  });

  it('are there on the frames on which they live alone', async () => {
    const document = shot({
      ...effect('inside', 'solid', { colour: [0, 1, 0] }),
      lives: [
        { first: 2, last: 3 },
        { first: 7, last: 7 },
      ],
    });
    const green = async (frame: number) => pixel(await renderPicture(document, frame, sources, SIZE), 10, 5)[1];
    expect(await Promise.all([1, 2, 3, 4, 7].map(green))).toEqual([0.1, 1, 1, 0.1, 1]);
  });

  it('keep within the ranges of their settings and start as described where a record lacks one', () => {
    const item = { ...newLaneEffect('x', 'inside', 's', 'gaussian-blur'), settings: { x: { constant: 1e5 } } };
    expect(settingsAt(item, 0)).toEqual({ x: 200, y: 8 });
  });
});

describe('bytes', () => {
  it('survive the way to floats and back', () => {
    const bytes = Uint8ClampedArray.from({ length: 256 * 4 }, (_, i) => (i % 4 === 3 ? 255 : (i * 7) % 256));
    expect(toBytes(fromBytes(bytes, 16, 16))).toEqual(bytes);
  });
});
