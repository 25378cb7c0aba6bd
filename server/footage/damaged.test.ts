/** Footage that is damaged, cut off or not what it says: told in words, decided by choice, and never shifted or shorter by itself. */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bringIn, ended, ffmpeg, openTestServices, type TestServices, temporaryDirectory } from '../../tests/services.ts';
import { Plate } from '../db/models.ts';
import type { Decision } from '../shots.ts';
import { readStoredFrame } from './frame-store.ts';
import { readFrames } from './read-plate.ts';

let services: TestServices;
let dir: string;
beforeAll(async () => {
  services = await openTestServices();
  dir = await temporaryDirectory();
});
afterAll(() => services.end());

const file = (name: string) => path.join(dir, name);
const plateOf = async (plateId: string) => (await Plate.findByPk(plateId)) as Plate;
const summaryOf = async (shotId: string) => {
  const [production] = await services.shots.productions();
  return (await services.shots.shots(production.id)).find((s) => s.id === shotId);
};

/** Brightness of the middle of a stored frame. */
async function level(plateId: string, frame: number): Promise<number> {
  const { data } = await sharp(await readStoredFrame(services.shots.frameStore(plateId), 'full', frame))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return data[Math.floor(data.length / 2)];
}

interface Sent {
  name: string;
  bytes: Buffer;
}

/** Sends files and waits until they are in or it is told why not. */
async function send(files: Sent[]): Promise<{ shotId: string; plateId: string; message: string | null }> {
  const { shots, uploads, queue } = services;
  const productionId = (await shots.productions())[0]?.id ?? (await shots.createProduction('Test'));
  const uploadId = await uploads.create();
  for (const [i, { name, bytes }] of files.entries()) await uploads.receive(uploadId, i, name, new Blob([new Uint8Array(bytes)]).stream(), bytes.length);
  const made = await shots.createFromUpload({ productionId, uploadId, rate: '24' });
  queue.wake();
  const [job] = await queue.list({ shotId: made.shotId });
  return { ...made, message: (await ended(services, job.id)).message };
}

async function decide(shotId: string, decision: Decision): Promise<string | null> {
  const jobId = await services.shots.decide(shotId, decision);
  await services.queue.act(jobId, 'resume');
  return (await ended(services, jobId)).message;
}

/** Gray of a frame of a sequence: each tells its number. */
const grayOf = (frame: number) => 40 + 20 * frame;

async function pictures(extension: string, count = 6): Promise<Sent[]> {
  const made = path.join(dir, `p-%d.${extension}`);
  const kind = extension === 'exr' ? ['-pix_fmt', 'gbrpf32le'] : [];
  ffmpeg('-f', 'lavfi', '-i', `color=black:s=64x48:r=24:d=1,geq=lum=128:cb=128:cr=128`, '-frames:v', '1', '-q:v', '2', ...kind, file(`one.${extension}`));
  const out: Sent[] = [];
  for (let i = 0; i < count; i++) {
    const one = made.replace('%d', String(i));
    const hex = grayOf(i).toString(16).padStart(2, '0');
    ffmpeg('-f', 'lavfi', '-i', `color=0x${hex}${hex}${hex}:s=64x48,noise=alls=4:all_seed=${i + 1}`, '-frames:v', '1', '-q:v', '2', ...kind, one);
    out.push({ name: `tide.${1001 + i}.${extension}`, bytes: await readFile(one) });
  }
  return out;
}
const cut = ({ name, bytes }: Sent, share: number): Sent => ({ name, bytes: bytes.subarray(0, Math.floor(bytes.length * share)) });
const flipped = ({ name, bytes }: Sent, at: number): Sent => {
  const out = Buffer.from(bytes);
  out[Math.floor(out.length * at)] ^= 0x55;
  return { name, bytes: out };
};

describe('a picture of a sequence that cannot be used', () => {
  it('stops the shot, is named, and is held, black or left out by choice; frame n stays file n', async () => {
    const all = await pictures('png');
    all[2] = cut(all[2], 0.6);
    const { shotId, plateId, message } = await send(all);
    expect(message).toBe('1 of 6 pictures cannot be used: 1003 is cut off. Choose what is seen there, or delete it and send the pictures again.');
    expect(await summaryOf(shotId)).toMatchObject({ state: 'failed', asks: 'filling' });
    expect(await decide(shotId, 'hold')).toBeNull();
    expect(await summaryOf(shotId)).toMatchObject({ state: 'ready', asks: null, frames: 6, damaged: 1 });
    for (const [frame, as] of [0, 1, 1, 3, 4, 5].entries()) expect([frame, await level(plateId, frame)]).toEqual([frame, expect.closeTo(grayOf(as), -1)]);
    const plate = await plateOf(plateId);
    const probe = services.shots.probeOf(plate);
    expect([probe.damage, plate.firstNumber]).toEqual([[{ frame: 2, why: 'is cut off' }], 1001]);
    // What is written reads the pictures anew, from any frame on.
    const size = { width: 64, height: 48 };
    for await (const bytes of readFrames(probe, services.shots.originals(plateId), size, 4)) {
      expect(bytes[3 * (24 * 64 + 32)]).toBeGreaterThan(grayOf(4) - 8);
      break;
    }
    await expect(services.shots.decide(shotId, 'hold')).rejects.toThrow('decided already');
  });

  it('is black, or is left out with what is behind it moved up', async () => {
    const all = await pictures('png');
    all[0] = flipped(all[0], 0.5);
    all.splice(3, 1);
    const black = await send(all);
    expect(black.message).toContain('1001 is damaged; 1004 is missing');
    await decide(black.shotId, 'black');
    for (const [frame, gray] of [0, grayOf(1), grayOf(2), 0, grayOf(4), grayOf(5)].entries())
      expect([frame, await level(black.plateId, frame)]).toEqual([frame, expect.closeTo(gray, -1)]);
    const out = await send(all);
    await decide(out.shotId, 'leave-out');
    for (const [frame, as] of [1, 2, 4, 5].entries()) expect([frame, await level(out.plateId, frame)]).toEqual([frame, expect.closeTo(grayOf(as), -1)]);
    const summary = await summaryOf(out.shotId);
    expect(summary).toMatchObject({ frames: 4, damaged: 0 });
    expect(summary?.notes.join(' ')).toContain('2 pictures were left out, and those behind them have moved up: 1001 is damaged; 1004 is missing.');
  });

  it('is one of another size', async () => {
    const all = await pictures('png');
    all[4] = {
      name: all[4].name,
      bytes: await sharp({ create: { width: 80, height: 48, channels: 3, background: '#777' } })
        .png()
        .toBuffer(),
    };
    expect((await send(all)).message).toContain('1005 is 80×48, the others 64×48');
  });

  it.each([
    ['jpg', 0.5, 'is cut off'],
    ['tif', 0.5, 'is'],
    ['webp', 0.6, 'is'],
    ['exr', 0.02, 'is cut off'],
    ['exr', 0.98, 'is cut off'],
    ['dpx', 0.7, 'is cut off'],
    ['bmp', 0.9, 'is cut off'],
  ])('is found in %s files', async (extension, share, why) => {
    const all = await pictures(extension, 3);
    all[1] = cut(all[1], share);
    expect((await send(all)).message).toContain(`1 of 3 pictures cannot be used: 1002 ${why}`);
  });

  it.each(['png', 'jpg', 'tif', 'webp', 'exr', 'dpx', 'bmp'])('is none in sound %s files', async (extension) => {
    const { message, plateId } = await send(await pictures(extension, 3));
    expect([message, (await plateOf(plateId)).frames]).toEqual([null, 3]);
  });

  it('is refused at once where nothing can be read, or where it holds something else', async () => {
    const all = await pictures('png', 2);
    await expect(send(all.map((p) => cut(p, 0.5)))).rejects.toThrow('None of the 2 pictures can be read: "tide.1001.png" is cut off.');
    const list = Buffer.from(`ffconcat version 1.0\nfile ${file('one.png')}\n`);
    await expect(send([1, 2].map((n) => ({ name: `list.${n}.png`, bytes: list })))).rejects.toThrow('is no PNG file, though its name says so');
    await expect(send([cut((await pictures('jpg', 1))[0], 0.5)])).rejects.toThrow('"tide.1001.jpg" is cut off. Send it again');
  });

  it('keeps frames in their places where pictures differ in their pixels', async () => {
    // A writer that saves gray pictures as gray: filters begin anew where that changes.
    const all = await pictures('png');
    for (const i of [1, 4]) all[i].bytes = await sharp(all[i].bytes).toColourspace('b-w').png().toBuffer();
    const { plateId, message } = await send(all);
    expect(message).toBeNull();
    const probe = services.shots.probeOf(await plateOf(plateId));
    for (const first of [0, 1, 3, 5]) {
      const seen: number[] = [];
      for await (const bytes of readFrames(probe, services.shots.originals(plateId), { width: 64, height: 48 }, first))
        seen.push(bytes.reduce((sum, v) => sum + v, 0) / bytes.length);
      expect([first, seen.length]).toEqual([first, 6 - first]);
      for (const [i, v] of seen.entries()) expect([first, i, v]).toEqual([first, i, expect.closeTo(grayOf(first + i), -1)]);
    }
  });
});

describe('a movie of which something is missing', () => {
  const movie = async (name: string, ...args: string[]): Promise<Sent> => {
    ffmpeg('-f', 'lavfi', '-i', 'color=black:s=320x240:r=24:d=1,geq=lum=30+N*8:cb=128:cr=128,noise=alls=12:all_seed=3', ...args, file(name));
    return { name, bytes: await readFile(file(name)) };
  };

  it.each([
    ['cut.mp4', ['-c:v', 'libx264', '-bf', '0', '-g', '6', '-movflags', '+faststart']],
    ['cut.mkv', ['-c:v', 'libx264', '-bf', '0', '-g', '6']],
    ['cut.mov', ['-c:v', 'mjpeg', '-movflags', '+faststart']],
    ['cut.avi', ['-c:v', 'mjpeg']],
    ['cut.gif', []],
  ])('is not taken for a shorter one: %s', async (name, args) => {
    const whole = await movie(name, ...args);
    expect((await send([whole])).message).toBeNull();
    const { shotId, plateId, message } = await send([cut(whole, 0.5)]);
    expect(message).toMatch(/^\d+ of (24|25|\d\d) frames could be read: the file is cut off or damaged\. Send it again, or take what there is\.$/);
    expect(await summaryOf(shotId)).toMatchObject({ state: 'failed', asks: 'short' });
    expect(await decide(shotId, 'take')).toBeNull();
    const { frames } = await plateOf(plateId);
    expect(frames).toBeGreaterThan(1);
    expect(frames).toBeLessThan(20);
    expect((await summaryOf(shotId))?.notes.join(' ')).toContain('frames could be read: the file is cut off or damaged.');
  });

  it('holds the frame before where one in the middle cannot be decoded, and says on which', async () => {
    const whole = await movie('holes.mov', '-c:v', 'png', '-pix_fmt', 'rgb24');
    // The packets lie one behind the other; one of them is spoilt.
    const starts: number[] = [];
    for (let at = whole.bytes.indexOf('IHDR'); at >= 0; at = whole.bytes.indexOf('IHDR', at + 1)) starts.push(at);
    expect(starts).toHaveLength(24);
    whole.bytes.fill(0, starts[7] - 12, starts[7] + 20);
    const { shotId, plateId, message } = await send([whole]);
    expect(message).toContain('On one frame another is seen instead.');
    await decide(shotId, 'take');
    const { frames } = await plateOf(plateId);
    expect([frames, services.shots.probeOf(await plateOf(plateId)).damage]).toEqual([24, [{ frame: 7, why: 'cannot be decoded' }]]);
    const levels = await Promise.all([6, 7, 8].map((f) => level(plateId, f)));
    expect(Math.abs(levels[1] - levels[0])).toBeLessThan(4);
    expect(levels[2] - levels[0]).toBeGreaterThan(8);
  });

  it('is refused where one frame would be shown for an hour', async () => {
    const gap = await movie('gap.mkv', '-vf', "setpts='if(gt(N,11),PTS+3600/TB,PTS)'", '-vsync', 'passthrough', '-c:v', 'libx264', '-bf', '0');
    const { message } = await send([gap]);
    expect(message).toContain('After its picture 12 the times in this file leap by 01:00:00');
  });
});

describe('what is in a file beside its colours', () => {
  it.each([
    ['vp8.webm', 'libvpx'],
    ['vp9.webm', 'libvpx-vp9'],
  ])('keeps the alpha of %s', async (name, codec) => {
    const half = "color=0xC83C28:s=96x64:r=24:d=0.25,format=yuva420p,geq=lum='lum(X,Y)':cb='cb(X,Y)':cr='cr(X,Y)':a='if(lt(X,48),255,0)'";
    ffmpeg('-f', 'lavfi', '-i', half, '-c:v', codec, '-pix_fmt', 'yuva420p', '-auto-alt-ref', '0', '-b:v', '1M', file(name));
    const { plateId, alpha } = await bringIn(services, [{ name, bytes: await readFile(file(name)) }]);
    expect(alpha).toBe(true);
    const { data, info } = await sharp(await readStoredFrame(services.shots.frameStore(plateId), 'alpha', 3))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const at = (x: number) => data[32 * info.width + x];
    expect([at(20) > 240, at(76) < 15]).toEqual([true, true]);
  });

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('turns a picture upright by its Exif orientation (%i)', async (orientation) => {
    // Another colour in every corner.
    const pixels = Buffer.alloc(64 * 32 * 3);
    for (let y = 0; y < 32; y++) for (let x = 0; x < 64; x++) pixels.set([x < 32 ? 220 : 30, y < 16 ? 220 : 30, 90], 3 * (64 * y + x));
    const stored = await sharp(pixels, { raw: { width: 64, height: 32, channels: 3 } })
      .withMetadata({ orientation })
      .jpeg({ quality: 98, chromaSubsampling: '4:4:4' })
      .toBuffer();
    await writeFile(file(`turned-${orientation}.jpg`), stored);
    const { plateId } = await bringIn(services, [{ name: 'turned.jpg', bytes: stored }]);
    const wanted = await sharp(stored).rotate().raw().toBuffer({ resolveWithObject: true });
    const seen = await sharp(await readStoredFrame(services.shots.frameStore(plateId), 'full', 0))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([seen.info.width, seen.info.height]).toEqual([wanted.info.width, wanted.info.height]);
    let far = 0;
    for (let i = 0; i < seen.data.length; i++) far += Math.abs(seen.data[i] - wanted.data[i]);
    expect(far / seen.data.length).toBeLessThan(4);
  });
});
