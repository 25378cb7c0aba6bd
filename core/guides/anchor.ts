/** The anchor by which a heading of the help is linked to: lower case, words joined by dashes. */
export const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/[`*_]/g, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
