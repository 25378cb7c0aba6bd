/** How outputs are handed over: several in one pass, sizes, handles, names, numbers and a note in the picture. */
import { execFileSync } from 'node:child_process';
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PLAIN_DELIVERY } from '../../core/document/delivery.ts';
import type { Edit } from '../../core/document/edits.ts';
import { newSpline } from '../../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../../core/document/records.ts';
import { corner } from '../../core/path/path.ts';
import { bringIn, ended, ffmpeg, ffprobe, openTestServices, rawFrames, type TestServices } from '../../tests/services.ts';
import { outputSpecSchema } from './formats/index.ts';
import { materialWith } from './shown-shots.ts';
import { writeOutput } from './write-output.ts';

let services: TestServices;
let shotId: string;
const [WIDTH, HEIGHT] = [192, 108];

beforeAll(async () => {
  services = await openTestServices();
  const file = path.join(services.dir, 'tide.mkv');
  ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=${WIDTH}x${HEIGHT}:r=24:d=2.5,format=gbrp`, '-c:v', 'ffv1', file);
  shotId = (await bringIn(services, [{ name: 'tide.mkv', bytes: await readFile(file) }])).shotId;
  const subject = newSubject('s', 'Säule 2');
  const square = newPath('q', 0, [], true);
  const at = (x: number) => [corner(x, 21), corner(x + 50, 24), corner(x + 30, 77)];
  square.shape = { keys: [0, 59].map((frame) => ({ frame, value: at(10 + frame), ease: 'linear' as const })) };
  subject.parts.push(newSpline('p', 'Body', [square]));
  subject.edge.featherOut = { constant: 4 };
  const change = { id: 'a', label: 'Example', edits: [{ kind: 'insert' as const, parent: 'cast', index: 0, record: subject }] };
  await services.changes.apply(shotId, { role: 'do', page: 'p', change });
});
afterAll(() => services.end());

const matte = { kind: 'matte-png', subject: 's', bits: 16, first: 20, last: 39 };
const composed = { kind: 'composed-png', bits: 8, first: 20, last: 39 };

async function write(...outputs: object[]) {
  const ids = await services.outputs.requestAll(services.queue, shotId, { outputs });
  for (const id of ids) expect(await ended(services, id)).toMatchObject({ state: 'done', message: null });
  const jobs = await services.outputs.list(services.queue, shotId);
  return ids.map((id) => jobs.find((j) => j.job.id === id)?.outputs ?? []);
}
const delivered = (some: object) => ({ ...PLAIN_DELIVERY, ...some });
const pictures = async (folder: string) => (await readdir(folder)).filter((f) => f.endsWith('.png')).sort();

describe('outputs of one pass', () => {
  it('are one job with a folder for each, and the same to the byte as each alone', async () => {
    const [[alone]] = await write(matte);
    const [together, ...more] = await write(matte, { kind: 'cutout-prores', subject: 's', alpha: 'straight', first: 20, last: 39 }, composed);
    expect(more).toEqual([]);
    expect(together.map((o) => [path.basename(o.folder), o.part, o.checked?.frames])).toEqual([
      ['1-matte-png', '1-matte-png', 20],
      ['2-cutout-prores', '2-cutout-prores', 20],
      ['3-composed-png', '3-composed-png', 20],
    ]);
    expect(await pictures(together[0].folder)).toEqual(await pictures(alone.folder));
    for (const name of await pictures(alone.folder))
      expect(await readFile(path.join(together[0].folder, name))).toEqual(await readFile(path.join(alone.folder, name)));
    expect(ffprobe(path.join(together[1].folder, together[1].files[0])).frames).toBe(20);
    for (const { folder } of together) execFileSync('sha256sum', ['--quiet', '-c', 'hashes.sha256'], { cwd: folder });
    const id = path.basename(path.dirname(together[0].folder));
    const zip = Buffer.from(await new Response(await services.outputs.zip(services.queue, id)).arrayBuffer());
    for (const { files, part } of together) for (const name of files) expect(zip.includes(`${part}/${name}`)).toBe(true);
    const { bytes } = await services.outputs.file(id, together[0].files[0], together[0].part);
    expect(bytes).toBeGreaterThan(100);
    for (const part of ['..', '.', '../..', '1-matte-png/..']) await expect(services.outputs.file(id, 'output.json', part)).rejects.toThrow();
  });

  it('of other frames are a job of their own', async () => {
    expect((await write(matte, { ...composed, last: 30 })).map((outputs) => outputs.length)).toEqual([1, 1]);
    const ask = (outputs: object[]) => services.outputs.requestAll(services.queue, shotId, { outputs });
    await expect(ask([])).rejects.toThrow();
    await expect(ask([matte, { ...composed, last: 60 }])).rejects.toThrow('This shot ends at frame 59.');
    await expect(ask(Array.from({ length: 21 }, () => matte))).rejects.toThrow('Twenty outputs at most');
  });
});

it('beyond the end of the shot is refused, and not cut down to what there is', async () => {
  const { document } = await services.changes.load(shotId);
  const task = { ...(await materialWith(shotId, document, {}, services)), spec: outputSpecSchema.parse({ ...matte, last: 75 }), directory: services.dir };
  await expect(writeOutput(task, { onProgress: () => {} })).rejects.toThrow('This shot ends at frame 59.');
});

describe('an output', () => {
  it('of half the size is the mean of what each pixel covers, and its movie has that size', async () => {
    const [[full], [half], [movie]] = [
      await write(matte),
      await write({ ...matte, delivery: delivered({ size: 'half' }) }),
      await write({ kind: 'composed-mp4', sound: false, timed: false, first: 20, last: 39, delivery: delivered({ size: 500 }) }),
    ].map(([outputs]) => outputs);
    const small = rawFrames(path.join(half.folder, half.files[7]), 'gray16le');
    const large = rawFrames(path.join(full.folder, full.files[7]), 'gray16le');
    expect(small.length).toBe((WIDTH / 2) * (HEIGHT / 2) * 2);
    let edge = 0;
    for (let y = 0; y < HEIGHT / 2; y++)
      for (let x = 0; x < WIDTH / 2; x++) {
        const at = (dx: number, dy: number) => large.readUInt16LE(2 * ((2 * y + dy) * WIDTH + 2 * x + dx));
        const mean = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
        if (mean > 6000 && mean < 60_000) edge++;
        expect(Math.abs(small.readUInt16LE(2 * (y * (WIDTH / 2) + x)) - mean)).toBeLessThan(2);
      }
    expect(edge).toBeGreaterThan(50);
    expect(ffprobe(path.join(movie.folder, movie.files[0])).stream).toMatchObject({ width: 500, height: 282 });
  });

  it('has handles as far as the shot does, and says which frames they are', async () => {
    const [[a]] = await write({ ...matte, delivery: delivered({ handles: 5 }) });
    expect(await pictures(a.folder)).toHaveLength(30);
    expect(a.files[0]).toBe('saule-2-matte.0015.png');
    const sidecar = JSON.parse(await readFile(path.join(a.folder, 'output.json'), 'utf8'));
    expect(sidecar).toMatchObject({ output: { first: 20, last: 39 }, frames: { first: 15, last: 44 }, picture: { frames: 30, firstNumber: 15 } });
    const [[b]] = await write({ ...matte, first: 2, last: 57, delivery: delivered({ handles: 8 }) });
    expect(await pictures(b.folder)).toHaveLength(60);
  });

  it('is called and numbered as asked', async () => {
    const [[a]] = await write({ ...matte, delivery: delivered({ name: '{shot}_{subject}_{frame}_v3', start: 1001, digits: 6 }) });
    expect([a.files[0], a.files[19]]).toEqual(['tide_Saule-2_001001_v3.png', 'tide_Saule-2_001020_v3.png']);
    const [[b]] = await write({
      kind: 'composed-mp4',
      sound: false,
      timed: false,
      first: 20,
      last: 39,
      delivery: delivered({ name: '{what}.{size}.{first}-{last}' }),
    });
    expect(b.files[0]).toBe('composed.192x108.20-39.mp4');
    await expect(services.outputs.request(services.queue, shotId, { ...matte, delivery: delivered({ name: '../{shot}' }) })).rejects.toThrow(
      'It names no folder',
    );
  });

  it('has a note along its lower edge where that is asked for, and nothing else changed', async () => {
    const [[plain], [noted]] = [await write(composed), await write({ ...composed, delivery: delivered({ note: true }) })].map(([outputs]) => outputs);
    const [a, b] = [plain, noted].map((o) => rawFrames(path.join(o.folder, o.files[3]), 'rgb24'));
    const line = WIDTH * 3;
    const changed = Array.from({ length: HEIGHT }, (_, y) => !a.subarray(y * line, (y + 1) * line).equals(b.subarray(y * line, (y + 1) * line)));
    // A band of type of 8 pixels.
    expect(changed.indexOf(true)).toBe(HEIGHT - 15);
    const band = b.subarray((HEIGHT - 12) * line);
    expect(Math.max(...band)).toBeGreaterThan(200);
    // The number of the frame changes from picture to picture.
    expect(
      rawFrames(path.join(noted.folder, noted.files[4]), 'rgb24')
        .subarray((HEIGHT - 12) * line)
        .equals(band),
    ).toBe(false);
    await expect(services.outputs.request(services.queue, shotId, { ...matte, delivery: delivered({ note: true }) })).rejects.toThrow(
      'Nothing can be written into "Matte, PNG sequence"',
    );
  });
});

describe('the mattes of all subjects', () => {
  const apply = (id: string, edits: object[]) =>
    services.changes.apply(shotId, { role: 'do', page: 'p', change: { id, label: 'Example', edits: edits as Edit[] } });
  const subject = (id: string, name: string, x: number) => {
    const made = newSubject(id, name);
    const square = newPath(`${id}q`, 0, [], true);
    square.shape = { constant: [corner(x, 10), corner(x + 40, 10), corner(x + 40, 50), corner(x, 50)] };
    made.parts.push(newSpline(`${id}p`, 'Body', [square]));
    return { kind: 'insert', parent: 'cast', index: 0, record: made };
  };
  const frames = { first: 20, last: 22 };

  it('are layers of one EXR, each the same as its matte alone', async () => {
    await apply('b', [subject('t', 'Tern', 120), subject('u', 'Säule 2', 60)]);
    const { cast } = (await services.changes.load(shotId)).document;
    const [[all]] = await write({ kind: 'mattes-exr', numbers: 'float', ...frames });
    expect(all.checked?.frames).toBe(3);
    const layers: Record<string, string> = { s: 'saule-2-2', t: 'tern', u: 'saule-2' };
    for (const { id } of cast) {
      const [[alone]] = await write({ kind: 'matte-ffv1', subject: id, ...frames });
      const gray = rawFrames(path.join(alone.folder, alone.files[0]), 'gray16le').subarray(0, WIDTH * HEIGHT * 2);
      const args = ['-v', 'error', '-layer', layers[id], '-i', path.join(all.folder, all.files[0]), '-f', 'rawvideo', '-pix_fmt', 'grayf32le', '-'];
      const float = execFileSync('ffmpeg', args, { maxBuffer: 1 << 26 });
      for (let p = 0; p < WIDTH * HEIGHT; p++) expect(Math.abs(float.readFloatLE(4 * p) - gray.readUInt16LE(2 * p) / 65535)).toBeLessThan(1e-5);
    }
  });

  it('are red, green and blue of one picture, and refused where there are more', async () => {
    const { cast } = (await services.changes.load(shotId)).document;
    const [[rgb]] = await write({ kind: 'mattes-rgb-png', bits: 16, ...frames });
    const wide = rawFrames(path.join(rgb.folder, rgb.files[1]), 'rgb48le');
    for (const [c, { id }] of cast.entries()) {
      const [[alone]] = await write({ kind: 'matte-png', subject: id, bits: 16, ...frames });
      const gray = rawFrames(path.join(alone.folder, alone.files[1]), 'gray16le');
      for (let p = 0; p < WIDTH * HEIGHT; p++) expect(Math.abs(wide.readUInt16LE(6 * p + 2 * c) - gray.readUInt16LE(2 * p))).toBeLessThanOrEqual(1);
    }
    await apply('c', [subject('v', 'Lamp', 5)]);
    await expect(services.outputs.request(services.queue, shotId, { kind: 'mattes-rgb-png', bits: 8, ...frames })).rejects.toThrow('This shot has 4 subjects');
    await apply('d', [...cast.map(({ id }) => ({ kind: 'remove', id })), { kind: 'remove', id: 'v' }]);
    for (const kind of ['mattes-exr', 'mattes-rgb-tiff'])
      await expect(services.outputs.request(services.queue, shotId, { kind, ...frames })).rejects.toThrow('There is no subject in this shot yet');
  });
});
