/** What a review remembers of a frame that it has been to. */
export const reviewedName = ({ frame, key }: { frame: number; key: string }): string => `${frame}/${key}`;
