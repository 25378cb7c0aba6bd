/** Every kind of output, written and read back: by the check that goes with it, and here by ffmpeg's own word. */
import { execFileSync } from 'node:child_process';
import { copyFile, readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newSpline } from '../../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../../core/document/records.ts';
import { newElement } from '../../core/elements/index.ts';
import { corner } from '../../core/path/path.ts';
import { outputsPage } from '../../scripts/outputs-page.ts';
import { bringIn, ended, ffmpeg, ffprobe, openTestServices, rawFrames, type TestServices } from '../../tests/services.ts';
import { checkOutput } from './check.ts';
import { FORMATS, outputSpecSchema } from './formats/index.ts';
import { materialWith } from './shown-shots.ts';

let services: TestServices;
let shotId: string;
beforeAll(async () => {
  services = await openTestServices();
  const file = path.join(services.dir, 'quay.mkv');
  // Of an odd size, at a rate that is no whole number, so that both have to be kept.
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=162x92:r=30000/1001:d=2,format=bgr0,crop=161:91',
    '-f',
    'lavfi',
    '-i',
    'sine=d=2',
    '-vf',
    'gblur=2,format=bgr0',
    '-c:v',
    'ffv1',
    '-pix_fmt',
    'bgr0',
    '-c:a',
    'flac',
    file,
  );
  shotId = (await bringIn(services, [{ name: 'quay.mkv', bytes: await readFile(file) }])).shotId;
  const subject = newSubject('s', 'Crate');
  const path0 = newPath('q', 0, [], true);
  const at = (x: number) => [corner(x, 20), corner(x + 50, 24), corner(x + 30, 70)];
  path0.shape = { keys: [0, 50].map((frame) => ({ frame, value: at(10 + frame), ease: 'linear' as const })) };
  subject.parts.push(newSpline('p', 'Body', [path0]));
  subject.edge.featherOut = { constant: 4 };
  const { document } = await services.changes.load(shotId);
  const beam = newElement(document, 'b', 'front', null, 'beam');
  const change = {
    id: 'a',
    label: 'Example',
    edits: [
      { kind: 'insert' as const, parent: 'cast', index: 0, record: subject },
      { kind: 'insert' as const, parent: 'lanes', index: 0, record: beam },
    ],
  };
  await services.changes.apply(shotId, { role: 'do', page: 'p', change });
});
afterAll(() => services.end());

const specOf = (kind: string, of: 'subject' | 'picture', more: object = {}) => ({
  kind,
  ...(of === 'subject' ? { subject: 's' } : {}),
  first: 3,
  last: 30,
  ...more,
});

async function written(spec: object) {
  const jobId = await services.outputs.request(services.queue, shotId, spec);
  const { message } = await ended(services, jobId);
  const [summary] = (await services.outputs.list(services.queue, shotId)).filter((o) => o.job.id === jobId);
  return { ...summary.outputs[0], job: summary.job, message, dir: services.outputs.directory(jobId) };
}

describe('every output', () => {
  it('is on the page of the docs (npm run docs)', async () => {
    expect(await readFile('docs/outputs.md', 'utf8')).toBe(outputsPage());
  });

  it.each(FORMATS.map((f) => [f.label, f] as const))('%s is what it says, frame for frame', async (_label, format) => {
    const { message, checked, files, dir } = await written(specOf(format.id, format.of));
    expect(message).toBeNull();
    expect(checked?.frames).toBe(28);
    expect(checked?.readBack.length).toBeGreaterThan(8);
    expect(checked?.sound === null).toBe(!(format.single && format.id.startsWith('composed')));
    const pictures = files.filter((f) => !/\.(json|sha256)$/.test(f));
    expect(pictures).toHaveLength(format.single ? 1 : 28);
    const { stream, frames } = ffprobe(path.join(dir, pictures[0]));
    if (format.single) expect([frames, stream.r_frame_rate]).toEqual([28, '30000/1001']);
    const alpha =
      /yuva|rgba|gbrap|ya/.test(String(stream.pix_fmt)) ||
      (stream.tags as unknown as Record<string, string> | undefined)?.ALPHA_MODE === '1' ||
      (stream.tags as unknown as Record<string, string> | undefined)?.alpha_mode === '1';
    expect([format.id, alpha]).toEqual([format.id, /^(cutout|elements)/.test(format.id)]);
    // The list of hashes is one that the usual program takes.
    expect(execFileSync('sha256sum', ['-c', 'hashes.sha256'], { cwd: dir, encoding: 'utf8' })).not.toContain('FAILED');
    // No piece of it is left.
    expect((await readdir(dir)).sort()).toEqual([...files].sort());
  });

  it('keeps time, frame and rate in EXR files, for those who read them', async () => {
    const { dir, files } = await written(specOf('matte-exr', 'subject', { numbers: 'float' }));
    const [first, second] = files.filter((f) => f.endsWith('.exr'));
    // The value behind a name and a type in the header, after four bytes of its size.
    const header = async (name: string, attribute: string) => {
      const bytes = await readFile(path.join(dir, name));
      return bytes.subarray(bytes.indexOf(attribute) + attribute.length + 4);
    };
    const rate = await header(first, 'framesPerSecond\0rational\0');
    expect([rate.readInt32LE(0), rate.readUInt32LE(4)]).toEqual([30000, 1001]);
    // 00:00:00;03 and ;04: two decimal digits a byte, with the flag of drop frame.
    for (const [i, name] of [first, second].entries()) {
      expect((await header(name, 'timeCode\0timecode\0')).readUInt32LE(0)).toBe(0x40 + 3 + i);
      expect((await header(name, 'imageCounter\0int\0')).readInt32LE(0)).toBe(3 + i);
    }
    // Still a whole picture: as gray of 32 bits, equal to the lossless movie of the same.
    const movie = await written(specOf('matte-ffv1', 'subject'));
    const gray = rawFrames(path.join(movie.dir, movie.files[0]), 'gray16le');
    const float = execFileSync('ffmpeg', ['-v', 'error', '-i', path.join(dir, second), '-f', 'rawvideo', '-pix_fmt', 'grayf32le', '-'], { maxBuffer: 1 << 26 });
    const count = 161 * 91;
    for (let p = 0; p < count; p += 13) expect(Math.abs(float.readFloatLE(4 * p) - gray.readUInt16LE(2 * (count + p)) / 65535)).toBeLessThan(1e-4);
  });

  it('is refused where it was spoilt after it was written: a picture of another frame, one too few, a movie cut short', async () => {
    const { document } = await services.changes.load(shotId);
    const task = async (spec: object, directory: string) => ({
      ...(await materialWith(shotId, document, {}, services)),
      spec: outputSpecSchema.parse(spec),
      directory,
    });
    const png = await written(specOf('matte-png', 'subject', { bits: 8 }));
    const names = png.files.filter((f) => f.endsWith('.png'));
    const made = await task(specOf('matte-png', 'subject', { bits: 8 }), png.dir);
    await expect(checkOutput(made, names)).resolves.toMatchObject({ frames: 28 });
    await expect(checkOutput(made, names.slice(1))).rejects.toThrow('there are 27 pictures for 28 frames');
    await copyFile(path.join(png.dir, names[14]), path.join(png.dir, names[0]));
    await expect(checkOutput(made, names)).rejects.toThrow('frame 3 was read back as another picture than the one that was rendered');
    const movie = await written(specOf('composed-mp4', 'picture'));
    const short = path.join(movie.dir, 'short.mp4');
    ffmpeg('-i', path.join(movie.dir, movie.files[0]), '-c', 'copy', '-frames:v', '20', short);
    await expect(checkOutput(await task(specOf('composed-mp4', 'picture'), movie.dir), ['short.mp4'])).rejects.toThrow('the movie has 20 frames, not 28');
  });
});
