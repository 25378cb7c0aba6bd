import { movieEncoding } from '../movies.ts';

/** ProRes 4444, which has colours of 10 bits and alpha of 16. */
export const prores = movieEncoding({
  id: 'prores',
  label: 'ProRes 4444',
  extension: 'mov',
  carries: ['gray', 'alpha', 'opaque'],
  isDeep: true,
  within: 0.012,
  encode: (carries) => [
    ...['-pix_fmt', carries === 'alpha' ? 'yuva444p10le' : 'yuv444p10le', '-c:v', 'prores_ks', '-profile:v', '4444', '-vendor', 'apl0'],
    ...(carries === 'alpha' ? ['-alpha_bits', '16'] : []),
  ],
});
