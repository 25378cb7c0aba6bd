import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readdir, readFile, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { renderPicture } from '../../core/compose/render-picture.ts';
import { newSpline } from '../../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../../core/document/records.ts';
import { type Element, type Lane, type ShotDocument, type ShownFootage, timingSchema } from '../../core/document/schema.ts';
import { newLaneEffect } from '../../core/effects/lane-effect.ts';
import { newElement } from '../../core/elements/index.ts';
import { fromBytes, matteTo8, matteTo16, type Size } from '../../core/image/picture.ts';
import { renderCutout } from '../../core/matte/cutout.ts';
import { renderMatte } from '../../core/matte/render-matte.ts';
import { NO_IMPORTS } from '../../core/matte/sources.ts';
import { corner, smooth } from '../../core/path/path.ts';
import { bringIn, ended, ffmpeg, ffprobe, openTestServices, rawFrames, type TestServices, until } from '../../tests/services.ts';
import { Job } from '../db/models.ts';
import { EmbeddedQueue } from '../jobs/embedded-queue.ts';
import { type OutputSpec, SEGMENT } from './format.ts';
import { outputSpecSchema } from './formats/index.ts';
import { rangesOf } from './ranges.ts';
import { letters } from './titles.ts';
import { writeOutput } from './write-output.ts';

const SIZE = { width: 192, height: 108 };
let services: TestServices;
let shotId: string;
let plateRgba: (frame: number) => Uint8Array;

beforeAll(async () => {
  services = await openTestServices();
  const file = path.join(services.dir, 'clip.mkv');
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=192x108:r=24000/1001:d=3',
    '-f',
    'lavfi',
    '-i',
    'sine=f=440:d=3',
    '-vf',
    'gblur=sigma=1.5,scale=out_color_matrix=bt709:out_range=tv,format=yuv444p',
    '-c:v',
    'ffv1',
    '-colorspace',
    'bt709',
    '-color_range',
    'tv',
    '-c:a',
    'aac',
    '-shortest',
    file,
  );
  shotId = (await bringIn(services, [{ name: 'clip.mkv', bytes: await readFile(file) }])).shotId;
  const rgb = rawFrames(file, 'rgb24', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc:flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp');
  plateRgba = (frame) => {
    const out = new Uint8Array(SIZE.width * SIZE.height * 4).fill(255);
    for (let p = 0; p < SIZE.width * SIZE.height; p++) for (let c = 0; c < 3; c++) out[p * 4 + c] = rgb[(frame * SIZE.width * SIZE.height + p) * 3 + c];
    return out;
  };
  const subject = newSubject('s', 'Storm lantern');
  const path0 = newPath('q', 0, [], true);
  const shape = (x: number) => [smooth(x, 30, 12, 0), corner(x + 60, 40), smooth(x + 40, 90, -20, 6)];
  path0.shape = {
    keys: [
      { frame: 0, value: shape(20), ease: 'linear' },
      { frame: 60, value: shape(90), ease: 'linear' },
    ],
  };
  subject.parts.push(newSpline('p', 'Body', [path0]));
  subject.edge.featherOut = { constant: 4 };
  subject.edge.featherIn = { constant: 2 };
  const blur = newLaneEffect('b', 'behind', 's', 'gaussian-blur');
  await services.changes.apply(shotId, {
    role: 'do',
    page: 'p',
    change: {
      id: 'a',
      label: 'Example',
      edits: [
        { kind: 'insert', parent: 'cast', index: 0, record: subject },
        { kind: 'insert', parent: 'lanes', index: 0, record: blur },
      ],
    },
  });
});
afterAll(() => services.end());

const documentNow = async (): Promise<ShotDocument> => (await services.changes.load(shotId)).document;
const sources = { ...NO_IMPORTS, plate: async (frame: number) => fromBytes(plateRgba(frame), SIZE.width, SIZE.height) };
async function write(spec: object): Promise<{ dir: string; files: string[]; jobId: string }> {
  const jobId = await services.outputs.request(services.queue, shotId, spec);
  const job = await ended(services, jobId);
  expect(job.message).toBeNull();
  const dir = services.outputs.directory(jobId);
  return { dir, files: (await readdir(dir)).sort(), jobId };
}

/** Largest and mean difference of two rows of numbers. */
function difference(a: ArrayLike<number>, b: ArrayLike<number>): { most: number; mean: number } {
  expect(a.length).toBe(b.length);
  let most = 0;
  let sum = 0;
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i] - b[i]);
    if (d > most) most = d;
    sum += d;
  }
  return { most, mean: sum / a.length };
}

const luma = (rgba: ArrayLike<number>) =>
  Float64Array.from({ length: rgba.length / 4 }, (_, i) => 0.2126 * rgba[4 * i] + 0.7152 * rgba[4 * i + 1] + 0.0722 * rgba[4 * i + 2]);

describe('an output that is written by several threads', () => {
  async function taskFor(spec: OutputSpec, directory: string, threads: number) {
    const { plate } = await services.shots.shot(shotId);
    const footage = { probe: services.shots.probeOf(plate), originals: services.shots.originals(plate.id) };
    return { document: await documentNow(), spec, directory, footage, threads };
  }

  it('begins its ranges where pieces begin, and leaves no frame out', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 9 }), (first, count, most) => {
        const last = first + count - 1;
        const ranges = rangesOf({ first, last }, most);
        expect(ranges.length).toBeLessThanOrEqual(most);
        expect(ranges.flatMap((r) => Array.from({ length: r.last - r.first + 1 }, (_, k) => r.first + k))).toEqual(
          Array.from({ length: count }, (_, k) => first + k),
        );
        for (const range of ranges) expect((range.first - first) % SEGMENT).toBe(0);
      }),
    );
  });

  it.each(['composed-mp4', 'matte-png'])('is what one thread writes, frame for frame, and tells how far it is: %s', async (kind) => {
    const options = kind === 'matte-png' ? { subject: 's', bits: 8 } : { sound: false };
    const spec = outputSpecSchema.parse({ kind, first: 2, last: 68, ...options });
    const made = await Promise.all(
      [1, 3].map(async (threads) => {
        const directory = path.join(services.dir, `${kind}-by-${threads}`);
        const told: number[] = [];
        const { files } = await writeOutput(await taskFor(spec, directory, threads), { onProgress: (done) => told.push(done) });
        expect(told.at(-1)).toBe(67);
        expect(told).toEqual([...told].sort((a, b) => a - b));
        return { directory, files };
      }),
    );
    expect(made[1].files).toEqual(made[0].files);
    expect((await readdir(made[1].directory)).sort()).toEqual((await readdir(made[0].directory)).sort());
    for (const name of made[0].files.filter((f) => f !== 'output.json' && f !== 'hashes.sha256')) {
      const both = made.map(({ directory }) => path.join(directory, name));
      if (kind === 'matte-png') expect((await readFile(both[1])).equals(await readFile(both[0])), name).toBe(true);
      else {
        const [one, three] = both.map((file) => rawFrames(file, 'rgb24'));
        expect(three.length).toBe(67 * SIZE.width * SIZE.height * 3);
        // Encoders of one and of two threads differ by a hair.
        expect(difference(three, one).mean).toBeLessThan(0.5);
      }
    }
  });

  it.each(['before it begins', 'in its middle'])('stops where it is asked to %s, and goes on from there the next time', async (when) => {
    const spec = outputSpecSchema.parse({ kind: 'composed-mp4', first: 0, last: 70, sound: false });
    const task = await taskFor(spec, path.join(services.dir, `stopped ${when}`), 3);
    const controller = new AbortController();
    if (when === 'before it begins') controller.abort();
    const onProgress = (done: number) => {
      if (done > 30) controller.abort();
    };
    await expect(writeOutput(task, { onProgress, signal: controller.signal })).rejects.toMatchObject({ code: 'stopped' });
    expect((await readdir(task.directory)).includes('clip-composed.mp4')).toBe(false);
    await writeOutput(task, { onProgress: () => {} });
    expect(ffprobe(path.join(task.directory, 'clip-composed.mp4')).frames).toBe(71);
  });

  it('tells the fault of one thread, and stops the others', async () => {
    const spec = outputSpecSchema.parse({ kind: 'composed-mp4', first: 0, last: 70, sound: false });
    const directory = path.join(services.dir, 'unreadable');
    const task = await taskFor(spec, directory, 3);
    const writing = writeOutput({ ...task, footage: { ...task.footage, originals: path.join(services.dir, 'nowhere') } }, { onProgress: () => {} });
    await expect(writing).rejects.toMatchObject({ code: 'footage-unreadable', message: expect.stringMatching(/can no longer be read/) });
    expect((await readdir(directory)).filter((f) => f.endsWith('.mp4'))).toEqual([]);
  });
});

describe('matte as PNG sequence', () => {
  it.each([8, 16] as const)('holds exactly what renderMatte gives, %s bit', async (bits) => {
    const { dir, files } = await write({ kind: 'matte-png', subject: 's', bits, first: 3, last: 6 });
    expect(files).toEqual(['hashes.sha256', 'output.json', ...[3, 4, 5, 6].map((n) => `storm-lantern-matte.000${n}.png`)]);
    for (const frame of [3, 6]) {
      const file = path.join(dir, `storm-lantern-matte.000${frame}.png`);
      const info = await sharp(file).metadata();
      expect([info.channels, info.depth]).toEqual([1, bits === 8 ? 'uchar' : 'ushort']);
      const matte = await renderMatte(await documentNow(), 's', frame, NO_IMPORTS, SIZE);
      const raw = rawFrames(file, bits === 8 ? 'gray' : 'gray16le');
      const got = bits === 8 ? raw : new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
      expect(difference(got, bits === 8 ? matteTo8(matte) : matteTo16(matte)).most).toBe(0);
    }
  });

  it('says in its sidecar what it was made from, and comes as a zip', async () => {
    const { dir, jobId } = await write({ kind: 'matte-png', subject: 's', bits: 8, first: 0, last: 2 });
    const sidecar = JSON.parse(await readFile(path.join(dir, 'output.json'), 'utf8'));
    expect(sidecar).toMatchObject({ madeBy: 'Mottrel', picture: { ...SIZE, rate: '24000/1001', frames: 3, firstNumber: 0 }, output: { bits: 8 } });
    expect(sidecar.document).toEqual(await documentNow());
    const listed = (await services.outputs.list(services.queue, shotId)).find((o) => o.job.id === jobId)?.outputs[0];
    expect(listed).toMatchObject({ spec: { kind: 'matte-png', bits: 8, subject: 's' }, subjectName: (await documentNow()).cast[0].name });
    expect(listed?.files).toHaveLength(5);
    expect(listed?.checked).toMatchObject({ frames: 3, readBack: [0, 1, 2] });
    expect(await services.outputs.countDone(services.queue, shotId)).toBeGreaterThan(0);
    const zip = path.join(services.dir, 'out.zip');
    await writeFile(zip, Buffer.from(await new Response(await services.outputs.zip(services.queue, jobId)).arrayBuffer()));
    const names = execFileSync(
      'python3',
      ['-c', 'import zipfile,sys; z=zipfile.ZipFile(sys.argv[1]); assert z.testzip() is None; print(",".join(sorted(z.namelist())))', zip],
      { encoding: 'utf8' },
    );
    expect(names.trim()).toBe('hashes.sha256,output.json,storm-lantern-matte.0000.png,storm-lantern-matte.0001.png,storm-lantern-matte.0002.png');
  });
});

describe('cut-out as ProRes 4444', () => {
  it.each(['premultiplied', 'straight'] as const)('has the alpha of the matte and %s colour', async (alpha) => {
    const { dir } = await write({ kind: 'cutout-prores', subject: 's', alpha, first: 10, last: 40 });
    const file = path.join(dir, 'clip-storm-lantern-cutout.mov');
    const { stream, frames } = ffprobe(file);
    expect(stream).toMatchObject({
      codec_name: 'prores',
      width: SIZE.width,
      height: SIZE.height,
      r_frame_rate: '24000/1001',
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
    });
    expect(String(stream.pix_fmt)).toMatch(/^yuva444p1[02]le$/);
    expect(frames).toBe(31);
    expect(JSON.parse(await readFile(path.join(dir, 'output.json'), 'utf8'))).toMatchObject({ alpha });
    const got = rawFrames(file, 'rgba64le', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
    const words = new Uint16Array(got.buffer, got.byteOffset, got.length / 2);
    const pixels = SIZE.width * SIZE.height;
    for (const frame of [10, 33, 34, 40]) {
      const wanted = await renderCutout(await documentNow(), 's', frame, sources, SIZE);
      const from = (frame - 10) * pixels * 4;
      const alphas = Float64Array.from({ length: pixels }, (_, i) => words[from + 4 * i + 3] / 65535);
      expect(
        difference(
          alphas,
          Float64Array.from({ length: pixels }, (_, i) => wanted.data[4 * i + 3]),
        ).most,
      ).toBeLessThan(0.004);
      // Colour where the subject is solid; ProRes itself loses a little.
      let sum = 0;
      let count = 0;
      for (let i = 0; i < pixels; i++) {
        const a = wanted.data[4 * i + 3];
        if (alpha === 'straight' ? a < 0.999 : false) continue;
        for (let c = 0; c < 3; c++) {
          sum += Math.abs(words[from + 4 * i + c] / 65535 - wanted.data[4 * i + c]);
          count++;
        }
      }
      expect(sum / count).toBeLessThan(0.012);
    }
  });
});

describe('elements in the picture', () => {
  const lay = async (...items: Element[]) => {
    const { lanes } = await documentNow();
    await services.changes.apply(shotId, {
      role: 'do',
      page: 'p',
      change: {
        id: `lay-${items.map((i) => i.id).join('-')}`,
        label: 'Lay',
        edits: items.map((record, i) => ({ kind: 'insert', parent: 'lanes', index: lanes.length + i, record })),
      },
    });
  };

  it('are read each in its own order: letters, the plate once more and later, and a cut-out of another frame', async () => {
    const { plate } = await services.shots.shot(shotId);
    const document = await documentNow();
    const of = (id: string, lane: Lane, kind: string, more: Partial<Element>, settings: Record<string, number | string>): Element => {
      const made = newElement(document, id, lane, null, kind);
      return { ...made, ...more, settings: { ...made.settings, ...Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])) } };
    };
    const footage = { id: plate.id, ...SIZE, frames: 60, alpha: false };
    await lay(
      of('el-title', 'front', 'title', { words: 'Tide' }, { size: 30, x: 60, y: 20 }),
      of('el-later', 'backdrop', 'footage', { footage }, { scale: 50, x: 40, y: 60, offset: -20 }),
      of('el-held', 'front', 'footage', { footage }, { scale: 25, x: 120, y: 80, shows: 'frame', frame: 7 }),
      of('el-twice', 'front', 'cutout', { of: 's' }, { x: 110, offset: 3 }),
    );
    const { dir } = await write({ kind: 'composed-mp4', sound: false, first: 5, last: 14 });
    const got = rawFrames(path.join(dir, 'clip-composed.mp4'), 'rgba', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
    const bytes = SIZE.width * SIZE.height * 4;
    const half = async (_footage: ShownFootage, frame: number, size: Size) => {
      const raw = await sharp(plateRgba(frame), { raw: { ...SIZE, channels: 4 } })
        .resize(size.width, size.height, { fit: 'fill' })
        .raw()
        .toBuffer();
      return fromBytes(raw, size.width, size.height);
    };
    for (const frame of [5, 9, 14]) {
      const wanted = await renderPicture(await documentNow(), frame, { ...sources, footage: half, letters }, SIZE);
      const own = got.subarray((frame - 5) * bytes, (frame - 4) * bytes);
      expect(difference(luma(own), luma(wanted.data.map((v) => v * 255))).mean, `frame ${frame}`).toBeLessThan(2.5);
      // And not what there would be without one of them.
      for (const without of ['el-title', 'el-later', 'el-held', 'el-twice']) {
        const now = await documentNow();
        const less = await renderPicture({ ...now, lanes: now.lanes.filter((l) => l.id !== without) }, frame, { ...sources, footage: half, letters }, SIZE);
        expect(difference(luma(less.data.map((v) => v * 255)), luma(wanted.data.map((v) => v * 255))).mean, without).toBeGreaterThan(0.3);
      }
    }
  });

  it('with alpha of their own cover as much as that says', async () => {
    const file = path.join(services.dir, 'prop.png');
    ffmpeg('-f', 'lavfi', '-i', 'color=red:s=60x40:r=24:d=0.1,format=rgba,geq=r=250:g=0:b=0:a=floor(X/20)*127', '-frames:v', '1', file);
    const { plateId, alpha } = await bringIn(services, [{ name: 'prop.png', bytes: await readFile(file) }]);
    const made = newElement(await documentNow(), 'el-prop', 'front', null, 'footage');
    const settings = { ...made.settings, x: { constant: 130 }, y: { constant: 50 } };
    await lay({ ...made, settings, footage: { id: plateId, width: 60, height: 40, frames: 1, alpha } });
    const read = async () => {
      const { dir } = await write({ kind: 'composed-mp4', sound: false, first: 30, last: 30 });
      const got = rawFrames(path.join(dir, 'clip-composed.mp4'), 'rgba', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
      return [110, 130, 150].map((x) => got[(50 * SIZE.width + x) * 4]);
    };
    const [clear, half, full] = await read();
    await services.changes.apply(shotId, {
      role: 'do',
      page: 'p',
      change: { id: 'prop-off', label: 'Off', edits: [{ kind: 'assign', id: 'el-prop', values: { enabled: false } }] },
    });
    const [plain, under] = await read();
    expect(Math.abs(clear - plain)).toBeLessThan(12);
    expect(Math.abs(half - (under + 250) / 2)).toBeLessThan(14);
    expect(full).toBeGreaterThan(235);
  });

  it('whose footage is gone are refused in words that say what to do', async () => {
    const made = newElement(await documentNow(), 'el-gone', 'front', null, 'footage');
    await lay({ ...made, footage: { id: 'nowhere', ...SIZE, frames: 5, alpha: false } });
    const jobId = await services.outputs.request(services.queue, shotId, { kind: 'composed-mp4', sound: false, first: 5, last: 6 });
    const job = await ended(services, jobId);
    expect(job).toMatchObject({ state: 'failed', message: expect.stringMatching(/Footage that this shot uses is no longer here.*take away what shows it/) });
    const edits = (await documentNow()).lanes.flatMap((l) => (l.id.startsWith('el-') ? [{ kind: 'remove' as const, id: l.id }] : []));
    await services.changes.apply(shotId, { role: 'do', page: 'p', change: { id: 'clear', label: 'Clear', edits } });
  });
});

describe('composed picture as H.264', () => {
  it('shows what renderPicture gives, frame by frame, with tags and the sound of its range', async () => {
    const { dir } = await write({ kind: 'composed-mp4', sound: true, first: 5, last: 54 });
    const file = path.join(dir, 'clip-composed.mp4');
    const { stream, frames, audio } = ffprobe(file);
    expect(stream).toMatchObject({
      codec_name: 'h264',
      r_frame_rate: '24000/1001',
      color_space: 'bt709',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
      color_range: 'tv',
    });
    expect([frames, audio]).toEqual([50, true]);
    const got = rawFrames(file, 'rgba', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
    const pixels = SIZE.width * SIZE.height;
    for (const frame of [5, 28, 29, 54]) {
      const own = got.subarray((frame - 5) * pixels * 4, (frame - 4) * pixels * 4);
      const wanted = await renderPicture(await documentNow(), frame, sources, SIZE);
      // Colour is stored at half size, so brightness is what can be compared closely.
      expect(difference(luma(own), luma(wanted.data.map((v) => v * 255))).mean).toBeLessThan(1.5);
      expect(
        difference(
          own,
          wanted.data.map((v) => v * 255),
        ).mean,
      ).toBeLessThan(5);
      // The frame beside it fits worse, so none is shifted.
      const beside = await renderPicture(await documentNow(), frame - 1, sources, SIZE);
      expect(difference(luma(own), luma(beside.data.map((v) => v * 255))).mean).toBeGreaterThan(
        1.4 * difference(luma(own), luma(wanted.data.map((v) => v * 255))).mean,
      );
    }
  });

  it('is silent when asked to be', async () => {
    const { dir } = await write({ kind: 'composed-mp4', sound: false, first: 0, last: 3 });
    expect(ffprobe(path.join(dir, 'clip-composed.mp4')).audio).toBe(false);
  });
});

describe('the finished picture at its own speed', () => {
  const time = (timing: object | null) =>
    services.changes.apply(shotId, {
      role: 'do',
      page: 'p',
      change: { id: `timing-${JSON.stringify(timing).length}`, label: 'Timing', edits: [{ kind: 'assign', id: 'shot', values: { timing: timing as never } }] },
    });

  it('is written longer and shorter, held and backwards, frame by frame, and its sound goes along', async () => {
    await time(timingSchema.parse({ speed: { constant: 50 }, holds: [{ frame: 4, frames: 3 }] }));
    const { dir } = await write({ kind: 'composed-mp4', sound: true, timed: true, first: 0, last: 23 });
    const file = path.join(dir, 'clip-composed.mp4');
    // 24 frames at half the speed are 47, and three more.
    expect(ffprobe(file)).toMatchObject({ frames: 50, audio: true });
    const got = rawFrames(file, 'rgba', 'scale=in_color_matrix=bt709:in_range=tv:out_range=pc');
    const bytes = SIZE.width * SIZE.height * 4;
    for (const [written, shown] of [
      [0, 0],
      [6, 3],
      [9, 4],
      [11, 4],
      [13, 5],
      [49, 23],
    ]) {
      const wanted = await renderPicture(await documentNow(), shown, sources, SIZE);
      const own = got.subarray(written * bytes, (written + 1) * bytes);
      expect(difference(luma(own), luma(wanted.data.map((v) => v * 255))).mean).toBeLessThan(2.5);
    }
    // Half as fast, a tone of 440 Hz is one of 220: that many times a second it rises through 0.
    const sound = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-ac', '1', '-ar', '48000', '-f', 's16le', '-'], { maxBuffer: 2 ** 26 });
    const samples = new Int16Array(sound.buffer, sound.byteOffset, sound.length >> 1).subarray(48_000, 86_400);
    const rises = samples.reduce((n, v, i) => (i > 0 && samples[i - 1] < 0 && v >= 0 ? n + 1 : n), 0);
    expect(Math.abs(rises / (samples.length / 48_000) - 220)).toBeLessThan(8);
    expect((await readdir(dir)).sort()).toEqual(['clip-composed.mp4', 'hashes.sha256', 'output.json']);
    await time(timingSchema.parse({ plays: 'backwards', speed: { constant: 400 }, sound: false }));
    const back = await write({ kind: 'composed-mp4', sound: true, timed: true, first: 0, last: 12 });
    expect(ffprobe(path.join(back.dir, 'clip-composed.mp4'))).toMatchObject({ frames: 4, audio: false });
    // Without its timing an output goes frame for frame.
    const plain = await write({ kind: 'composed-mp4', sound: false, timed: false, first: 0, last: 12 });
    expect(ffprobe(path.join(plain.dir, 'clip-composed.mp4')).frames).toBe(13);
    await time(null);
  });
});

describe('elements alone', () => {
  it('have their alpha, with nothing of the plate and nothing where a subject covers them', async () => {
    const document = await documentNow();
    const card = newElement(document, 'card-alone', 'behind', 's', 'card');
    const settings = { width: 400, height: 400, colours: '1', colour1: [1, 0.5, 0] };
    const record = {
      ...card,
      mix: { constant: 0.5 },
      settings: { ...card.settings, ...Object.fromEntries(Object.entries(settings).map(([k, v]) => [k, { constant: v }])) },
    };
    await services.changes.apply(shotId, {
      role: 'do',
      page: 'p',
      change: { id: 'alone', label: 'Alone', edits: [{ kind: 'insert', parent: 'lanes', index: document.lanes.length, record }] },
    });
    const png = await write({ kind: 'elements-png', bits: 16, first: 3, last: 4 });
    expect(png.files).toEqual(['clip-elements.0003.png', 'clip-elements.0004.png', 'hashes.sha256', 'output.json']);
    const { data, info } = await sharp(path.join(png.dir, png.files[0])).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    const words = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    const matte = await renderMatte(await documentNow(), 's', 3, NO_IMPORTS, SIZE);
    for (let p = 0; p < matte.data.length; p += 97) {
      // Half there behind the subject, gone where that is.
      expect(Math.abs(words[4 * p + 3] / 65535 - 0.5 * (1 - matte.data[p]))).toBeLessThan(0.002);
      if (matte.data[p] < 0.5) expect([words[4 * p] / 65535, words[4 * p + 1] / 65535]).toEqual([expect.closeTo(1, 2), expect.closeTo(0.5, 2)]);
    }
    const movie = await write({ kind: 'elements-prores', alpha: 'straight', first: 3, last: 4 });
    const file = path.join(movie.dir, 'clip-elements.mov');
    expect(ffprobe(file)).toMatchObject({ frames: 2 });
    const rgba = rawFrames(file, 'rgba');
    const corner4 = [...rgba.subarray(0, 4)];
    expect(Math.abs(corner4[3] - 255 * 0.5 * (1 - matte.data[0]))).toBeLessThan(3);
    await services.changes.apply(shotId, { role: 'do', page: 'p', change: { id: 'not-alone', label: 'Away', edits: [{ kind: 'remove', id: 'card-alone' }] } });
  });
});

describe('asking for outputs', () => {
  it('is refused in words where it cannot be', async () => {
    const ask = (spec: object) => services.outputs.request(services.queue, shotId, spec);
    await expect(ask({ kind: 'matte-png', subject: 's', bits: 8, first: 0, last: 999 })).rejects.toThrow(/ends at frame 71/);
    await expect(ask({ kind: 'matte-png', subject: 'nobody', bits: 8, first: 0, last: 1 })).rejects.toThrow(/no longer in the cast/);
    await expect(ask({ kind: 'matte-png', subject: 's', bits: 12, first: 0, last: 1 })).rejects.toThrow();
    await expect(ask({ kind: 'matte-png', subject: 's', bits: 8, first: 5, last: 1 })).rejects.toThrow(/last frame comes before/);
    await expect(services.outputs.file('../../x', 'y')).rejects.toThrow('not here any more');
  });

  it('twice while it waits gives one job', async () => {
    const spec = { kind: 'matte-png', subject: 's', bits: 16, first: 0, last: 71 };
    const [a, b] = [await services.outputs.request(services.queue, shotId, spec), await services.outputs.request(services.queue, shotId, spec)];
    expect(b).toBe(a);
    await until(async () => (await services.queue.get(a)).state === 'done');
    const names = await readdir(services.outputs.directory(a));
    expect(names).toHaveLength(74);
    await services.outputs.remove(services.queue, a);
    await expect(stat(services.outputs.directory(a))).rejects.toThrow();
  });

  it('can be paused, resumed and cancelled, and tells how far it is', async () => {
    const heard: number[] = [];
    const off = services.queue.subscribe((job) => heard.push(job.done));
    const id = await services.outputs.request(services.queue, shotId, { kind: 'composed-mp4', sound: false, first: 0, last: 71 });
    await until(async () => (await services.queue.get(id)).done > 2);
    await services.queue.act(id, 'pause');
    expect((await services.queue.get(id)).state).toBe('paused');
    await services.queue.act(id, 'resume');
    await until(async () => (await services.queue.get(id)).state === 'done', 60_000);
    off();
    expect(new Set(heard).size).toBeGreaterThan(2);
    expect(ffprobe(path.join(services.outputs.directory(id), 'clip-composed.mp4')).frames).toBe(72);
    const other = await services.outputs.request(services.queue, shotId, { kind: 'cutout-prores', subject: 's', alpha: 'straight', first: 0, last: 71 });
    await until(async () => (await services.queue.get(other)).state === 'running');
    await services.queue.act(other, 'cancel');
    expect((await services.queue.get(other)).state).toBe('cancelled');
    await expect(stat(services.outputs.directory(other))).rejects.toThrow();
    await expect(services.queue.act(other, 'pause')).rejects.toMatchObject({ code: 'job-moved-on' });
  });

  it('of another version are listed, are refused in words when they are gone on with, and can be cancelled', async () => {
    const spec = { kind: 'reel-of-tomorrow', subject: 's', grain: 3, first: 0, last: 4 };
    const made = await Job.create({
      ...{ id: randomUUID(), kind: 'output', shotId, state: 'paused', total: 5 },
      payload: JSON.stringify({ spec, document: await documentNow() }),
    });
    const listed = (await services.outputs.list(services.queue, shotId)).find((o) => o.job.id === made.id)?.outputs[0];
    expect(listed).toMatchObject({ spec, subjectName: expect.any(String) });
    expect((await services.queue.counts()).paused).toBe(1);
    await services.queue.act(made.id, 'resume');
    const failed = await until(async () => (await services.queue.get(made.id)).state === 'failed' && services.queue.get(made.id));
    expect(failed.message).toContain('asked for by another version');
    await (await made.reload()).update({ state: 'paused' });
    await services.queue.act(made.id, 'cancel');
    expect((await services.queue.get(made.id)).state).toBe('cancelled');
  });

  it('goes on after its server went away, with the frames it had', async () => {
    // Frames that take long, so that it is in the middle of them.
    const slow = newLaneEffect('slow', 'front', null, 'lens-blur');
    slow.settings.radius = { constant: 200 };
    await services.changes.apply(shotId, {
      role: 'do',
      page: 'p',
      change: { id: 'slow', label: 'Slow', edits: [{ kind: 'insert', parent: 'lanes', index: 0, record: slow }] },
    });
    const id = await services.outputs.request(services.queue, shotId, { kind: 'composed-mp4', sound: false, first: 0, last: 71 });
    await until(async () => (await readdir(services.outputs.directory(id)).catch(() => [] as string[])).includes('segment-0000000.mp4'), 60_000);
    await services.queue.stop();
    expect((await services.queue.get(id)).state).toBe('queued');
    const segment = path.join(services.outputs.directory(id), 'segment-0000000.mp4');
    const before = (await stat(segment)).mtimeMs;
    const next = new EmbeddedQueue(services.sequelize, services, services.log);
    const seen = until(async () => (await stat(segment).catch(() => null))?.mtimeMs === before);
    await next.start();
    await seen;
    await until(async () => (await next.get(id)).state === 'done', 60_000);
    expect(ffprobe(path.join(services.outputs.directory(id), 'clip-composed.mp4')).frames).toBe(72);
    await next.stop();
  });
});
