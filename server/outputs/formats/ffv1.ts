import { movieEncoding } from '../movies.ts';

/** FFV1 without loss: gray of 16 bits as it is. */
export const ffv1 = movieEncoding({
  id: 'ffv1',
  label: 'FFV1, 16 bit',
  extension: 'mkv',
  carries: ['gray'],
  isDeep: true,
  isFull: true,
  within: 0.00001,
  encode: () => ['-pix_fmt', 'gray16le', '-c:v', 'ffv1', '-level', '3', '-g', '1', '-slicecrc', '1'],
});
