import { defineEffect } from './effect.ts';

export const solidEffect = defineEffect({
  id: 'solid',
  label: 'Solid',
  about: 'Fills with one colour.',
  settings: { colour: { kind: 'colour', label: 'Colour', about: 'What it fills with.', start: [0.18, 0.36, 0.42] } },
  render({ data }, values) {
    const [red, green, blue] = values.colour;
    for (let i = 0; i < data.length; i += 4) {
      data[i] = red;
      data[i + 1] = green;
      data[i + 2] = blue;
      data[i + 3] = 1;
    }
  },
});
