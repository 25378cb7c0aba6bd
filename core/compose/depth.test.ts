/** The order of depth: random casts, lanes and mattes against a plain twin that looks from near to far instead. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newImported } from '../document/part-kinds/imported.ts';
import { newDocument, newSubject } from '../document/records.ts';
import type { Lane, LaneItem, ShotDocument } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newGray, newRgba, type Rgba } from '../image/picture.ts';
import { randomFrom } from '../math/random.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 12, height: 8 };
const PIXELS = SIZE.width * SIZE.height;
const COLOUR = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 3, maxLength: 3 });

/** A matte that is 0, 1 and between, by the id of its footage. */
function matteOf(footage: string): Float32Array {
  const random = randomFrom(Number(footage.slice(1)));
  const { data } = newGray(SIZE.width, SIZE.height);
  return data.map(() => Math.min(1, Math.max(0, 2 * random() - 0.5)));
}
const plateRandom = randomFrom(77);
const PLATE: Rgba = newRgba(SIZE.width, SIZE.height);
for (let i = 0; i < PLATE.data.length; i += 4) PLATE.data.set([plateRandom(), plateRandom(), plateRandom(), 1], i);

const sources: Sources = {
  ...NO_IMPORTS,
  plate: async () => PLATE,
  imported: async (footage) => ({ ...SIZE, data: matteOf(footage) }),
};

interface Put {
  lane: Lane;
  subject: number;
  kind: 'card' | 'solid';
  colour: number[];
  mix: number;
}

function shotOf(subjects: number[], puts: Put[]): ShotDocument {
  const document = newDocument('Depth', { ...SIZE, frames: 1, rate: { num: 24, den: 1 }, firstNumber: 0 });
  for (const seed of subjects) document.cast.push({ ...newSubject(`s${seed}`, `Subject ${seed}`), parts: [newImported(`p${seed}`, 'Matte', `m${seed}`, 1)] });
  document.lanes = puts.map(({ lane, subject, kind, colour, mix }, i): LaneItem => {
    const of = lane === 'inside' || lane === 'behind' ? document.cast[subject % subjects.length].id : null;
    if (kind === 'solid') return { ...newLaneEffect(`i${i}`, lane, of, 'solid'), mix: { constant: mix }, settings: { colour: { constant: colour } } };
    const card = newElement(document, `i${i}`, lane, of, 'card');
    const settings = { ...card.settings, width: { constant: 99 }, height: { constant: 99 }, colours: { constant: '1' }, colour1: { constant: colour } };
    return { ...card, mix: { constant: mix }, settings };
  });
  return document;
}

/** What is seen through a stack of sheets, the nearest first: each adds its colour as far as those before it let it through. */
function through(sheets: { colour: ArrayLike<number>; alpha: number }[]): number[] {
  const seen = [0, 0, 0];
  let open = 1;
  for (const { colour, alpha } of sheets) {
    for (let k = 0; k < 3; k++) seen[k] += open * alpha * colour[k];
    open *= 1 - alpha;
  }
  return seen;
}

function twin(document: ShotDocument, p: number): number[] {
  const plate = { colour: PLATE.data.subarray(4 * p, 4 * p + 3), alpha: 1 };
  const sheetsIn = (lane: Lane, subject: string | null) =>
    document.lanes
      .filter((item) => item.lane === lane && item.subject === subject)
      .reverse()
      .map((item) => ({
        colour: (item.settings[item.type === 'effect' ? 'colour' : 'colour1'] as { constant: number[] }).constant,
        alpha: (item.mix as { constant: number }).constant,
      }));
  return through([
    ...sheetsIn('front', null),
    ...document.cast.flatMap((s) => [
      { colour: through([...sheetsIn('inside', s.id), plate]), alpha: matteOf(`m${s.id.slice(1)}`)[p] },
      ...sheetsIn('behind', s.id),
    ]),
    ...sheetsIn('backdrop', null),
    plate,
  ]);
}

describe('depth', () => {
  it('is that of sheets one behind the other: what is nearer covers what is farther, in all lanes', async () => {
    const put = fc.record({
      lane: fc.constantFrom<Lane>('front', 'inside', 'behind', 'backdrop'),
      subject: fc.nat(5),
      kind: fc.constantFrom('card' as const, 'solid' as const),
      colour: COLOUR,
      mix: fc.oneof(fc.constant(1), fc.double({ min: 0.05, max: 1, noNaN: true })),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 4 }),
        fc.array(put, { maxLength: 7 }),
        async (subjects, puts) => {
          const document = shotOf(subjects, puts);
          const { data } = await renderPicture(document, 0, sources, SIZE);
          for (let p = 0; p < PIXELS; p++) {
            const expected = twin(document, p);
            for (let k = 0; k < 3; k++) if (Math.abs(data[4 * p + k] - expected[k]) > 2e-5) return false;
            if (data[4 * p + 3] !== 1) return false;
          }
          return true;
        },
      ),
      { numRuns: 300 },
    );
  });

  it('lets nothing of what is wholly covered in its own lane through at a soft edge', async () => {
    const document = shotOf(
      [5],
      [
        { lane: 'behind', subject: 0, kind: 'card', colour: [1, 0, 0], mix: 1 },
        { lane: 'behind', subject: 0, kind: 'card', colour: [0, 0, 1], mix: 1 },
      ],
    );
    const alone = { ...document, lanes: document.lanes.slice(1) };
    const [both, one] = [await renderPicture(document, 0, sources, SIZE), await renderPicture(alone, 0, sources, SIZE)];
    expect(both.data).toEqual(one.data);
  });
});
