/** Mattes as pictures to be written, and the names of their files. */
import sharp, { type Sharp } from 'sharp';
import { type Gray, matteTo8, matteTo16 } from '../../core/image/picture.ts';

export const frameName = (stem: string, number: number): string => `${stem}.${String(number).padStart(4, '0')}.png`;

/** A matte as a gray picture of 8 or 16 bits, to be written. */
export function mattePicture(matte: Gray, bits: 8 | 16): Sharp {
  const raw = { width: matte.width, height: matte.height, channels: 1 } as const;
  return bits === 8 ? sharp(matteTo8(matte), { raw }).toColourspace('b-w') : sharp(matteTo16(matte), { raw }).toColourspace('grey16');
}
