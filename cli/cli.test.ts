import { spawnSync } from 'node:child_process';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import { matteTo8 } from '../core/image/picture.ts';
import { renderMatte } from '../core/matte/render-matte.ts';
import { NO_IMPORTS } from '../core/matte/sources.ts';
import { corner, smooth } from '../core/path/path.ts';
import { ROOT } from '../server/root.ts';
import { ffmpeg, ffprobe, rawFrames, temporaryDirectory } from '../tests/services.ts';

let dir: string;
const document = newDocument('Quay', { width: 160, height: 90, frames: 24, rate: { num: 24, den: 1 }, firstNumber: 1001 });
beforeAll(async () => {
  dir = await temporaryDirectory();
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=160x90:r=24:d=1', '-pix_fmt', 'yuv420p', path.join(dir, 'clip.mp4'));
  const subject = newSubject('s', 'Courier');
  subject.parts.push(newSpline('p', 'Body', [newPath('q', 0, [smooth(30, 20, 12, 0), corner(120, 30), corner(70, 80)], true)]));
  subject.edge.featherOut = { constant: 5 };
  document.cast.push(subject);
  await writeFile(path.join(dir, 'quay.json'), JSON.stringify(document));
});
afterAll(() => rm(dir, { recursive: true, force: true }));

const cli = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(path.join(ROOT, 'mottrel'), ['cli', ...args], {
    encoding: 'utf8',
    env: { ...process.env, MOTTREL_DATA: path.join(dir, 'data') },
  });
  return { status, stdout, stderr };
};
const at = (name: string) => path.join(dir, name);

describe('cli with a document file', () => {
  it('writes mattes with no database, the same as renderMatte', async () => {
    const { status, stdout } = cli(
      'matte',
      '--document',
      at('quay.json'),
      '--subject',
      'Courier',
      '--frames',
      '1003-1005',
      '--out',
      at('mattes'),
      '--bits',
      '8',
    );
    expect([status, stdout]).toEqual([0, expect.stringContaining('Wrote 5 files')]);
    expect((await readdir(at('mattes'))).sort()).toEqual([
      'courier-matte.1003.png',
      'courier-matte.1004.png',
      'courier-matte.1005.png',
      'hashes.sha256',
      'output.json',
    ]);
    const wanted = matteTo8(await renderMatte(document, 's', 2, NO_IMPORTS, { width: 160, height: 90 }));
    expect(Buffer.compare(rawFrames(at('mattes/courier-matte.1003.png'), 'gray'), Buffer.from(wanted))).toBe(0);
    expect(await readdir(dir)).not.toContain('data');
  });

  it('writes a cut-out and a composed picture of footage', () => {
    expect(
      cli(
        'output',
        '--document',
        at('quay.json'),
        '--footage',
        at('clip.mp4'),
        '--kind',
        'cutout',
        '--subject',
        'Courier',
        '--frames',
        '1001-1006',
        '--out',
        at('cut'),
      ).status,
    ).toBe(0);
    expect(ffprobe(at('cut/quay-courier-cutout.mov'))).toMatchObject({ frames: 6 });
    expect(
      cli('output', '--document', at('quay.json'), '--footage', at('clip.mp4'), '--kind', 'composed', '--frames', '1001-1024', '--out', at('composed')).status,
    ).toBe(0);
    expect(ffprobe(at('composed/quay-composed.mp4'))).toMatchObject({ frames: 24, stream: { codec_name: 'h264' } });
  });

  it('has a help of its own for each command', () => {
    const { status, stdout } = cli('peel', '--help');
    expect(status).toBe(0);
    for (const word of ['--strokes <file...>', '"mode":"keep"']) expect(stdout).toContain(word);
    expect(stdout).not.toContain('--kind');
  });

  it.each<[string, string[], RegExp]>([
    ['no command of that name', ['dance'], /unknown command 'dance'/],
    ['an option that there is not', ['matte', '--document', 'DIR/quay.json', '--out', 'x', '--colour', 'blue'], /unknown option '--colour'/],
    [
      'an option of another kind of output',
      ['output', '--document', 'DIR/quay.json', '--kind', 'cutout', '--subject', 'Courier', '--out', 'x', '--bits', '8'],
      /has no option "bits"/,
    ],
    ['an option of another command', ['document', '--shot', 'x', '--out', 'x', '--quality', 'fine'], /unknown option '--quality'/],
    ['no document', ['matte', '--document', 'nowhere.json', '--subject', 'Courier', '--out', 'x'], /no document nowhere\.json/],
    ['no such subject', ['matte', '--document', 'DIR/quay.json', '--subject', 'Kite', '--out', 'x'], /no subject "Kite".*Courier/],
    ['frames beyond the shot', ['matte', '--document', 'DIR/quay.json', '--subject', 'Courier', '--frames', '1-5', '--out', 'x'], /within 1001-1024/],
    ['no place to write', ['matte', '--document', 'DIR/quay.json', '--subject', 'Courier'], /--out <dir>/],
    ['a depth that there is not', ['matte', '--document', 'DIR/quay.json', '--subject', 'Courier', '--out', 'x', '--bits', '12'], /Allowed choices are 8, 16/],
    ['a picture without footage', ['output', '--document', 'DIR/quay.json', '--kind', 'composed', '--out', 'x'], /--footage FILE/],
    [
      'footage that is none',
      ['output', '--document', 'DIR/quay.json', '--footage', 'DIR/quay.json', '--kind', 'composed', '--out', 'x'],
      /cannot be read as a picture or video/,
    ],
  ])('says what is wrong and gives 2: %s', (_name, args, message) => {
    const { status, stderr } = cli(...args.map((a) => a.replace('DIR', dir)));
    expect(stderr).toMatch(message);
    expect(status).toBe(2);
  });
});

describe('cli peel', () => {
  const HEAD = { version: 1, width: 160, height: 90, frames: 12 };
  const write = (name: string, strokes: unknown, more: object = {}) => writeFile(at(name), JSON.stringify({ ...HEAD, ...more, strokes }));
  const keep = {
    frame: 6,
    mode: 'keep',
    radius: 4,
    points: [
      [68, 40],
      [76, 50],
    ],
  };
  const drop = {
    frame: 6,
    mode: 'drop',
    radius: 2,
    points: [
      [4, 4],
      [155, 4],
      [155, 85],
      [4, 85],
    ],
  };
  const peel = (...more: string[]) => cli('peel', '--footage', at('crate.mp4'), '--strokes', at('strokes.json'), '--out', at('peeled'), ...more);
  beforeAll(() => {
    // A crate of 30 by 30 that moves 4 pixels a frame; it is at (60, 30) on frame 6 (the filter counts frames from 1).
    const crate = "color=orange:s=30x30:r=24:d=0.5[c];color=0x203a60:s=160x90:r=24:d=0.5,noise=alls=12:allf=t[b];[b][c]overlay=x='32+4*n':y=30";
    ffmpeg('-f', 'lavfi', '-i', crate, '-pix_fmt', 'yuv444p', '-crf', '12', at('crate.mp4'));
  });
  const expectCrate = (margin: number) => {
    for (let f = 0; f < 12; f++) {
      const matte = rawFrames(at(`peeled/matte.${String(f).padStart(4, '0')}.png`), 'gray');
      const left = 36 + 4 * f;
      for (const [x, y, inside] of [
        [left + 2 + margin, 32 + margin, true],
        [left + 27 - margin, 57 - margin, true],
        [left - 1 - margin, 45, false],
        [left + 30 + margin, 45, false],
      ] as const)
        expect(matte[y * 160 + x] > 127, `frame ${f} at ${x}, ${y}`).toBe(inside);
    }
  };

  it('finds the subject on all frames from strokes of several files on one frame, with the doubt of each', async () => {
    await write('strokes.json', [keep]);
    await write('more.json', [drop]);
    const { status, stdout } = peel('--strokes', at('more.json'));
    expect([status, stdout]).toEqual([0, expect.stringMatching(/Wrote 12 mattes .* s a frame/)]);
    expectCrate(2);
    expect(ffprobe(at('peeled/matte.0003.png')).stream).toMatchObject({ pix_fmt: 'gray16be', width: 160, height: 90 });
    const report = JSON.parse(await readFile(at('peeled/report.json'), 'utf8')) as { frames: { frame: number; doubt: number }[]; secondsPerFrame: number };
    expect(report.frames.map((f) => f.frame)).toEqual(Array.from({ length: 12 }, (_, i) => i));
    expect(report.frames[6]).toEqual({ frame: 6, doubt: 0, reasons: [], anchor: true });
    expect(report.frames[5]).toMatchObject({ anchor: false, reasons: [] });
    expect(Math.max(...report.frames.map((f) => f.doubt))).toBeLessThan(50);
    expect(report.secondsPerFrame).toBeGreaterThan(0);
  });

  it('mends what is carried to another frame by strokes there, and carries that on both ways', async () => {
    // A green box of 20 by 16 stands on the crate.
    const box = "color=0x30a040:s=20x16:r=24:d=0.5[g];movie=crate.mp4[c];[c][g]overlay=x='37+4*n':y=14";
    ffmpeg('-f', 'lavfi', '-i', box.replace('crate.mp4', at('crate.mp4')), '-pix_fmt', 'yuv444p', '-crf', '12', at('boxes.mp4'));
    const line = (frame: number, mode: string, points: number[][]) => ({ frame, mode, radius: 2, points });
    const left = (frame: number) => 36 + 4 * frame;
    const onBox = (frame: number) => [-2, 2].map((x) => [left(frame) + 15 + x, 22]);
    await write('strokes.json', [keep, drop, line(6, 'drop', onBox(6))]);
    await write('more.json', [line(10, 'keep', onBox(10))]);
    const { status, stderr } = cli('peel', '--footage', at('boxes.mp4'), '--strokes', at('strokes.json'), '--strokes', at('more.json'), '--out', at('boxes'));
    expect([status, stderr]).toEqual([0, '']);
    const matte = (f: number) => rawFrames(at(`boxes/matte.${String(f).padStart(4, '0')}.png`), 'gray');
    const inside = (f: number) => [45, 22].map((y) => matte(f)[y * 160 + left(f) + 15] > 127);
    expect([2, 6, 7].map(inside)).toEqual(Array(3).fill([true, false]));
    expect([9, 10, 11].map(inside)).toEqual(Array(3).fill([true, true]));
    const report = JSON.parse(await readFile(at('boxes/report.json'), 'utf8')) as { frames: { frame: number; anchor: boolean }[] };
    expect(report.frames.filter((f) => f.anchor).map((f) => f.frame)).toEqual([6, 10]);
  });

  it('finds both sides of a painted frame in threads, and comes to the same as for each side alone', async () => {
    const crate = "color=orange:s=30x30:r=24:d=2[c];color=0x203a60:s=160x90:r=24:d=2,noise=alls=12:allf=t[b];[b][c]overlay=x='19+n':y=30";
    ffmpeg('-f', 'lavfi', '-i', crate, '-frames:v', '40', '-pix_fmt', 'yuv444p', '-crf', '12', at('long.mp4'));
    const on20 = (stroke: object) => ({ ...stroke, frame: 20 });
    const along = keep.points.map(([x, y]) => [x - 20, y]);
    await write('long.json', [on20({ ...keep, points: along }), on20(drop)], { frames: 40 });
    const run = (out: string, ...more: string[]) => cli('peel', '--footage', at('long.mp4'), '--strokes', at('long.json'), '--out', at(out), ...more);
    expect(run('whole')).toMatchObject({ status: 0, stderr: '' });
    expect(run('before', '--frames', '0-19').status).toBe(0);
    expect(run('after', '--frames', '20-39').status).toBe(0);
    for (let f = 0; f < 40; f++) {
      const name = `matte.${String(f).padStart(4, '0')}.png`;
      expect((await readFile(at(`whole/${name}`))).equals(await readFile(at(`${f < 20 ? 'before' : 'after'}/${name}`))), name).toBe(true);
    }
    const reported = async (out: string) => JSON.parse(await readFile(at(`${out}/report.json`), 'utf8')).frames;
    expect(await reported('whole')).toEqual([...(await reported('before')), ...(await reported('after'))]);
    // What is wrong with strokes is told as well where it shows in a thread.
    await write('long.json', [on20({ ...keep, points: [[400, 400]] })], { frames: 40 });
    expect(run('whole')).toMatchObject({ status: 2, stderr: expect.stringMatching(/outside the picture/) });
  });

  it('finds it as a draft as well, and takes soft strokes', async () => {
    await rm(at('peeled'), { recursive: true, force: true });
    await write('strokes.json', [keep, drop, { ...keep, mode: 'soft' }]);
    expect(peel('--quality', 'draft').status).toBe(0);
    expectCrate(4);
  });

  it('writes some frames only, in 8 bits', async () => {
    await write('strokes.json', [keep, drop]);
    await rm(at('peeled'), { recursive: true, force: true });
    expect(peel('--frames', '2-4', '--bits', '8').status).toBe(0);
    expect((await readdir(at('peeled'))).sort()).toEqual(['matte.0002.png', 'matte.0003.png', 'matte.0004.png', 'report.json']);
    expect(ffprobe(at('peeled/matte.0003.png')).stream).toMatchObject({ pix_fmt: 'gray' });
  });

  it.each<[string, unknown[], object, string[], RegExp]>([
    ['only drop strokes', [drop], {}, [], /Nothing is kept/],
    ['no strokes', [], {}, [], /There are no strokes/],
    ['a stroke on a frame that is not there', [{ ...keep, frame: 40 }], {}, [], /ends with frame 11/],
    ['a brush of no size', [{ ...keep, radius: 0 }], {}, [], /does not hold strokes.*radius/],
    ['a mode that there is not', [{ ...keep, mode: 'maybe' }], {}, [], /does not hold strokes.*mode/],
    ['strokes for another size', [keep], { width: 320 }, [], /for footage of 320×90, but this is 160×90/],
    ['strokes for another length', [keep], { frames: 99 }, [], /for footage of 99 frames, but this has 12/],
    ['a quality that there is not', [keep], {}, ['--quality', 'best'], /Allowed choices are draft, fine/],
    ['frames beyond the footage', [keep], {}, ['--frames', '3-99'], /within 0-11/],
  ])('says what is wrong and gives 2: %s', async (_name, list, head, more, message) => {
    await write('strokes.json', list, head);
    const { status, stderr } = peel(...more);
    expect(stderr).toMatch(message);
    expect(status).toBe(2);
  });
});

describe('cli with the database', () => {
  it('brings footage in, gives its document out and writes from the shot', async () => {
    const { status, stdout, stderr } = cli('ingest', at('clip.mp4'), '--production', 'Harbour', '--name', 'Quay');
    expect([status, stderr.replace(/npm.*\n/g, '')]).toEqual([0, '']);
    const id = stdout.trim();
    expect(id).toMatch(/^[0-9a-f-]{36}$/);
    expect(cli('document', '--shot', id, '--out', at('out.json')).status).toBe(0);
    expect(cli('output', '--shot', id, '--kind', 'composed', '--frames', '0-5', '--out', at('from-shot')).status).toBe(0);
    expect(ffprobe(at('from-shot/quay-composed.mp4')).frames).toBe(6);
    expect(cli('ingest', at('quay.json'))).toMatchObject({ status: 2, stderr: expect.stringMatching(/cannot be read/) });
    expect(cli('document', '--shot', 'nowhere', '--out', at('x.json'))).toMatchObject({ status: 2, stderr: expect.stringMatching(/not here any more/) });
  });
});
