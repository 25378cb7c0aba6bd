import { pictureEncoding } from '../pictures.ts';

export const png = pictureEncoding({
  id: 'png',
  label: 'PNG sequence',
  extension: 'png',
  carries: ['gray', 'alpha', 'opaque'],
  depths: [8, 16],
  encode: (image) => image.png({ compressionLevel: 1, palette: false }),
});
