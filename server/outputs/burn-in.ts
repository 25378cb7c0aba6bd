/** What a picture is, written into its lower edge: the shot, the number of the frame and its time. */
import { fillLine, lineOf } from '../../core/elements/letters.ts';
import type { Rgba } from '../../core/image/picture.ts';
import { multiply, scaling, translation } from '../../core/math/homography.ts';
import { toTimecode } from '../../core/time/timecode.ts';
import type { OutputTask } from './task.ts';
import { letters } from './titles.ts';

/** Of the height of the picture: the type, and the band behind it. */
const TYPE = 1 / 36;
const BAND = 1.8;
const INK = [0.95, 0.95, 0.95];
/** What the band leaves of the picture. */
const SHADE = 0.35;

/** Writes it over an opaque picture. @param number of the frame, as its file is called */
export async function burnIn(picture: Rgba, { document }: Pick<OutputTask, 'document'>, number: number, frame: number): Promise<void> {
  const { width, height, data } = picture;
  const size = Math.max(8, height * TYPE);
  for (let i = Math.floor(height - size * BAND) * width * 4; i < data.length; i++) if (i % 4 < 3) data[i] *= SHADE;
  const baseline = height - size * 0.6;
  const write = async (text: string, placed: (wide: number) => number) => {
    const line = lineOf(await letters(text, 'regular'));
    fillLine(picture, line, multiply(translation(placed(line.width * size), baseline), scaling(size, size)), INK);
  };
  await write(document.name, () => size);
  await write(`${toTimecode(frame + document.plate.firstNumber, document.plate.rate)}   ${number}`, (wide) => width - wide - size);
}
