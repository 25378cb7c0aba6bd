import type { Rgba } from '../../core/image/picture.ts';

/** A premultiplied picture as 16-bit RGBA, straight or premultiplied, rounded to nearest. */
export function toRgba64(picture: Rgba, premultiplied: boolean): Uint16Array<ArrayBuffer> {
  const out = new Uint16Array(picture.data.length);
  const { data } = picture;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    const k = premultiplied ? 65535 : a > 0 ? 65535 / a : 0;
    out[i] = Math.min(65535, data[i] * k + 0.5);
    out[i + 1] = Math.min(65535, data[i + 1] * k + 0.5);
    out[i + 2] = Math.min(65535, data[i + 2] * k + 0.5);
    out[i + 3] = a * 65535 + 0.5;
  }
  return out;
}
