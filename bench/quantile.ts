/** The value below which `share` of a list lies, which holds something. */
export const quantile = (list: number[], share: number): number => list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))];
