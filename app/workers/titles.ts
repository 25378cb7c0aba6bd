/** The letters of titles, from the files of the typeface that come with the page. */
import { typefaceFrom } from '~/titles/letters.ts';

const FILES = import.meta.glob<string>('/node_modules/@fontsource/hanken-grotesk/files/hanken-grotesk-*-{400,700}-normal.woff', {
  eager: true,
  query: '?url',
  import: 'default',
});

async function read(file: string): Promise<ArrayBuffer> {
  const url = Object.entries(FILES).find(([path]) => path.endsWith(`/${file}`))?.[1];
  const response = url ? await fetch(url) : null;
  if (!response?.ok) throw new Error('The typeface could not be fetched. Reload the page.');
  return response.arrayBuffer();
}

export const { letters, missing: missingLetters } = typefaceFrom(read);
