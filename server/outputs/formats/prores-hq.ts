import { movieEncoding } from '../movies.ts';

export const proresHq = movieEncoding({
  id: 'prores-hq',
  label: 'ProRes 422 HQ',
  extension: 'mov',
  carries: ['opaque'],
  isDeep: true,
  even: true,
  within: 0.02,
  encode: () => ['-pix_fmt', 'yuv422p10le', '-c:v', 'prores_ks', '-profile:v', 'hq', '-vendor', 'apl0'],
});
