import { movieEncoding } from '../movies.ts';

export const mp4 = movieEncoding({
  id: 'mp4',
  label: 'H.264',
  extension: 'mp4',
  carries: ['gray', 'opaque'],
  isDeep: false,
  even: true,
  within: 0.035,
  // No B-frames, so that segments join without gaps in their time stamps.
  encode: () => ['-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'medium', '-crf', '14', '-bf', '0'],
});
