import { statSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import { renderMatte } from '../core/matte/render-matte.ts';
import { NO_IMPORTS } from '../core/matte/sources.ts';
import type { Shape } from '../core/path/path.ts';
import { ffprobe, rawFrames } from '../tests/services.ts';
import clips from './clips/clips.json' with { type: 'json' };
import outlines from './lantern-outline.json' with { type: 'json' };

const at = (name: string) => path.join(import.meta.dirname, 'clips', name);
const PIXELS = 960 * 540;

describe('the demo film', () => {
  it.each(clips.map((c) => [c.file, c] as const))('%s is small, whole and tagged, with a matte for every frame', (_name, clip) => {
    const file = at(`${clip.file}.mp4`);
    expect(statSync(file).size).toBeLessThan(4 * 1024 * 1024);
    expect(ffprobe(file)).toMatchObject({
      frames: clip.frames,
      stream: { codec_name: 'h264', width: 960, height: 540, r_frame_rate: '24/1', color_space: 'bt709', color_range: 'tv' },
    });
    if (!clip.matte) return;
    const matte = at(`${clip.file}.matte.mkv`);
    expect(ffprobe(matte)).toMatchObject({ frames: clip.frames, stream: { codec_name: 'ffv1', pix_fmt: 'gray' } });
    const alpha = rawFrames(matte, 'gray');
    // The passer-by comes into the picture and leaves it again.
    for (const frame of [...(clip.file === 'passer-by' ? [] : [0]), clip.frames >> 1]) {
      const own = alpha.subarray(frame * PIXELS, (frame + 1) * PIXELS);
      const solid = own.filter((v) => v === 255).length;
      const soft = own.filter((v) => v > 0 && v < 255).length;
      // A subject of some size, with soft edges from motion and sampling.
      expect(solid).toBeGreaterThan(2000);
      expect(soft).toBeGreaterThan(300);
    }
  });

  it('has somebody who passes so close that his height is that of the picture', () => {
    const alpha = rawFrames(at('passer-by.matte.mkv'), 'gray');
    const rowsOf = (frame: number) =>
      Array.from({ length: 540 }, (_, y) => alpha.subarray(frame * PIXELS + 960 * y, frame * PIXELS + 960 * (y + 1)).some((v) => v > 200)).filter(Boolean)
        .length;
    expect([0, 24, 47].map(rowsOf)).toEqual([0, 540, 0]);
  });

  it('has tide water that spreads from nothing over all of the picture, and never goes back', () => {
    const water = rawFrames(at('tide-water.mp4'), 'gray');
    const means = Array.from({ length: 60 }, (_, f) => water.subarray(f * PIXELS, (f + 1) * PIXELS).reduce((sum, v) => sum + v, 0) / PIXELS);
    expect([means[0] < 4, means[59] > 250]).toEqual([true, true]);
    for (let f = 1; f < 60; f++) expect(means[f]).toBeGreaterThan(means[f - 1] - 0.5);
  });

  it('has a finished example that fits the lantern on key frames and between them', async () => {
    const document = newDocument('Lantern', { width: 960, height: 540, frames: 72, rate: { num: 24, den: 1 }, firstNumber: 0 });
    const keyed = (id: string, keys: { frame: number; shape: Shape }[]) => ({
      ...newPath(id, 0, [], true),
      shape: { keys: keys.map(({ frame, shape }) => ({ frame, value: shape, ease: 'linear' as const })) },
    });
    const still = (id: string, shape: Shape) => ({ ...newPath(id, 0, [], true), shape: { constant: shape } });
    const subject = newSubject('s', 'Lantern');
    const bars = outlines.railings.slice(0, -1).map((shape, i) => still(`bar${i}`, shape));
    subject.parts.push(
      newSpline(
        'body',
        'Body',
        outlines.paths.map((keys, i) => keyed(`b${i}`, keys)),
      ),
      newSpline('handle', 'Handle', [keyed('h', outlines.handle)]),
      { ...newSpline('bars', 'Bars', bars), operation: 'subtract' },
    );
    document.cast.push(subject);
    const truth = rawFrames(at('storm-lantern.matte.mkv'), 'gray');
    for (const frame of [0, 12, 21, 40, 57]) {
      const matte = (await renderMatte(document, 's', frame, NO_IMPORTS, { width: 960, height: 540 })).data;
      let both = 0;
      let either = 0;
      for (let i = 0; i < PIXELS; i++) {
        const t = truth[frame * PIXELS + i] / 255;
        both += Math.min(t, matte[i]);
        either += Math.max(t, matte[i]);
      }
      expect(both / either).toBeGreaterThan(0.55);
    }
  });
});
