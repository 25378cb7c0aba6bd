/** Other footage under the work of a shot. */
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newSubject } from '../core/document/records.ts';
import { bringIn, ended, ffmpeg, openTestServices, rawFrames, type TestServices, until } from '../tests/services.ts';

let services: TestServices;

async function take(name: string, colour: string, size: string, seconds: number): Promise<string> {
  const file = path.join(services.dir, name);
  ffmpeg('-f', 'lavfi', '-i', `color=${colour}:s=${size}:r=24:d=${seconds}`, '-f', 'lavfi', '-i', `sine=d=${seconds}`, '-pix_fmt', 'yuv420p', file);
  return (await bringIn(services, [{ name, bytes: await readFile(file) }])).shotId;
}
const documentOf = async (shotId: string) => (await services.changes.load(shotId)).document;

/** The mean of red, green and blue in what is written of the picture. */
async function colourOf(shotId: string, frame: number): Promise<number[]> {
  const id = await services.outputs.request(services.queue, shotId, { kind: 'composed-png', bits: 8, first: frame, last: frame });
  expect(await ended(services, id)).toMatchObject({ state: 'done' });
  const [output] = (await services.outputs.list(services.queue, shotId)).find((o) => o.job.id === id)?.outputs ?? [];
  const rgb = rawFrames(path.join(output.folder, output.files[0]), 'rgb24');
  return [rgb[0], rgb[1], rgb[2]];
}

let one: string;
let other: string;
beforeAll(async () => {
  services = await openTestServices();
  one = await take('first.mp4', '0xC02020', '64x36', 1);
  other = await take('longer.mp4', '0x2020C0', '64x36', 2);
  const change = { id: 'a', label: 'Example', edits: [{ kind: 'insert' as const, parent: 'cast', index: 0, record: newSubject('s', 'Courier') }] };
  await services.changes.apply(one, { role: 'do', page: 'p', change });
});
afterAll(() => services.end());

describe('swapping footage', () => {
  it('puts the work of each shot on the footage of the other, tells its pages, and is taken back by doing it again', async () => {
    const plate = (await documentOf(one)).plate;
    const told: string[] = [];
    const ends = [one, other].map((id) => services.changes.subscribeToFootage(id, () => told.push(id)));
    await services.swapFootage(one, other);
    for (const end of ends) end();
    expect(told.sort()).toEqual([one, other].sort());
    expect(await documentOf(one)).toMatchObject({ plate: { ...plate, frames: 48 }, cast: [{ name: 'Courier' }] });
    expect(await documentOf(other)).toMatchObject({ plate: { frames: 24 }, cast: [] });
    const [r, , b] = await colourOf(one, 40);
    expect(b - r).toBeGreaterThan(100);
    await expect(services.outputs.request(services.queue, other, { kind: 'composed-png', bits: 8, first: 0, last: 40 })).rejects.toThrow('ends at frame 23');
    // Undo still reaches what was done before.
    await services.changes.apply(one, { role: 'undo', page: 'p', id: 'b', target: 'a' });
    expect((await documentOf(one)).cast).toEqual([]);
    await services.changes.apply(one, { role: 'redo', page: 'p', id: 'c', target: 'a' });
    await services.swapFootage(other, one);
    expect((await documentOf(one)).plate).toEqual(plate);
    const back = await colourOf(one, 3);
    expect(back[0] - back[2]).toBeGreaterThan(100);
  });

  it('is refused in words: another size, the same shot, one that is gone, and while something works on it', async () => {
    const wide = await take('wide.mp4', 'gray', '128x36', 0.5);
    await expect(services.swapFootage(one, wide)).rejects.toThrow('The footage of "first" is 64×36, that of "wide" 128×36');
    await expect(services.swapFootage(one, one)).rejects.toThrow('Choose another shot');
    await expect(services.swapFootage(one, 'nowhere')).rejects.toThrow();
    const id = await services.outputs.request(services.queue, one, { kind: 'composed-mp4', sound: false, first: 0, last: 23 });
    await expect(services.swapFootage(one, other)).rejects.toThrow('Something still works on "first" (writing)');
    await ended(services, id);
  });

  it('twice at once ends where it began', async () => {
    const before = await documentOf(one);
    await Promise.all([services.swapFootage(one, other), services.swapFootage(other, one)]);
    expect(await documentOf(one)).toEqual(before);
  });
});

it('frames are dropped and built again from what was brought in, sound too', async () => {
  const { plate } = await services.shots.shot(one);
  const before = await services.shots.storedFrame(plate.id, 'full', '5');
  const sound = await services.shots.soundOf(plate.id, 'sound');
  await services.buildFramesAnew(one);
  expect(existsSync(sound)).toBe(false);
  await until(async () => (await services.shots.shot(one)).plate.state === 'ready');
  expect(await services.shots.storedFrame(plate.id, 'full', '5')).toEqual(before);
  expect(existsSync(await services.shots.soundOf(plate.id, 'sound'))).toBe(true);
  expect((await documentOf(one)).cast).toHaveLength(1);
});
