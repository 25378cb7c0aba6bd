/** The battery of Peel and tracking: whole with `npm run battery`, a share of it in every run of the tests. */
export const WHOLE_BATTERY = process.env.BATTERY === 'whole';

/** All cases, or of a share the first. */
export const shareOf = <T>(cases: T[], share = 1): T[] => (WHOLE_BATTERY ? cases : cases.slice(0, share));
