/** Names of files that are written. */

/** File name stem for a number of things: letters, digits and dashes only. */
export const fileStem = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'shot';
