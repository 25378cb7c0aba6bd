import { execFileSync } from 'node:child_process';
import { mkdir, readdir, readFile, readlink, stat, utimes } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bringIn, ffmpeg, openTestServices, type TestServices, temporaryDirectory, until } from '../../tests/services.ts';
import { Plate } from '../db/models.ts';
import { readStoredFrame } from './frame-store.ts';

let services: TestServices;
let dir: string;
beforeAll(async () => {
  services = await openTestServices((config) => {
    config.limits.side = 2000;
    config.limits.frames = 300;
  });
  dir = await temporaryDirectory();
});
afterAll(() => services.end());

const file = (name: string) => path.join(dir, name);
const upload = async (name: string, shown = name) => ({ name: shown, bytes: await readFile(file(name)) });
const plateOf = async (plateId: string) => (await Plate.findByPk(plateId)) as Plate;

/** Mean colour of a box of a stored frame. */
async function colourAt(
  plateId: string,
  frame: number,
  box: { left: number; top: number; width: number; height: number },
  size: 'full' | 'proxy' = 'full',
): Promise<number[]> {
  const jpeg = await readStoredFrame(services.shots.frameStore(plateId), size, frame);
  const { data, info } = await sharp(jpeg).extract(box).raw().toBuffer({ resolveWithObject: true });
  return [0, 1, 2].map((c) => data.reduce((sum, v, i) => (i % info.channels === c ? sum + v : sum), 0) / (info.width * info.height));
}
const near = (got: number[], wanted: number[], by = 5) => {
  for (const [i, v] of got.entries()) expect(Math.abs(v - wanted[i])).toBeLessThan(by);
};

describe('ingest', () => {
  it('stores every frame at both sizes, each to be read by its number', async () => {
    // The brightness of each frame tells its number.
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=black:s=1280x720:r=25:d=2,geq=lum=20+N*4:cb=128:cr=128',
      '-c:v',
      'libx264',
      '-crf',
      '10',
      '-pix_fmt',
      'yuv420p',
      file('count.mp4'),
    );
    const { plateId } = await bringIn(services, [await upload('count.mp4')]);
    const plate = await plateOf(plateId);
    expect(plate).toMatchObject({
      width: 1280,
      height: 720,
      proxyWidth: 960,
      proxyHeight: 540,
      frames: 50,
      rateNum: 25,
      rateDen: 1,
      state: 'ready',
      kind: 'video',
    });
    const box = { left: 300, top: 200, width: 40, height: 40 };
    const levels = await Promise.all([0, 1, 17, 49].map(async (f) => (await colourAt(plateId, f, box))[0]));
    const expected = [0, 1, 17, 49].map((f) => ((20 + f * 4 - 16) * 255) / 219);
    near(levels, expected, 2);
    expect((await colourAt(plateId, 49, box, 'proxy'))[0]).toBeCloseTo(levels[3], 0);
    await expect(readStoredFrame(services.shots.frameStore(plateId), 'full', 50)).rejects.toThrow('not here any more');
  });

  it.each([
    ['BT.709 limited', 'bt709', 'tv'],
    ['BT.601 limited', 'smpte170m', 'tv'],
    ['BT.709 full', 'bt709', 'pc'],
  ])('shows the colours that were meant (%s)', async (_name, matrix, range) => {
    const name = `bars-${matrix}-${range}.mp4`;
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=0xC83C28:s=320x200:r=24:d=0.2,format=rgb24',
      '-vf',
      `scale=out_color_matrix=${matrix}:out_range=${range},format=yuv444p`,
      '-c:v',
      'libx264',
      '-crf',
      '4',
      '-colorspace',
      matrix,
      '-color_range',
      range,
      file(name),
    );
    const { plateId } = await bringIn(services, [await upload(name)]);
    near(await colourAt(plateId, 0, { left: 100, top: 60, width: 50, height: 50 }), [200, 60, 40], 4);
  });

  it('turns upright what is stored on its side', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=blue:s=320x180:r=24:d=0.2',
      '-f',
      'lavfi',
      '-i',
      'color=red:s=40x180:r=24:d=0.2',
      '-filter_complex',
      'overlay=0:0',
      '-pix_fmt',
      'yuv420p',
      file('flat.mp4'),
    );
    ffmpeg('-i', file('flat.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', file('turned.mp4'));
    const { plateId, notes } = await bringIn(services, [await upload('turned.mp4')]);
    expect(await plateOf(plateId)).toMatchObject({ width: 180, height: 320 });
    expect(notes).toContain('It was turned upright.');
    const [red] = await colourAt(plateId, 0, { left: 70, top: 8, width: 20, height: 8 });
    const [other] = await colourAt(plateId, 0, { left: 70, top: 290, width: 20, height: 8 });
    expect(Math.abs(red - other)).toBeGreaterThan(150);
  });

  it('makes pixels square and takes odd sizes', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=360x288:r=25:d=0.2', '-vf', 'setsar=16/11', '-pix_fmt', 'yuv420p', file('wide.mp4'));
    const wide = await bringIn(services, [await upload('wide.mp4')]);
    expect(await plateOf(wide.plateId)).toMatchObject({ width: 524, height: 288 });
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=321x241:r=24:d=0.2', '-pix_fmt', 'yuv444p', '-c:v', 'libx264', file('odd.mp4'));
    const odd = await bringIn(services, [await upload('odd.mp4')]);
    expect(await plateOf(odd.plateId)).toMatchObject({ width: 321, height: 241 });
  });

  it('conforms a variable rate and says so', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc=s=320x180:r=30:d=2',
      '-vf',
      "select='not(between(n,10,24))'",
      '-vsync',
      'vfr',
      '-pix_fmt',
      'yuv420p',
      file('varying.mp4'),
    );
    const { plateId, notes } = await bringIn(services, [await upload('varying.mp4')]);
    expect(notes.join()).toMatch(/rate of this file varies/);
    // 45 frames with a hole of 15 are 60 frames again, those of the hole held.
    expect(await plateOf(plateId)).toMatchObject({ rateNum: 30, rateDen: 1, frames: 60 });
  });

  it('keeps the alpha of a still and of a movie, and none of what has none', async () => {
    // Alpha rises from left to right in three steps.
    const steps = 'format=rgba,geq=r=200:g=80:b=40:a=floor(X/100)*127';
    ffmpeg('-f', 'lavfi', '-i', `color=red:s=300x120:r=24:d=0.25,${steps}`, '-frames:v', '1', file('prop.png'));
    ffmpeg('-f', 'lavfi', '-i', `color=red:s=300x120:r=24:d=0.25,${steps}`, '-c:v', 'prores_ks', '-pix_fmt', 'yuva444p10le', file('prop.mov'));
    for (const name of ['prop.png', 'prop.mov']) {
      const { plateId, alpha } = await bringIn(services, [await upload(name)]);
      expect(alpha).toBe(true);
      const store = services.shots.frameStore(plateId);
      const frames = (await plateOf(plateId)).frames as number;
      const gray = await sharp(await readStoredFrame(store, 'alpha', frames - 1))
        .greyscale()
        .raw()
        .toBuffer();
      near([gray[60 * 300 + 50], gray[60 * 300 + 150], gray[60 * 300 + 250]], [0, 127, 254], 4);
      near(await colourAt(plateId, 0, { left: 220, top: 20, width: 40, height: 40 }), [200, 80, 40], 6);
      await expect(readStoredFrame(store, 'alpha', frames)).rejects.toMatchObject({ status: 404 });
    }
    const { plateId, alpha } = await bringIn(services, [await upload('flat.mp4')]);
    expect(alpha).toBe(false);
    await expect(readStoredFrame(services.shots.frameStore(plateId), 'alpha', 0)).rejects.toMatchObject({ status: 404 });
  });

  it('takes the linear light of EXR as what video shows of it, and says so', async () => {
    // Half of the light in all channels; as a value of video that is 0.73.
    for (const name of ['lamp.0001.exr', 'lamp.0002.exr'])
      ffmpeg('-f', 'lavfi', '-i', 'color=0x808080:s=200x120:r=24:d=0.1,format=gbrpf32le', '-frames:v', '1', file(name));
    const still = await bringIn(services, [await upload('lamp.0001.exr', 'lamp.exr')]);
    const sequence = await bringIn(services, await Promise.all(['lamp.0001.exr', 'lamp.0002.exr'].map((n) => upload(n))), '24');
    for (const { plateId } of [still, sequence]) {
      near(await colourAt(plateId, 0, { left: 60, top: 40, width: 40, height: 40 }), [186, 186, 186], 2);
      expect(services.shots.probeOf(await plateOf(plateId)).notes.join()).toContain('linear light');
    }
  });

  it('takes a still, and numbered pictures as files or as a zip, with their first number', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=200x120:r=24:d=1', '-frames:v', '5', '-start_number', '1001', file('plate.%04d.png'));
    const still = await bringIn(services, [await upload('plate.1001.png', 'sketch.png')]);
    expect(await plateOf(still.plateId)).toMatchObject({ kind: 'still', frames: 1, width: 200 });
    const names = [1003, 1001, 1005, 1002, 1004].map((n) => `plate.${n}.png`);
    const sequence = await bringIn(services, await Promise.all(names.map((n) => upload(n))), '23.976');
    expect(await plateOf(sequence.plateId)).toMatchObject({ kind: 'sequence', frames: 5, firstNumber: 1001, rateNum: 24000, rateDen: 1001 });
    execFileSync('python3', [
      '-c',
      `import zipfile,sys\nz=zipfile.ZipFile(sys.argv[1],'w')\n[z.write(sys.argv[2]+'/plate.%d.png'%n,'shot/plate.%d.png'%n) for n in range(1001,1006)]`,
      file('plates.zip'),
      dir,
    ]);
    const zip = await bringIn(services, [await upload('plates.zip')]);
    expect(await plateOf(zip.plateId)).toMatchObject({ kind: 'sequence', frames: 5, firstNumber: 1001 });
  });
});

describe('making a shot of an upload', () => {
  it('takes names as long as file systems and shots do, in any script', async () => {
    const png = await readFile(file('plate.1001.png'));
    const long = `${'潮'.repeat(110)}.png`;
    const { shotId } = await bringIn(services, [{ name: long, bytes: png }]);
    const list = await services.shots.shots((await services.shots.productions())[0].id);
    expect(list.find((s) => s.id === shotId)?.name).toMatch(/^潮{60,}$/);
    const wordy = await bringIn(services, [{ name: `${'tide-'.repeat(38)}end.png`, bytes: png }]);
    expect(list.length).toBe((await services.shots.shots((await services.shots.productions())[0].id)).length - 1);
    expect((await services.shots.shot(wordy.shotId)).shot.name).toHaveLength(120);
  });

  it('numbers frames from 0 where their numbers are too high, and says so', async () => {
    const png = await readFile(file('plate.1001.png'));
    const numbers = ['20261130120000000001', '20261130120000000002'];
    const made = await bringIn(
      services,
      numbers.map((n) => ({ name: `scan.${n}.png`, bytes: png })),
    );
    expect(made.notes.join()).toContain('20261130120000000001, is larger than a frame can have (10000000): its frames are numbered from 0');
    expect(await plateOf(made.plateId)).toMatchObject({ state: 'ready', frames: 2, firstNumber: 0 });
    expect((await services.changes.load(made.shotId)).document.plate.firstNumber).toBe(0);
    const highest = await bringIn(services, [
      { name: 'scan.9999997.png', bytes: png },
      { name: 'scan.9999998.png', bytes: png },
    ]);
    expect(await plateOf(highest.plateId)).toMatchObject({ firstNumber: 9_999_997 });
  });

  it('is done once and told twice where it is asked for twice, at once and later; a wrong name loses nothing', async () => {
    const { shots, uploads } = services;
    const productionId = (await shots.productions())[0].id;
    const png = await readFile(file('plate.1001.png'));
    const uploadId = await uploads.create();
    await uploads.receive(uploadId, 0, 'twice.png', new Blob([new Uint8Array(png)]).stream(), png.length);
    const wish = { productionId, uploadId, rate: '24' };
    await expect(shots.createFromUpload({ ...wish, name: 'x'.repeat(121) })).rejects.toThrow('at most 120 letters');
    const before = (await shots.shots(productionId)).length;
    const [one, two] = await Promise.all([shots.createFromUpload(wish), shots.createFromUpload(wish)]);
    expect(two).toEqual(one);
    expect(await shots.createFromUpload(wish)).toEqual(one);
    expect(await shots.shots(productionId)).toHaveLength(before + 1);
    expect(await readdir(path.join(services.dir, 'uploads'))).not.toContain(uploadId);
  });

  it('leaves no footage behind that no shot knows of, once it is a day old', async () => {
    const plates = path.join(services.dir, 'plates');
    const [old, fresh] = ['11111111-1111-1111-1111-111111111111', '22222222-2222-2222-2222-222222222222'];
    for (const name of [old, fresh]) await mkdir(path.join(plates, name, 'original'), { recursive: true });
    const twoDays = new Date(Date.now() - 2 * 86_400_000);
    for (const name of await readdir(plates)) if (name !== fresh) await utimes(path.join(plates, name), twoDays, twoDays);
    expect(await services.shots.removeOrphans()).toEqual([old]);
    expect(await readdir(plates)).toContain(fresh);
    const known = await Plate.findAll({ attributes: ['id'] });
    expect((await readdir(plates)).sort()).toEqual([fresh, ...known.map((p) => p.id)].sort());
  });
});

describe('footage that is removed for good', () => {
  it('gives its room on the disk back, also where its frames were looked at just before', async () => {
    const { shots } = services;
    const productionId = await shots.createProduction('Gone');
    const uploadId = await services.uploads.create();
    const png = await readFile(file('plate.1001.png'));
    await services.uploads.receive(uploadId, 0, 'gone.png', new Blob([new Uint8Array(png)]).stream(), png.length);
    const { plateId } = await shots.createFromUpload({ productionId, uploadId, rate: '24' });
    services.queue.wake();
    await until(async () => (await plateOf(plateId)).state === 'ready');
    await shots.storedFrame(plateId, 'full', '0');
    const open = async () =>
      (await Promise.all((await readdir('/proc/self/fd')).map((fd) => readlink(`/proc/self/fd/${fd}`).catch(() => '')))).filter((at) => at.includes(plateId));
    expect((await open()).length).toBeGreaterThan(0);
    await shots.destroyProduction(productionId);
    expect(await open()).toEqual([]);
    await expect(stat(shots.plateDirectory(plateId))).rejects.toThrow();
  });
});

describe('what cannot be used', () => {
  const refused = async (files: { name: string; bytes: Uint8Array }[]) => {
    const before = (await services.shots.shots((await services.shots.productions())[0].id)).length;
    const message = await bringIn(services, files).then(
      () => 'it was taken',
      (error: Error) => error.message,
    );
    expect((await services.shots.shots((await services.shots.productions())[0].id)).length).toBe(before);
    return message;
  };

  it('is refused in words, and leaves nothing behind', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'sine=d=1', file('song.mp3'));
    ffmpeg('-f', 'lavfi', '-i', 'color=red:s=2200x100:d=0.1', file('vast.mp4'));
    ffmpeg('-f', 'lavfi', '-i', 'color=red:s=64x64:r=60:d=6', file('long.mp4'));
    const text = new TextEncoder();
    expect(await refused([{ name: 'notes.txt', bytes: text.encode('not a film') }])).toMatch(/"notes.txt" cannot be read as a picture or video/);
    expect(await refused([{ name: 'empty.mp4', bytes: new Uint8Array(0) }])).toMatch(/empty/);
    expect(await refused([await upload('song.mp3')])).toMatch(/"song.mp3" (has no picture in it, only sound|cannot be read)/);
    expect(await refused([await upload('vast.mp4')])).toMatch(/2200×100; the longest side allowed is 2000/);
    expect(await refused([await upload('long.mp4')])).toMatch(/about 360 frames; at most 300/);
    expect(await refused([{ name: 'cut.mp4', bytes: (await readFile(file('count.mp4'))).subarray(0, 900) }])).toMatch(/cut off/);
    const png = await readFile(file('plate.1001.png'));
    expect(
      await refused([
        { name: 'a.1.png', bytes: png },
        { name: 'a.2000.png', bytes: png },
      ]),
    ).toMatch(/1998 numbers are missing: these are hardly one sequence/);
    expect(
      await refused([
        { name: 'a.1.png', bytes: png },
        { name: 'b.1.png', bytes: png },
      ]),
    ).toMatch(/Two files have the number 1/);
    expect(
      await refused([
        { name: 'one.png', bytes: png },
        { name: 'two.png', bytes: png },
      ]),
    ).toMatch(/not a numbered picture/);
    expect(await refused([{ name: 'bad.zip', bytes: text.encode('PK not really') }])).toMatch(/cannot be opened as a zip/);
  });

  it('cannot make ffmpeg open other files or the network', async () => {
    const text = new TextEncoder();
    const list = `#EXTM3U\n#EXT-X-MEDIA-SEQUENCE:0\n#EXTINF:1.0,\nfile:///etc/passwd\n#EXT-X-ENDLIST\n`;
    expect(await refused([{ name: 'list.m3u8', bytes: text.encode(list) }])).toMatch(/cannot be read/);
    expect(await refused([{ name: 'list.mp4', bytes: text.encode(`ffconcat version 1.0\nfile '${file('count.mp4')}'\n`) }])).toMatch(/cannot be read/);
  });

  it('never leaves the directory of its upload, whatever its name', async () => {
    const { uploads } = services;
    const id = await uploads.create();
    await uploads.receive(id, 0, '../../../../outside.mp4', new Blob(['x']).stream(), 1);
    await expect(stat(path.join(services.dir, 'outside.mp4'))).rejects.toThrow();
    expect(() => uploads.directory('../plates')).toThrow('not here any more');
    expect(() => services.shots.plateDirectory('../../etc')).toThrow('not here any more');
  });
});
