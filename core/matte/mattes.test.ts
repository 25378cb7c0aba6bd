import { expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { ShotDocument } from '../document/schema.ts';
import { corner, type Shape } from '../path/path.ts';
import { mattesOf } from './mattes.ts';
import { renderMatte } from './render-matte.ts';
import { NO_IMPORTS } from './sources.ts';

const SIZE = { width: 64, height: 36 };
const box = (x: number): Shape => [corner(x, 5), corner(x + 20, 5), corner(x + 20, 25), corner(x, 25)];

function example(change: (document: ShotDocument) => void): ShotDocument {
  const document = newDocument('Shot', { ...SIZE, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Subject');
  subject.parts.push(newSpline('p', 'Box', [newPath('q', 0, box(10), true)]));
  document.cast.push(subject);
  change(document);
  return document;
}
const splineOf = (document: ShotDocument) => document.cast[0].parts[0] as ReturnType<typeof newSpline>;

it('gives one matte for all frames of a subject that stands still', async () => {
  const mattes = mattesOf(
    example(() => {}),
    NO_IMPORTS,
    SIZE,
  );
  expect(await mattes('s', 3)).toBe(await mattes('s', 12));
});

const keyed = <T>(value: (frame: number) => T) => ({ keys: [0, 19].map((frame) => ({ frame, value: value(frame), ease: 'linear' as const })) });
it.each<[string, (document: ShotDocument) => void]>([
  ['stands still', () => {}],
  ['is keyed', (d) => void Object.assign(splineOf(d).paths[0], { shape: keyed(box) })],
  ['fades', (d) => void Object.assign(splineOf(d), { opacity: keyed((frame) => frame / 19) })],
  ['is there at times', (d) => void Object.assign(splineOf(d), { range: { first: 4, last: 9 } })],
  ['has an edge that changes', (d) => void Object.assign(d.cast[0].edge, { grow: keyed((frame) => frame / 4) })],
])('gives of a subject that %s what is rendered anew', async (_what, change) => {
  const document = example(change);
  const mattes = mattesOf(document, NO_IMPORTS, SIZE);
  for (const frame of [3, 6, 3, 12]) expect((await mattes('s', frame)).data).toEqual((await renderMatte(document, 's', frame, NO_IMPORTS, SIZE)).data);
});
