/** How much the colours of a picture differ from pixel to pixel. */
import type { LabPicture } from './lab.ts';

/** From this many pixels on a sixteenth of them tells how much neighbours differ; of fewer a quarter. */
const SAMPLED = 200_000;

/** The beta of a picture: how much its neighbouring colours differ on average (Rother et al. 2004, eq. 5). */
export function contrastOf({ width, height, lab }: LabPicture): number {
  let sum = 0;
  let count = 0;
  const step = width * height > SAMPLED ? 4 : 2;
  for (let y = 0; y + 1 < height; y += step)
    for (let x = 0; x + 1 < width; x += step) {
      const i = 3 * (y * width + x);
      const right = i + 3;
      const down = i + 3 * width;
      for (let c = 0; c < 3; c++) {
        const across = lab[i + c] - lab[right + c];
        const along = lab[i + c] - lab[down + c];
        sum += across * across + along * along;
      }
      count += 2;
    }
  return count === 0 || sum === 0 ? 0 : 1 / (2 * (sum / count));
}
