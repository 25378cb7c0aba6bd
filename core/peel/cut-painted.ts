/** A painted frame cut from its own strokes: what carrying starts from, and what the page shows after every stroke. */
import { cutFrame, type PreparedFrame, standsOut } from './cut-frame.ts';
import type { CutSettings } from './settings.ts';
import { KEEP, type PaintedStroke, paintSoft, paintStrokes } from './strokes.ts';

/** What a loop tells is as much as so many strokes. */
const GUESS = 6;

/**
 * The subject's mask on a frame and where its edge was called soft (null where nowhere); null where nothing of the picture is kept.
 * @param own the strokes of this frame, in pixels of a plate of this size
 * @param fence 0 where nothing belongs to the subject, at the size of the picture
 */
export function cutPainted(
  prepared: PreparedFrame,
  own: readonly PaintedStroke[],
  plate: { width: number; height: number },
  settings: CutSettings,
  fence: Uint8Array | null = null,
): { mask: Uint8Array; zone: Uint8Array | null } | null {
  const { width, height } = prepared.fine;
  const [scaleX, scaleY] = [width / plate.width, height / plate.height];
  const painted = paintStrokes(own, width, height, scaleX, scaleY, fence);
  // In a loop without a keep stroke it is told from the colours what stands out.
  const guesses = !painted.includes(KEEP) && own.some((s) => s.kind === 'loop');
  const seeds = guesses ? standsOut(prepared, painted) : painted;
  if (!seeds.includes(KEEP)) return null;
  const strokes = own.filter((s) => s.kind !== 'soft').length;
  return { mask: cutFrame(prepared, seeds, guesses ? Math.max(GUESS, strokes) : strokes, settings), zone: paintSoft(own, width, height, scaleX, scaleY) };
}
