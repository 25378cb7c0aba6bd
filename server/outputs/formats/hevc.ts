import { movieEncoding } from '../movies.ts';

export const hevc = movieEncoding({
  id: 'hevc',
  label: 'HEVC, 10 bit',
  extension: 'mp4',
  carries: ['opaque'],
  isDeep: true,
  even: true,
  within: 0.035,
  // No B-frames, so that segments join without gaps in their time stamps.
  encode: () => ['-pix_fmt', 'yuv420p10le', '-c:v', 'libx265', '-preset', 'medium', '-crf', '16', '-x265-params', 'bframes=0:log-level=none', '-tag:v', 'hvc1'],
});
