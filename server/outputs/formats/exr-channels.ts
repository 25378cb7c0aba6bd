/** OpenEXR with a channel for each of several grays. */
import { pictureNames, writtenSize } from '../delivered.ts';
import type { EncodingOf } from '../encoding.ts';
import { factsOf } from '../exr-attributes.ts';
import { exrFile } from '../exr-file.ts';
import { fileWriter } from '../pictures.ts';
import { grayFloat } from '../pixels.ts';
import { type ChannelSource, channelNames } from '../source.ts';
import { NUMBERS } from './exr.ts';

/** What luminance alone is called in a layer. */
const inLayer = (name: string): string => `${name}.Y`;

export const exrChannels: EncodingOf<'channels', ChannelSource> = {
  id: 'exr',
  label: 'EXR sequence',
  single: false,
  extension: 'exr',
  carries: ['channels'],
  options: () => ({ numbers: NUMBERS }),
  colour: () => 'linear coverage, 0 outside, 1 inside; a layer of the name of each subject, its channel Y',
  open: (task, source, { numbers }) =>
    fileWriter(task, source, 'exr', async (frame, sources) => {
      const channels = (await source.render(task, frame, sources)).map(({ name, gray }) => ({ name: inLayer(name), data: gray.data }));
      return exrFile(writtenSize(task), channels, numbers, factsOf(task, frame));
    }),
  finish: async (task, source) => pictureNames(task, source, 'exr'),
  readBack: (_, { numbers }, { document }) => ({ pixels: 'grayf32le', within: numbers === 'half' ? 0.0005 : 0.000001, layers: channelNames(document) }),
  expected: async (task, source, _, frame, sources) => {
    const channels = await source.render(task, frame, sources);
    return Buffer.concat(channels.map(({ gray }) => grayFloat(gray)));
  },
};
