/** A painted frame cut from its own strokes: what carrying starts from, and what the page shows after every stroke. */
import { cutFrame, type PreparedFrame } from './cut-frame.ts';
import type { CutSettings } from './settings.ts';
import { KEEP, type PaintedStroke, paintSoft, paintStrokes } from './strokes.ts';

/**
 * The subject's mask on a frame and where its edge was called soft (null where nowhere); null where nothing of the picture is kept.
 * @param own the strokes of this frame, in pixels of a plate of this size
 */
export function cutPainted(
  prepared: PreparedFrame,
  own: readonly PaintedStroke[],
  plate: { width: number; height: number },
  settings: CutSettings,
): { mask: Uint8Array; zone: Uint8Array | null } | null {
  const { width, height } = prepared.fine;
  const [scaleX, scaleY] = [width / plate.width, height / plate.height];
  const seeds = paintStrokes(own, width, height, scaleX, scaleY);
  if (!seeds.includes(KEEP)) return null;
  const hard = own.filter((s) => s.kind !== 'soft').length;
  return { mask: cutFrame(prepared, seeds, hard, settings), zone: paintSoft(own, width, height, scaleX, scaleY) };
}
