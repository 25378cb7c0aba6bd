/** What one shot shows of another: the cut-out of a subject, or the finished picture, computed from that shot as it is now. */
import type { Made, ShotDocument, Timing } from '../document/schema.ts';
import type { Rgba, Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { renderCutout } from '../matte/cutout.ts';
import type { Sources } from '../matte/sources.ts';
import { pictureAtTime } from './timed-picture.ts';
import { type TimeMap, timeMap } from './timing.ts';

export interface OtherShot {
  document: ShotDocument;
  sources: Sources;
}

/** What a shot may show no longer, in words for the artist. */
export class NotShown extends Error {}

/** Of all frames of a shot. */
const wholeMap = (timing: Timing, frames: number): TimeMap => timeMap(timing, { first: 0, last: frames - 1 });

/** Frames that the finished picture of a shot has at its own speed. */
export const finishedFrames = ({ plate, timing }: { plate: { frames: number }; timing: Timing | null }): number =>
  timing ? wholeMap(timing, plate.frames).frames : plate.frames;

/**
 * The picture at the asked size, in the values of that shot's plate, premultiplied.
 * @param open gives a shot; null where there is none any more
 * @param above the shots that are shown this, the finished pictures of which cannot be part of it
 * @throws NotShown where it is not to be had
 */
export async function pictureMadeIn(
  { shot, subject }: Made,
  frame: number,
  size: Size,
  open: (shot: string) => Promise<OtherShot | null>,
  above: readonly string[],
): Promise<Rgba> {
  if (subject === null && above.includes(shot))
    throw new NotShown('A shot shows the finished picture of another one that shows it in turn: choose other footage.');
  const other = await open(shot);
  if (!other) throw new NotShown('A shot that this one shows is no longer there: choose other footage, or bring it back.');
  const { document, sources } = other;
  const { frames } = document.plate;
  const own = clamp(frame, 0, frames - 1);
  if (subject === null) return pictureAtTime(document, document.timing ? wholeMap(document.timing, frames).timeAt(frame) : own, sources, size);
  if (!document.cast.some((s) => s.id === subject))
    throw new NotShown(`The subject that this shows is no longer in the cast of "${document.name}": choose another.`);
  return renderCutout(document, subject, own, sources, size);
}
