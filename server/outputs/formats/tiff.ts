import { pictureEncoding } from '../pictures.ts';

export const tiff = pictureEncoding({
  id: 'tiff',
  label: 'TIFF sequence, 16 bit',
  extension: 'tif',
  carries: ['gray', 'alpha', 'opaque'],
  depths: [16],
  encode: (image) => image.tiff({ compression: 'deflate', predictor: 'horizontal' }),
});
