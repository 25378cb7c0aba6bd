import { LRUCache } from 'lru-cache';
import { describe, expect, it } from 'vitest';
import { firstStrokes, nextStroke } from '../bench/peel/artist.ts';
import { demoFootage, HEIGHT, paintedFrame, WIDTH } from '../bench/peel/footage.ts';
import { exactMask, regionIoU } from '../bench/peel/measures.ts';
import { corrections } from '../bench/peel/stretch.ts';
import { cutPainted, type KnownCuts, mendPainted } from '../core/peel/cut/cut-painted.ts';
import { eachComponent } from '../core/peel/picture/masks.ts';
import { CUT_SETTINGS } from '../core/peel/settings.ts';
import { DROP, type PaintedStroke, paintStrokes } from '../core/peel/strokes/strokes.ts';
import { shareOf } from '../tests/battery.ts';

/** So many strokes may change all: what the subject looks like is only learned from them. Those after them turn no more than specks against what they say. */
const FREELY = 6;
/** Pixels of a piece that is more than a speck. */
const SPECK = 20;
const CORRECTIONS = 14;

/** A frame of the demo film, what is true of it, and what strokes cut it to. */
async function frameOf(name: string, frame: number) {
  const footage = demoFootage(name, frame - 1, 3);
  const prepared = await paintedFrame(footage, 1);
  const known: KnownCuts = new LRUCache({ max: 4 });
  const cut = (strokes: readonly PaintedStroke[], from: KnownCuts = known) =>
    cutPainted(prepared, strokes, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS, { known: from })?.mask as Uint8Array;
  const truth = footage.truth[1];
  return { truth, cut, right: (mask: Uint8Array) => regionIoU(mask, truth), first: firstStrokes(truth, WIDTH, HEIGHT) };
}

describe('one more right stroke on the demo film', () => {
  it.each(
    shareOf([
      ['courier-on-the-quay', 30, 0.87],
      ['storm-lantern', 20, 0.85],
      ['storm-lantern', 40, 0.79],
      ['courier-on-the-quay', 12, 0.82],
      ['ferry-ramp', 25, 0.92],
      ['dune-kite', 35, 0.91],
    ]),
  )('never makes the cut worse: %s, frame %i', async (name, frame, enough) => {
    const { truth, cut, right, first: strokes } = await frameOf(name, frame);
    let mask = cut(strokes);
    let before = right(mask);
    for (const { next, was, mask: now } of corrections(CORRECTIONS, strokes, mask, truth, cut)) {
      mask = now;
      if (strokes.length > FREELY) {
        const against = mask.map((v, i) => (v !== was[i] && v !== (next.kind === 'keep' ? 1 : 0) ? 1 : 0));
        let largest = 0;
        eachComponent(against, WIDTH, HEIGHT, 1, (pixels) => {
          largest = Math.max(largest, pixels.length);
        });
        expect(largest, `pixels of a piece that stroke ${strokes.length} turned against what it says`).toBeLessThan(SPECK);
      }
      const iou = right(mask);
      if (strokes.length > FREELY) expect(iou, `stroke ${strokes.length}`).toBeGreaterThan(before - 0.002);
      before = iou;
    }
    expect(before).toBeGreaterThan(enough);
    // Cut in one go, as carrying does it, it comes to the same.
    expect(Buffer.compare(cut(strokes, new LRUCache({ max: 1 })), mask)).toBe(0);
  });

  it.each(
    shareOf([
      ['courier-on-the-quay', 56],
      ['courier-on-the-quay', 44],
      ['storm-lantern', 14],
    ]),
  )('changes nothing where it says what is so already: %s, frame %i', async (name, frame) => {
    const { cut, first } = await frameOf(name, frame);
    const [one, other, ...lines] = first;
    const strokes = [one, other, lines[0]];
    let before = cut(strokes);
    let said = 0;
    for (const line of lines.slice(1)) {
      const painted = paintStrokes([line], { width: WIDTH, height: HEIGHT, scaleX: 1, scaleY: 1 });
      const already = painted.every((v, i) => v !== DROP || before[i] === 0);
      strokes.push(line);
      const after = cut(strokes);
      if (already) {
        expect(Buffer.compare(after, before)).toBe(0);
        said++;
      }
      before = after;
    }
    expect(said).toBeGreaterThan(0);
  });

  it.each(shareOf([13, 49]))('of few does not fill the picture where it keeps more: dune-kite, frame %i', async (frame) => {
    const { truth, cut, right, first } = await frameOf('dune-kite', frame);
    const strokes = first.slice(0, 3);
    const before = cut(strokes);
    const next = nextStroke(before, truth, WIDTH, HEIGHT) as PaintedStroke;
    expect(next.kind).toBe('keep');
    strokes.push(next);
    expect(right(cut(strokes))).toBeGreaterThan(right(before) - 0.002);
  });

  it.each(
    shareOf([
      ['courier-on-the-quay', 28],
      ['courier-on-the-quay', 56],
      ['storm-lantern', 14],
    ]),
  )('mends from the third on what one line of either kind has found: %s, frame %i', async (name, frame) => {
    const { truth, cut, right, first: lines } = await frameOf(name, frame);
    const strokes = [lines[0], lines[2]];
    const found = cut(strokes);
    const first = right(found);
    let before = first;
    for (const { mask } of corrections(7, strokes, found, truth, cut)) {
      const iou = right(mask);
      expect(iou, `stroke ${strokes.length}`).toBeGreaterThan(before - 0.002);
      before = iou;
    }
    expect(strokes).toHaveLength(9);
    expect(before).toBeGreaterThan(first + 0.04);
  });

  it.each(
    shareOf([
      ['courier-on-the-quay', 30, 2, 0.1],
      ['ferry-ramp', 40, 8, 0.2],
      ['dune-kite', 20, 3, 0.4],
    ]),
  )('never makes worse what was carried to a frame: %s, frame %i', async (name, frame, late, gain) => {
    const footage = demoFootage(name, frame, late + 2);
    const { truth } = footage;
    const prepared = await paintedFrame(footage, late);
    // What is carried lags behind by some frames.
    const base = { mask: exactMask(truth[0]), zone: null };
    const [exact, strokes] = [truth[late], [] as PaintedStroke[]];
    const known: KnownCuts = new LRUCache({ max: 4 });
    const mend = (some: readonly PaintedStroke[]) => mendPainted(prepared, base, some, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS, { known }).mask;
    const first = regionIoU(base.mask, exact);
    let before = first;
    for (const { mask } of corrections(CORRECTIONS, strokes, base.mask, exact, mend)) {
      const iou = regionIoU(mask, exact);
      expect(iou, `stroke ${strokes.length}`).toBeGreaterThan(before - 0.002);
      before = iou;
    }
    expect(before).toBeGreaterThan(first + gain);
  });
});
