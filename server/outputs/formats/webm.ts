import { movieEncoding } from '../movies.ts';

/** VP9 with straight alpha, which browsers play. */
export const webm = movieEncoding({
  id: 'webm',
  label: 'WebM, VP9',
  extension: 'webm',
  carries: ['alpha'],
  isDeep: true,
  alpha: 'straight',
  within: 0.05,
  decoder: 'libvpx-vp9',
  encode: () => ['-pix_fmt', 'yuva420p', '-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', '-row-mt', '1', '-cpu-used', '5', '-b:v', '0', '-crf', '18'],
});
