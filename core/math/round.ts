/** A number to so many decimal places. */
export const roundTo = (value: number, places = 3): number => Math.round(value * 10 ** places) / 10 ** places;
